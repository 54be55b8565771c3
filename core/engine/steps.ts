import { applyPatch, DOCUMENT_VERSION, todaysDocument, type ProjectDocument } from '../document';
import { CoreError } from '../errors';
import type { HistoryStep } from '../history';
import { packTiles, unpackTiles } from '../pixels';
import type { StrokeChanges } from './commit';
import type { ProjectState } from './project-state';

export type Direction = 'undo' | 'redo';

/** What has to be handed over before a step can be taken. */
export interface Needed {
  readonly model: { readonly hash: string; readonly sizes: readonly number[] } | null;
  /** Number of the step whose pixels are away. */
  readonly step: number | null;
}

const otherSide = (
  document: ProjectDocument,
  { patch, form }: HistoryStep,
  direction: Direction,
): ProjectDocument => {
  const other = applyPatch(document, patch, direction === 'undo' ? 'back' : 'forward');
  return form === DOCUMENT_VERSION ? other : todaysDocument(other);
};

/** What has to be handed over next before a step, and all of its deed, can be taken in this direction. */
export function neededFor(state: ProjectState, direction: Direction): Needed {
  let { document } = state;
  for (const { step, number } of state.history.deed(direction)) {
    document = otherSide(document, step, direction);
    const { model, sheets } = document;
    const known = state.isModelInHand({ model, sheets }) || state.models.get(model, sheets);
    if (!known || step.tiles === 'away') {
      return {
        model: known ? null : { hash: model, sizes: sheets.map((s) => s.size) },
        step: step.tiles === 'away' ? number : null,
      };
    }
  }
  return { model: null, step: null };
}

/** @throws CoreError `bad-argument` if the last step isn't this one */
export function requireLastStep(state: ProjectState, step: number): void {
  const { last } = state.history.view();
  if (last === step) return;
  throw new CoreError(
    'bad-argument',
    last === null || last < step
      ? 'That was taken back already.'
      : `Since then ${last - step} more ${last - step === 1 ? 'step was' : 'steps were'} done. Take those back first.`,
  );
}

/** Takes a step and all others of its deed. @returns false if there is none; @throws as `takeStep` */
export function takeDeed(state: ProjectState, direction: Direction): boolean {
  const steps = [...state.history.deed(direction)];
  for (const _ of steps) takeStep(state, direction);
  return steps.length > 0;
}

/**
 * Swaps the next step's pixels with the present ones and takes the document of its other side.
 *
 * @returns false if there is no step
 * @throws CoreError `storage-damaged` if what it needs isn't at hand; nothing is changed then
 */
function takeStep(state: ProjectState, direction: Direction): boolean {
  const next = state.history.next(direction);
  if (!next) return false;
  const { step } = next;
  if (step.tiles === 'away') {
    throw new CoreError(
      'storage-damaged',
      'The pixels of that step are missing from storage, so it can’t be taken. Nothing was changed.',
    );
  }
  const wanted = step.tiles ? unpackTiles(step.tiles) : [];
  const present = state.present(wanted);
  const plane = step.edit?.plane ?? step.stroke?.plane;
  const bases =
    plane !== undefined && (direction === 'redo' || step.edit)
      ? state.planes.baseBefore(
          state.document,
          plane,
          present.filter((tile) => tile.plane === plane),
        )
      : [];
  state.become({
    document: otherSide(state.document, step, direction),
    tiles: [...bases, ...wanted],
    strokes: strokesOfStep(state, step, direction),
    model: null,
    history: () => state.history.take(direction, wanted.length ? packTiles(present) : null),
  });
  return true;
}

function strokesOfStep(
  state: ProjectState,
  { stroke, edit }: HistoryStep,
  direction: Direction,
): StrokeChanges {
  if (edit) return state.strokesEdited(edit, direction);
  if (!stroke) return new Map();
  if (direction === 'redo') return state.strokeAdded(stroke.plane, stroke.stroke);
  const count = Math.max(0, state.planes.strokesOf(stroke.plane).length - 1);
  return new Map([[stroke.plane, { count, added: [] }]]);
}
