import { z } from 'zod';
import { faceMask, faceRuns, faceRunsSchema, type FaceRuns } from '../mesh';
import { MAX_OUTLINE } from './limits';

const coordinate = z.number().min(-1e6).max(1e6);

/** Numbers of a triangle's way to the sheet. */
export const NUMBERS_A_FACE = 8;

const faceCount = (runs: FaceRuns): number => runs.reduce((n, x, i) => (i % 2 ? n + x : n), 0);

/**
 * A line drawn around some of the model, as it was seen: what lies within it is added to a region or taken off, also through the middle
 * of a triangle. It is kept in space, so that it holds for every layout and size of sheet.
 */
export const cutSchema = z
  .strictObject({
    how: z.enum(['add', 'remove']),
    /** Triangles that the line runs through, and no others. */
    faces: faceRunsSchema,
    /** Three rows of four: x, y and depth of a place of the model in the picture, the first two times the depth. */
    view: z.array(z.number()).length(12),
    /** For a line drawn on the sheet, in place of the view: what takes places of each of its triangles, in their order, there: two rows of four. */
    flat: z.array(z.number()).exactOptional(),
    /** Corners x, y of the line, closed, in the picture's units. */
    outline: z
      .array(z.tuple([coordinate, coordinate]))
      .min(3)
      .max(MAX_OUTLINE),
  })
  .refine(
    ({ faces, flat }) => !flat || flat.length === faceCount(faces) * NUMBERS_A_FACE,
    'a line on the sheet needs a way there for each of its triangles',
  );

export type Cut = z.infer<typeof cutSchema>;

/** How far a point lies inside of a closed line, and the way to the line from there. */
export interface Inside {
  /** Negative outside. */
  distance: number;
  /** Unit, toward growing distance. */
  x: number;
  y: number;
}

/** @param outline closed; where it crosses itself, what it runs round an odd number of times is inside */
export function insideOutline(outline: Cut['outline'], x: number, y: number, out: Inside): void {
  let inside = false;
  let best = Infinity;
  let [bx, by] = [0, 0];
  for (let i = 0, j = outline.length - 1; i < outline.length; j = i++) {
    const [ax, ay] = outline[j]!;
    const [cx, cy] = outline[i]!;
    if (ay > y !== cy > y && x < ((cx - ax) * (y - ay)) / (cy - ay) + ax) inside = !inside;
    const [dx, dy] = [cx - ax, cy - ay];
    const l2 = dx * dx + dy * dy;
    const t = l2 > 0 ? Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / l2)) : 0;
    const [px, py] = [x - ax - dx * t, y - ay - dy * t];
    const d2 = px * px + py * py;
    if (d2 < best) {
      best = d2;
      [bx, by] = [px, py];
    }
  }
  const d = Math.sqrt(best);
  const side = inside ? 1 : -1;
  out.distance = d * side;
  out.x = d > 0 ? (bx / d) * side : 0;
  out.y = d > 0 ? (by / d) * side : 0;
}

/**
 * A line with fewer corners, none of it farther off than the tolerance (U. Ramer 1972; D. Douglas and T. Peucker 1973).
 *
 * @param most corners that may be left: the tolerance grows until it comes to that
 */
export function simplerOutline(
  outline: readonly (readonly [number, number])[],
  tolerance: number,
  most = MAX_OUTLINE,
): [number, number][] {
  const n = outline.length;
  const keep = new Uint8Array(n);
  const spans: [number, number][] = [[0, n - 1]];
  keep[0] = keep[n - 1] = 1;
  while (spans.length) {
    const [from, to] = spans.pop()!;
    const [ax, ay] = outline[from]!;
    const [bx, by] = outline[to]!;
    const l = Math.hypot(bx - ax, by - ay);
    let worst = tolerance;
    let at = -1;
    for (let i = from + 1; i < to; i++) {
      const [x, y] = outline[i]!;
      const d =
        l > 0 ? Math.abs((x - ax) * (by - ay) - (y - ay) * (bx - ax)) / l : Math.hypot(x - ax, y - ay);
      if (d > worst) {
        worst = d;
        at = i;
      }
    }
    if (at < 0) continue;
    keep[at] = 1;
    spans.push([from, at], [at, to]);
  }
  const left = outline.flatMap(([x, y], i): [number, number][] => (keep[i] ? [[x, y]] : []));
  return left.length > most ? simplerOutline(outline, tolerance * 2, most) : left;
}

/**
 * Cuts on a model that stands elsewhere.
 *
 * @param back takes its places to where they were: three rows of four
 */
export const movedCuts = (cuts: readonly Cut[], back: readonly number[]): Cut[] =>
  cuts.map((cut) => ({
    ...cut,
    view: movedRows(cut.view, back),
    ...(cut.flat && { flat: movedRows(cut.flat, back) }),
  }));

/** Rows of four, asked with places as they were before they were moved. */
const movedRows = (rows: readonly number[], back: readonly number[]): number[] =>
  rows.map((_, i) => {
    const row = Math.floor(i / 4) * 4;
    const column = i % 4;
    let sum = column === 3 ? rows[row + 3]! : 0;
    for (let k = 0; k < 3; k++) sum += rows[row + k]! * back[k * 4 + column]!;
    return sum;
  });

/**
 * A cut on other triangles.
 *
 * @param from how many triangles there were
 * @param to how many there are
 * @param source the triangle that each of them was; negative for none
 */
export function cutOver(cut: Cut, from: number, to: number, source: (face: number) => number): Cut {
  const was = faceMask(from, cut.faces);
  const isCut = (face: number): boolean => source(face) >= 0 && was[source(face)] === 1;
  const faces = faceRuns(to, isCut);
  if (!cut.flat) return { ...cut, faces };
  const place = new Map<number, number>();
  was.forEach((is, face) => is && place.set(face, place.size));
  const flat: number[] = [];
  for (let face = 0; face < to; face++) {
    if (!isCut(face)) continue;
    const at = place.get(source(face))! * NUMBERS_A_FACE;
    flat.push(...cut.flat.slice(at, at + NUMBERS_A_FACE));
  }
  return { ...cut, faces, flat };
}
