import { add, length, scale, sub, type Vec3 } from '../math';
import { pointCount, spanCount, type InkLine } from './line';

/** A cubic Bézier curve: its ends and the two points that draw it. */
export type Cubic = readonly [a: Vec3, b: Vec3, c: Vec3, d: Vec3];

export const at3 = (list: ArrayLike<number>, i: number): Vec3 => [
  list[i * 3]!,
  list[i * 3 + 1]!,
  list[i * 3 + 2]!,
];

/** The curve of a line from point `span` to the next. */
export function spanOf(line: Pick<InkLine, 'at' | 'ahead' | 'back' | 'press'>, span: number): Cubic {
  const next = (span + 1) % pointCount(line);
  const [a, d] = [at3(line.at, span), at3(line.at, next)];
  return [a, add(a, at3(line.ahead, span)), add(d, at3(line.back, next)), d];
}

/** A place on a curve (P. de Casteljau 1959). @param t 0..1 */
export function cubicAt([a, b, c, d]: Cubic, t: number): Vec3 {
  const s = 1 - t;
  const [p, q, r, w] = [s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t];
  return [0, 1, 2].map((k) => p * a[k]! + q * b[k]! + r * c[k]! + w * d[k]!) as unknown as Vec3;
}

/** The direction and speed of a curve. */
export function cubicSlope([a, b, c, d]: Cubic, t: number): Vec3 {
  const s = 1 - t;
  const [p, q, r] = [3 * s * s, 6 * s * t, 3 * t * t];
  return [0, 1, 2].map(
    (k) => p * (b[k]! - a[k]!) + q * (c[k]! - b[k]!) + r * (d[k]! - c[k]!),
  ) as unknown as Vec3;
}

const mixed = (a: Vec3, b: Vec3, t: number): Vec3 => add(a, scale(sub(b, a), t));

/** A curve in two. */
export function cubicSplit([a, b, c, d]: Cubic, t: number): readonly [Cubic, Cubic] {
  const [ab, bc, cd] = [mixed(a, b, t), mixed(b, c, t), mixed(c, d, t)];
  const [abc, bcd] = [mixed(ab, bc, t), mixed(bc, cd, t)];
  const middle = mixed(abc, bcd, t);
  return [
    [a, ab, abc, middle],
    [middle, bcd, cd, d],
  ];
}

/** So many straight pieces of equal parameter stray from a curve by less than `tolerance` (G. Wang 1984). */
export function piecesFor([a, b, c, d]: Cubic, tolerance: number): number {
  const bend = (p: Vec3, q: Vec3, r: Vec3): number => length(add(sub(p, scale(q, 2)), r));
  return Math.max(1, Math.ceil(Math.sqrt((0.75 * Math.max(bend(a, b, c), bend(b, c, d))) / tolerance)));
}

/** No shorter than the curve, and not much longer. */
export const hullLength = ([a, b, c, d]: Cubic): number =>
  length(sub(b, a)) + length(sub(c, b)) + length(sub(d, c));

/** Places along a line as if it hung in space, evenly in parameter: what is near enough to point at it. */
export function looseLine(line: InkLine, piecesASpan: number): Vec3[] {
  const out: Vec3[] = [];
  for (let span = 0; span < spanCount(line); span++) {
    const cubic = spanOf(line, span);
    for (let i = 0; i < piecesASpan; i++) out.push(cubicAt(cubic, i / piecesASpan));
  }
  out.push(line.closed ? out[0]! : at3(line.at, pointCount(line) - 1));
  return out;
}
