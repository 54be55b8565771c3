import { use, type ComponentType } from 'react';
import type { Session } from '../project';
import type { PaneKind } from '../shared/panes';
import type { StageName } from '../shared/ui-store';
import type { ToolMaker } from '../viewport';

/** What a stage brings into the room. */
export interface StageRoom {
  /** A hook: the tool that lies in the hand. */
  readonly useTool: (session: Session) => ToolMaker;
  /** The column at the right. */
  readonly Panel: ComponentType<{ readonly session: Session }>;
  /** A line over the picture. */
  readonly Over?: ComponentType<{ readonly session: Session }>;
  /** What lies along the lower edge. */
  readonly Below?: ComponentType<{ readonly session: Session }>;
  /** A hook: the triangles that are lit up. */
  readonly useMarks?: () => ReadonlySet<number>;
  /** Whether seams are drawn and distortion can be looked at. */
  readonly isOnLayout?: boolean;
  /** The model may stand in a pose. */
  readonly isPosed?: boolean;
  /** What stands beside the model here when the stage is entered. */
  readonly beside?: PaneKind;
  /** It brings the chips along the picture's upper edge itself. */
  readonly hasOwnChips?: boolean;
  /** The easel is folded away while one is here. */
  readonly hidesEasel?: boolean;
}

/** Each is fetched when it is first entered. */
const FETCH: Record<StageName, () => Promise<{ readonly stage: StageRoom }>> = {
  model: () => import('../model/stage'),
  unwrap: () => import('../unwrap/stage'),
  'block-in': () => import('../block-in/stage'),
  form: () => import('../form/stage'),
  paint: () => import('../paint/stage'),
  match: () => import('../match/stage'),
  deliver: () => import('../deliver/stage'),
};

const fetched = new Map<StageName, Promise<{ readonly stage: StageRoom }>>();

function fetchStage(name: StageName): Promise<{ readonly stage: StageRoom }> {
  let promise = fetched.get(name);
  if (!promise) {
    promise = FETCH[name]();
    fetched.set(name, promise);
    // What couldn't be fetched is asked for again the next time.
    promise.catch(() => fetched.delete(name));
  }
  return promise;
}

/** A stage's parts; suspends until they are there. */
export const useStageRoom = (name: StageName): StageRoom => use(fetchStage(name)).stage;

/** Fetches the other stages while nothing else is to be done. */
export function fetchAllStages(): void {
  for (const name of Object.keys(FETCH) as StageName[]) void fetchStage(name).catch(() => undefined);
}
