import type { Mesh } from '../mesh';
import { insideOutline, type Cut, type Inside } from './cut';

/** Triangles within a line drawn over the picture. */
export interface Enclosed {
  readonly whole: readonly number[];
  /** Those that the line runs through. */
  readonly cut: readonly number[];
}

/**
 * Which triangles lie within a closed line, as they are seen.
 *
 * @param view takes places of the model to the picture; see `cutSchema`
 * @param isSeen whether a triangle that lies there is to count; asked only for those
 */
export function facesWithin(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  view: Cut['view'],
  outline: Cut['outline'],
  isSeen: (face: number) => boolean,
): Enclosed {
  const { positions: p, indices } = mesh;
  const count = p.length / 3;
  const screen = new Float64Array(count * 2);
  const row = (r: number, v: number): number =>
    view[r * 4]! * p[v * 3]! +
    view[r * 4 + 1]! * p[v * 3 + 1]! +
    view[r * 4 + 2]! * p[v * 3 + 2]! +
    view[r * 4 + 3]!;
  for (let v = 0; v < count; v++) {
    const depth = row(2, v);
    screen[v * 2] = depth > 0 ? row(0, v) / depth : NaN;
    screen[v * 2 + 1] = depth > 0 ? row(1, v) / depth : NaN;
  }
  const [left, right] = span(outline, 0);
  const [top, bottom] = span(outline, 1);
  const at: Inside = { distance: 0, x: 0, y: 0 };
  const whole: number[] = [];
  const cut: number[] = [];
  for (let f = 0; f < indices.length / 3; f++) {
    const c = [0, 1, 2].map((k) => {
      const v = indices[f * 3 + k]! * 2;
      return [screen[v]!, screen[v + 1]!] as const;
    }) as [Point, Point, Point];
    if (c.some(([x]) => Number.isNaN(x))) continue;
    const xs = c.map(([x]) => x);
    const ys = c.map(([, y]) => y);
    if (
      Math.min(...xs) > right ||
      Math.max(...xs) < left ||
      Math.min(...ys) > bottom ||
      Math.max(...ys) < top
    )
      continue;
    let within = 0;
    for (const [x, y] of c) {
      insideOutline(outline, x, y, at);
      if (at.distance > 0) within++;
    }
    const crossed = (within > 0 && within < 3) || crosses(outline, c);
    if (!crossed && within === 0) continue;
    if (!isSeen(f)) continue;
    (crossed ? cut : whole).push(f);
  }
  return { whole, cut };
}

type Point = readonly [x: number, y: number];

const span = (outline: Cut['outline'], axis: 0 | 1): readonly [number, number] => {
  const values = outline.map((point) => point[axis]);
  return [Math.min(...values), Math.max(...values)];
};

/** Whether a closed line crosses a triangle's sides or lies within it. */
function crosses(outline: Cut['outline'], c: readonly [Point, Point, Point]): boolean {
  for (let i = 0, j = outline.length - 1; i < outline.length; j = i++) {
    const [a, b] = [outline[j]!, outline[i]!];
    for (let k = 0; k < 3; k++) if (meet(a, b, c[k]!, c[(k + 1) % 3]!)) return true;
  }
  const [x, y] = outline[0]!;
  const sides = [0, 1, 2].map((k) => turn(c[k]!, c[(k + 1) % 3]!, [x, y]));
  return sides.every((s) => s > 0) || sides.every((s) => s < 0);
}

const turn = (a: Point, b: Point, c: Point): number =>
  (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);

const meet = (a: Point, b: Point, c: Point, d: Point): boolean =>
  turn(a, b, c) > 0 !== turn(a, b, d) > 0 && turn(c, d, a) > 0 !== turn(c, d, b) > 0;
