import type { Drawn } from './DrawnLine';
import type { Gesture, PointerAt } from './tool';

/** How a drag becomes a closed line. */
export type LineShape = 'lasso' | 'rectangle' | 'ellipse';

/** Points of a drawn line stand at least this far apart, pixels. */
const STEP = 3;

/** Corners that stand for an ellipse. */
const ROUND = 72;

type Point = readonly [number, number];

/** @param even as wide as it is high */
function between(shape: 'rectangle' | 'ellipse', [ax, ay]: Point, to: PointerAt, even: boolean): Point[] {
  let [dx, dy] = [to.x - ax, to.y - ay];
  if (even) {
    const side = Math.max(Math.abs(dx), Math.abs(dy));
    [dx, dy] = [Math.sign(dx) * side, Math.sign(dy) * side];
  }
  if (shape === 'rectangle') {
    return [
      [ax, ay],
      [ax + dx, ay],
      [ax + dx, ay + dy],
      [ax, ay + dy],
    ];
  }
  return Array.from({ length: ROUND }, (_, i) => {
    const angle = (i / ROUND) * 2 * Math.PI;
    return [ax + (dx / 2) * (1 + Math.cos(angle)), ay + (dy / 2) * (1 + Math.sin(angle))];
  });
}

/**
 * A drag that draws a closed line.
 *
 * @param show is told the line as it grows, and null when it is gone
 * @param done the line, when it is let go
 * @param even whether Shift makes shapes as wide as they are high
 */
export function lineGesture(
  shape: LineShape,
  at: PointerAt,
  show: (line: Drawn | null) => void,
  done: (line: Drawn, to: PointerAt) => void,
  even = false,
): Gesture {
  const { pane } = at;
  const from: Point = [at.x, at.y];
  const points: Point[] = [from];
  let line: Drawn = { pane, points };
  const follow = (to: PointerAt): void => {
    const [x, y] = points.at(-1)!;
    if (shape !== 'lasso') line = { pane, points: between(shape, from, to, even && to.shift) };
    else {
      if (Math.hypot(to.x - x, to.y - y) >= STEP) points.push([to.x, to.y]);
      line = { pane, points: [...points] };
    }
    show(line);
  };
  follow(at);
  return {
    isFine: true,
    move: follow,
    end: (to) => {
      show(null);
      done(line, to);
    },
    cancel: () => show(null),
  };
}
