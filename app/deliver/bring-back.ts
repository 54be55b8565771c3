import { create } from 'zustand';
import { nodesOf, type BroughtLayer } from '../../core/engine';
import { CoreError, sentenceOf } from '../../core/errors';
import { useProject, type Session } from '../project';
import { bytesOf, chooseFiles } from '../shared/files';
import { notify } from '../shared/notify';
import { deliverPool } from '../shared/platform';
import { withTask } from '../shared/tasks';

const BACK_FILES = '.ora,.png,image/openraster,image/png';

/** What is done with a layer that came back. */
export type BackAs = 'leave' | 'replace' | 'new';

interface Back {
  /** The opened project that it was compared with: it is for no other. */
  readonly session: Session;
  readonly sheet: number;
  readonly file: string;
  readonly layers: readonly BroughtLayer[];
  readonly notes: readonly string[];
  /** For each layer. */
  readonly as: readonly BackAs[];
}

/** A file that came back and waits for what is to be done with it; null: none. */
export const useBack = create<{ readonly back: Back | null }>(() => ({ back: null }));

/** What is done with a layer if nothing else is wanted: what is as it was stays, paint that was changed takes its place. */
const usual = ({ state, onto }: BroughtLayer): BackAs =>
  state === 'same' ? 'leave' : onto !== null && state === 'changed' ? 'replace' : 'new';

const isStopped = (error: unknown): boolean => error instanceof CoreError && error.code === 'cancelled';

/** Lets a file be chosen and looks at what it holds; nothing is changed yet. */
export async function openBack(session: Session, sheet: number): Promise<void> {
  const [file] = await chooseFiles(BACK_FILES, false);
  const { document } = useProject.getState();
  if (!file || !document) return;
  const paint = [...nodesOf(document.layers)].flatMap(({ node }) =>
    node.kind === 'paint' ? [[node.id, node.name] as const] : [],
  );
  try {
    const found = await withTask('Reading what came back', async (signal) => {
      const now = await session.layered(sheet);
      if (!now) throw new CoreError('cancelled', 'The layers could not be compared. Try again.');
      const name = file.name.replace(/\.[^.]*$/, '') || 'Layer';
      return deliverPool.run('broughtBack', { file: await bytesOf(file), name, now, paint }, { signal });
    });
    useBack.setState({ back: { ...found, session, sheet, file: file.name, as: found.layers.map(usual) } });
  } catch (error) {
    if (!isStopped(error)) notify(sentenceOf(error));
  }
}

/** Lays what was chosen on the build-up, each layer a step. */
export async function takeBack(session: Session): Promise<void> {
  const { back } = useBack.getState();
  if (back?.session !== session) return;
  useBack.setState({ back: null });
  for (const [i, layer] of back.layers.entries()) {
    const how = back.as[i]!;
    if (how === 'leave') continue;
    const { name, x, y, blend, opacity } = layer;
    const onto = how === 'replace' ? layer.onto : null;
    const done = await session.attach({ do: 'put-picture', onto, name, sheet: back.sheet, x, y }, layer.png);
    if (!done) return;
    const [id] = done.ids;
    if (id !== undefined && (blend !== 'normal' || opacity < 1))
      await session.command({ do: 'patch-layer', layer: id, patch: { blend, opacity } });
  }
}
