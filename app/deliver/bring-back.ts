import { create } from 'zustand';
import { nodesOf } from '../../core/document';
import type { BroughtLayer } from '../../core/engine';
import { CoreError, sentenceOf } from '../../core/errors';
import { useProject, type Session } from '../project';
import { bytesOf, chooseFiles } from '../shared/files';
import { notify } from '../shared/notify';
import { deliverPool } from '../shared/platform';
import { withTask } from '../shared/tasks';

const BACK_FILES = '.ora,.png,image/openraster,image/png';

/** What is done with a layer that came back. */
export type BackAs = 'leave' | 'replace' | 'new';

/** A file that came back, beside what the sheet held when it was looked at. */
interface Seen {
  /** The opened project that it was compared with: it is for no other. */
  readonly session: Session;
  readonly sheet: number;
  readonly file: File;
  /** How many changes of the project there had been. */
  readonly changes: number;
  readonly layers: readonly BroughtLayer[];
  readonly notes: readonly string[];
}

interface Back extends Seen {
  /** For each layer. */
  readonly as: readonly BackAs[];
}

/** A file that came back and waits for what is to be done with it; null: none. */
export const useBack = create<{ readonly back: Back | null }>(() => ({ back: null }));

/** What is done with a layer if nothing else is wanted: what is as it was stays, paint that was changed takes its place. */
const usual = ({ state, onto }: BroughtLayer): BackAs =>
  state === 'same' ? 'leave' : onto !== null && state === 'changed' ? 'replace' : 'new';

async function compare(session: Session, sheet: number, file: File): Promise<Seen | null> {
  const { document } = useProject.getState();
  if (!document) return null;
  const paint = [...nodesOf(document.layers)].flatMap(({ node }) =>
    node.kind === 'paint' ? [[node.id, node.name] as const] : [],
  );
  try {
    return await withTask('Reading what came back', async (signal) => {
      const { changes } = session;
      const now = await session.layered(sheet);
      if (!now) throw new CoreError('cancelled', 'The layers could not be compared. Try again.');
      const name = file.name.replace(/\.[^.]*$/, '') || 'Layer';
      const asked = { file: await bytesOf(file), name, now, paint };
      const found = await deliverPool.run('broughtBack', asked, { signal });
      return { ...found, session, sheet, file, changes };
    });
  } catch (error) {
    if (!(error instanceof CoreError && error.code === 'cancelled')) notify(sentenceOf(error));
    return null;
  }
}

/** Lets a file be chosen and looks at what it holds; nothing is changed yet. */
export async function openBack(session: Session, sheet: number): Promise<void> {
  const [file] = await chooseFiles(BACK_FILES, false);
  const seen = file && (await compare(session, sheet, file));
  if (seen) useBack.setState({ back: { ...seen, as: seen.layers.map(usual) } });
}

/** Lays what was chosen on the build-up, as one step; what was painted on since the file was read is compared again first. */
export async function takeBack(session: Session): Promise<void> {
  const { back } = useBack.getState();
  if (back?.session !== session) return;
  if (back.changes !== session.changes) {
    await lookAgain(back);
    return;
  }
  useBack.setState({ back: null });
  const wanted = back.layers.filter((_, i) => back.as[i] !== 'leave');
  const isPng = back.file.name.toLowerCase().endsWith('.png');
  await session.attach(
    {
      do: 'several',
      label: wanted.length === 1 ? `Read “${wanted[0]!.name}” again` : `Read ${wanted.length} layers again`,
      commands: wanted.map(({ name, x, y, blend, opacity, ...layer }, file) => {
        const onto = back.as[back.layers.indexOf(wanted[file]!)] === 'replace' ? layer.onto : null;
        // A plain picture tells neither mode nor opacity.
        const look = isPng ? {} : { blend, opacity };
        return { do: 'put-picture', onto, name, sheet: back.sheet, x, y, ...look, file };
      }),
    },
    ...wanted.map(({ png }) => png),
  );
}

/** What was chosen stays chosen where nothing else is found; a layer that differs only since then is left. */
async function lookAgain(back: Back): Promise<void> {
  const seen = await compare(back.session, back.sheet, back.file);
  if (!seen || useBack.getState().back !== back) return;
  const as = seen.layers.map((layer, i): BackAs => {
    const before = back.layers[i];
    if (before?.state === layer.state && before.onto === layer.onto) return back.as[i]!;
    return before?.state === 'same' ? 'leave' : usual(layer);
  });
  useBack.setState({ back: { ...seen, as } });
  notify(
    'The project has changed since this file was read, so it was compared again. Look at the list, then add.',
  );
}
