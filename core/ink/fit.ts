import { add, dot, length, normalize, scale, sub, type Vec3 } from '../math';
import { cubicAt, cubicSlope, type Cubic } from './bezier';
import type { InkLine } from './line';

/** Times that the parameters of the points are mended before a curve is cut in two. */
const MENDINGS = 5;

/** Points nearer to each other than this part of the tolerance are one. */
const SAME = 0.05;

/** What a hand has drawn: places on the surface, and how hard it pressed. */
export interface Drawn {
  readonly at: readonly Vec3[];
  readonly press: readonly number[];
}

/**
 * A chain of cubic curves along points that a hand has drawn, none further away from them than the tolerance (P. Schneider, "An
 * algorithm for automatically fitting digitized curves", Graphics Gems 1990, here in space).
 *
 * @param tolerance model units
 * @returns null if the points lie on one place
 */
export function fitCurves(
  drawn: Drawn,
  tolerance: number,
): Pick<InkLine, 'at' | 'ahead' | 'back' | 'press'> | null {
  const kept = apart(drawn, tolerance * SAME);
  const points = kept.map((i) => drawn.at[i]!);
  if (points.length < 2) return null;
  const pieces: { readonly cubic: Cubic; readonly last: number }[] = [];
  const fit = (first: number, last: number, from: Vec3, to: Vec3): void => {
    const { cubic, worst, at } = bestCurve(points, first, last, from, to, tolerance);
    if (worst <= tolerance * tolerance || last - first < 2) {
      pieces.push({ cubic, last });
      return;
    }
    const middle = directionAt(points, at);
    fit(first, at, from, scale(middle, -1));
    fit(at, last, middle, to);
  };
  const end = points.length - 1;
  fit(0, end, endDirection(points, 0, 1), endDirection(points, end, -1));
  const line: { at: number[]; ahead: number[]; back: number[]; press: number[] } = {
    at: [...points[0]!],
    ahead: [],
    back: [0, 0, 0],
    press: [drawn.press[kept[0]!]!],
  };
  for (const { cubic, last } of pieces) {
    const [a, b, c, d] = cubic;
    line.ahead.push(...sub(b, a));
    line.at.push(...d);
    line.back.push(...sub(c, d));
    line.press.push(drawn.press[kept[last]!]!);
  }
  line.ahead.push(0, 0, 0);
  return line;
}

/** Numbers of points that lie apart, the last among them. */
function apart({ at }: Drawn, least: number): number[] {
  const out: number[] = [];
  at.forEach((p, i) => {
    const before = out.at(-1);
    if (before === undefined || length(sub(p, at[before]!)) > least) out.push(i);
  });
  return out;
}

/** Where points go at an end: over a few of them, since a hand trembles. */
function endDirection(points: readonly Vec3[], end: number, step: 1 | -1): Vec3 {
  const far = points[Math.min(points.length - 1, Math.max(0, end + step * 3))]!;
  return normalize(sub(far, points[end]!));
}

function directionAt(points: readonly Vec3[], i: number): Vec3 {
  const [before, after] = [points[Math.max(0, i - 2)]!, points[Math.min(points.length - 1, i + 2)]!];
  const way = sub(after, before);
  return length(way) > 0 ? normalize(way) : normalize(sub(points[i + 1]!, points[i]!));
}

function bestCurve(
  points: readonly Vec3[],
  first: number,
  last: number,
  from: Vec3,
  to: Vec3,
  tolerance: number,
): { readonly cubic: Cubic; readonly worst: number; readonly at: number } {
  let params = byChord(points, first, last);
  let best = curveFor(points, first, params, from, to);
  let found = furthest(points, first, params, best);
  for (let i = 0; i < MENDINGS && found.worst > tolerance * tolerance; i++) {
    params = params.map((t, k) => nearer(best, points[first + k]!, t));
    const next = curveFor(points, first, params, from, to);
    const further = furthest(points, first, params, next);
    if (further.worst >= found.worst) break;
    best = next;
    found = further;
  }
  return { cubic: best, ...found };
}

/** Parameters by the way along the points. */
function byChord(points: readonly Vec3[], first: number, last: number): number[] {
  const out = [0];
  for (let i = first + 1; i <= last; i++) out.push(out.at(-1)! + length(sub(points[i]!, points[i - 1]!)));
  const all = out.at(-1)! || 1;
  return out.map((x) => x / all);
}

/** The curve with given directions at its ends that lies nearest to points, by least squares over the lengths of its handles. */
function curveFor(
  points: readonly Vec3[],
  first: number,
  params: readonly number[],
  from: Vec3,
  to: Vec3,
): Cubic {
  const [a, d] = [points[first]!, points[first + params.length - 1]!];
  let [c00, c01, c11, x0, x1] = [0, 0, 0, 0, 0];
  params.forEach((t, k) => {
    const s = 1 - t;
    const [b1, b2] = [3 * s * s * t, 3 * s * t * t];
    const [p, q] = [scale(from, b1), scale(to, b2)];
    c00 += dot(p, p);
    c01 += dot(p, q);
    c11 += dot(q, q);
    const rest = sub(points[first + k]!, add(scale(a, s * s * s + b1), scale(d, t * t * t + b2)));
    x0 += dot(p, rest);
    x1 += dot(q, rest);
  });
  const det = c00 * c11 - c01 * c01;
  const chord = length(sub(d, a));
  let [alpha, beta] =
    det > 1e-12 * c00 * c11 ? [(x0 * c11 - x1 * c01) / det, (c00 * x1 - c01 * x0) / det] : [0, 0];
  // What would turn back, or swing wide of a few points, is a third of the chord, as is usual.
  if (alpha < 1e-6 * chord || beta < 1e-6 * chord || alpha > 3 * chord || beta > 3 * chord)
    alpha = beta = chord / 3;
  return [a, add(a, scale(from, alpha)), add(d, scale(to, beta)), d];
}

function furthest(
  points: readonly Vec3[],
  first: number,
  params: readonly number[],
  cubic: Cubic,
): { worst: number; at: number } {
  let [worst, at] = [0, first + (params.length >> 1)];
  for (let k = 1; k < params.length - 1; k++) {
    const off = sub(points[first + k]!, cubicAt(cubic, params[k]!));
    const far = dot(off, off);
    if (far > worst) [worst, at] = [far, first + k];
  }
  return { worst, at };
}

/** One step of Newton toward the parameter at which a curve comes nearest to a point. */
function nearer(cubic: Cubic, point: Vec3, t: number): number {
  const off = sub(cubicAt(cubic, t), point);
  const slope = cubicSlope(cubic, t);
  const [a, b, c, d] = cubic;
  const bend = add(
    scale(add(sub(a, scale(b, 2)), c), 6 * (1 - t)),
    scale(add(sub(b, scale(c, 2)), d), 6 * t),
  );
  const down = dot(slope, slope) + dot(off, bend);
  const next = Math.abs(down) > 1e-30 ? t - dot(off, slope) / down : t;
  return next >= 0 && next <= 1 ? next : t;
}
