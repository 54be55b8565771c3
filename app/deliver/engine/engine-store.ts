import { create } from 'zustand';
import type { ProjectDocument } from '../../../core/document';
import { CoreError, sentenceOf } from '../../../core/errors';
import { GREY_GROUND, type EngineLook, type Ground } from '../../engine-view';
import { useProject, type Session } from '../../project';
import { notify } from '../../shared/notify';
import { isShown } from '../../shared/panes';
import { withTask } from '../../shared/tasks';
import { useUi } from '../../shared/ui-store';
import { allMeasured } from '../all-measured';
import { exportMaker } from '../make-exports';

/** What was delivered to be looked at, and of what. */
interface Delivered {
  readonly glb: Uint8Array;
  readonly look: EngineLook;
  readonly document: ProjectDocument;
  readonly strokes: number;
}

interface EngineView {
  readonly delivered: Delivered | null;
  readonly look: EngineLook;
  /** As high as in the game, or as near as one likes. */
  readonly atGameSize: boolean;
  readonly ground: Ground;
  /** The other projects of its set stand around it. */
  readonly withSet: boolean;
  /** The model's flat backdrops are seen. */
  readonly backdrops: boolean;
  /** Those, as they would leave. */
  readonly others: readonly { readonly glb: Uint8Array; readonly scale: number }[];
}

export const useEngineView = create<EngineView>(() => ({
  delivered: null,
  look: 'unlit',
  atGameSize: false,
  ground: GREY_GROUND,
  withSet: false,
  backdrops: true,
  others: [],
}));

/** Writes the model as it would leave now; it is read from its bytes. */
async function deliverAfresh(session: Session): Promise<void> {
  const { document, strokes } = useProject.getState();
  if (!document) return;
  const { look } = useEngineView.getState();
  try {
    const glb = await withTask('Writing the model for the engine’s view', async (signal, onProgress) => {
      await allMeasured(signal);
      return exportMaker(session, document, { signal, onProgress }).model(look === 'toon');
    });
    // The project may have been closed meanwhile.
    if (useProject.getState().document)
      useEngineView.setState({ delivered: { glb, look, document, strokes } });
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
  useEngineView.setState({ delivered: null, withSet: false, others: [] });
}

export async function setEngineLook(session: Session, look: EngineLook): Promise<void> {
  const { delivered } = useEngineView.getState();
  useEngineView.setState({ look });
  // The toon model is another file; values are the unlit one.
  const isSameFile = delivered && (look === 'toon') === (delivered.look === 'toon');
  if (isSameFile) useEngineView.setState({ delivered: { ...delivered, look } });
  else await deliverAfresh(session);
}
