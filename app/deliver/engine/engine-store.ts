import { create } from 'zustand';
import type { ProjectDocument } from '../../../core/engine';
import { CoreError, sentenceOf } from '../../../core/errors';
import { useProject, type Session } from '../../project';
import { notify } from '../../shared/notify';
import { isShown } from '../../shared/panes';
import { withTask } from '../../shared/tasks';
import { useUi } from '../../shared/ui-store';
import { allMeasured } from '../all-measured';
import { Delivering } from '../make-parcels';

/** How an engine would show it: the paint alone, or under one lamp in steps, with the outline if it has one. */
export type EngineLight = 'unlit' | 'toon';

/** What stands behind it: a plain ground by its lightness, or a picture. */
export type Backdrop =
  | { readonly kind: 'plain'; readonly grey: number }
  | { readonly kind: 'picture'; readonly name: string; readonly url: string };

export const CANAL = { kind: 'picture', name: 'Canal', url: '/demo/stall-reference.png' } satisfies Backdrop;
export const PLAIN_GROUNDS: readonly (readonly [name: string, grey: number])[] = [
  ['Grey', 0.5],
  ['Dark', 0.12],
  ['Light', 0.92],
];

/** What was delivered to be looked at, and of what. */
interface Delivered {
  readonly glb: Uint8Array;
  readonly light: EngineLight;
  readonly document: ProjectDocument;
  readonly strokes: number;
}

interface EngineView {
  readonly delivered: Delivered | null;
  readonly light: EngineLight;
  /** As high as in the game, or as near as one likes. */
  readonly atGameSize: boolean;
  readonly backdrop: Backdrop;
}

export const useEngineView = create<EngineView>(() => ({
  delivered: null,
  light: 'unlit',
  atGameSize: false,
  backdrop: { kind: 'plain', grey: 0.5 },
}));

/** Writes the model as it would leave now; it is read from its bytes. */
async function deliverAfresh(session: Session): Promise<void> {
  const { document, strokes } = useProject.getState();
  if (!document) return;
  const { light } = useEngineView.getState();
  try {
    const glb = await withTask('Writing the model for the engine’s view', async (signal, onProgress) => {
      await allMeasured(signal);
      const delivering = new Delivering(session, document, { signal, onProgress });
      return delivering.glb(light === 'toon' ? 'toon-model' : 'model');
    });
    // The project may have been closed meanwhile.
    if (useProject.getState().document)
      useEngineView.setState({ delivered: { glb, light, document, strokes } });
  } catch (error) {
    if (!(error instanceof CoreError && error.code === 'cancelled')) notify(sentenceOf(error));
  }
}

/** Puts the engine's view beside the painting, with what would leave now; it is made anew if it is there already. */
export async function showInEngine(session: Session): Promise<void> {
  const { panes } = useUi.getState();
  if (!isShown(panes, 'engine'))
    useUi.setState({ panes: { left: 'model', right: 'engine', split: 0.5 }, panesBefore: panes });
  await deliverAfresh(session);
}

/** Takes it away again; what stood there before comes back. */
export function closeEngine(): void {
  const { panes, panesBefore } = useUi.getState();
  if (isShown(panes, 'engine'))
    useUi.setState({
      panes: panesBefore ?? { left: 'model', right: 'sheet', split: 0.66 },
      panesBefore: null,
    });
  useEngineView.setState({ delivered: null });
}

export async function setEngineLight(session: Session, light: EngineLight): Promise<void> {
  useEngineView.setState({ light });
  await deliverAfresh(session);
}
