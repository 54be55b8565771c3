import type { StageView } from '../view/stage-view';

/** Pixels that one press turns or moves by, and what it comes nearer by. */
const STEP = 32;
const NEARER = 1.15;

const ARROWS: Readonly<Record<string, readonly [x: number, y: number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** The picture by key: arrows turn the model, with Shift they move it, + and − come nearer and farther. @returns whether it was one of these */
export function moveByKey(
  view: StageView,
  { key, shiftKey }: Pick<KeyboardEvent, 'key' | 'shiftKey'>,
): boolean {
  const model = view.pane('model');
  const arrow = ARROWS[key];
  const factor = key === '+' || key === '=' ? NEARER : key === '-' ? 1 / NEARER : null;
  if (!arrow && factor === null) return false;
  if (!model) {
    const { width, height } = view.pane('sheet')!;
    if (arrow) view.flat.pan(arrow[0] * STEP, arrow[1] * STEP);
    else view.flat.zoom(width / 2, height / 2, factor!);
    return true;
  }
  const [x, y] = [model.width / 2, model.height / 2];
  if (!arrow) view.rig.zoomAt(x, y, 1 / factor!);
  else if (shiftKey) view.rig.pan(arrow[0] * STEP, arrow[1] * STEP);
  else view.rig.roll(x, y, x + arrow[0] * STEP, y + arrow[1] * STEP);
  view.cameraMoved();
  return true;
}
