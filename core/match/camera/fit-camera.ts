import { CoreError } from '../../errors';
import {
  add,
  cross,
  dot,
  length,
  normalize,
  scale,
  smallestEigenvalue,
  sub,
  type Symmetric3,
  type Vec3,
  upperMedian,
} from '../../math';
import { projection } from './camera';
import {
  cameraOf,
  countOf,
  PERSPECTIVE,
  scalesOf,
  seenBy,
  SIZE,
  X,
  Y,
  type FitHow,
  type Frame,
} from './camera-parameters';
import type { MatchCamera, PointPair } from './on-picture';
import { leastSquares, solve } from './levenberg';

export interface FittedCamera {
  readonly camera: MatchCamera;
  /** How far each pair is off, pixels. */
  readonly residuals: readonly number[];
  /** The pair that is farthest off. */
  readonly worst: number;
  /** A pair that fits so badly beside all others that it was left out; null: all count. */
  readonly leftOut: number | null;
  /** The pairs fit the picture seen in a mirror, and not as it is. */
  readonly isMirrored: boolean;
}

export const LEAST_PAIRS = 4;

/** Pairs from which on the direct linear transform has as many equations as unknowns. */
const LINEAR_PAIRS = 6;

/** From where on one pair can be told to be wrong: the others still tell more than is asked. */
const ROBUST_PAIRS = 7;

/** A pair that is off by so many times as much as the middle of the others, and by so many pixels, is wrong. */
const WRONG = 8;
const WRONG_PIXELS = 3;

/** Pairs that are off by this part of the picture's height may be seen in a mirror: if they fit there, and so many times better. */
const [NO_FIT, FITS, FITS_BETTER] = [0.004, 0.006, 4];

/** Pairs that a shift, or a lens, needs: they are two unknowns more, or three. */
export const SHIFT_PAIRS = 6;

/** What of the extent of places may be missing one way before they count as lying in a plane. */
const FLAT = 1e-5;

/**
 * The camera that sees places of a model where a picture has them: the direct linear transform (R. Hartley and A. Zisserman, "Multiple
 * View Geometry", 2003, 7.1) where there are pairs enough, and starts from all around; each refined over pose, focal length and, if
 * wanted, shift, so that the sum of squared distances in the picture is least.
 *
 * @throws CoreError `bad-argument` if there are too few pairs for what is asked, or they lie in one plane or on one line
 */
export function fitCamera(pairs: readonly PointPair[], how: FitHow): FittedCamera {
  const fitted = fitRobustly(pairs, how);
  const off = rootMeanSquare(fitted.residuals);
  return { ...fitted, isMirrored: off > NO_FIT * how.height && offInMirror(pairs, how) * FITS_BETTER < off };
}

const rootMeanSquare = (all: readonly number[]): number =>
  Math.sqrt(all.reduce((sum, r) => sum + r * r, 0) / all.length);

/** How far pairs are off in a mirror, pixels; Infinity where they don't fit there either. */
function offInMirror(pairs: readonly PointPair[], how: FitHow): number {
  const turned = pairs.map(({ model, picture: [x, y] }): PointPair => ({
    model,
    picture: [how.width - x, y],
  }));
  const off = rootMeanSquare(fitAll(turned, how).fitted.residuals);
  return off < FITS * how.height ? off : Infinity;
}

function fitRobustly(pairs: readonly PointPair[], how: FitHow): Omit<FittedCamera, 'isMirrored'> {
  checkPairs(pairs, how);
  const all = fitAll(pairs, how);
  if (pairs.length < ROBUST_PAIRS || all.worstPixels < WRONG_PIXELS) return { ...all.fitted, leftOut: null };
  // One wrong pair bends all others: each is left out once.
  let best: { readonly fit: FitResult; readonly without: number } | null = null;
  for (let k = 0; k < pairs.length; k++) {
    const rest = pairs.filter((_, i) => i !== k);
    const fit = isFlat(rest) ? null : fitAll(rest, how);
    if (fit && (!best || fit.error < best.fit.error)) best = { fit, without: k };
  }
  if (!best) return { ...all.fitted, leftOut: null };
  const residuals = residualsOf(best.fit.fitted.camera, pairs);
  const usual = Math.max(0.05, upperMedian(residuals.filter((_, i) => i !== best.without)));
  const off = residuals[best.without]!;
  const isWrong = off > WRONG_PIXELS && off > WRONG * usual;
  if (!isWrong) return { ...all.fitted, leftOut: null };
  return { camera: best.fit.fitted.camera, residuals, worst: best.without, leftOut: best.without };
}

function checkPairs(pairs: readonly PointPair[], { shifted, lens, how }: FitHow): void {
  const wrong = (sentence: string): never => {
    throw new CoreError('bad-argument', sentence);
  };
  if (pairs.length < LEAST_PAIRS) {
    wrong(
      `A camera needs ${LEAST_PAIRS} pairs of places or more; there ${pairs.length === 1 ? 'is 1' : `are ${pairs.length}`}. Six, spread over the model, make it sure.`,
    );
  }
  if (pairs.length < SHIFT_PAIRS && (shifted || lens) && (how === undefined || how === 'perspective')) {
    wrong(
      `Whether a picture is cut out of a larger one, or was bent by a lens, takes ${SHIFT_PAIRS} pairs of places or more; there are ${pairs.length}.`,
    );
  }
  if (pairs.some(({ model, picture }) => ![...model, ...picture].every(Number.isFinite)))
    wrong('A pair has a coordinate that is not a number. Set it again.');
  if (isFlat(pairs)) {
    wrong(
      'All pairs lie in one plane of the model, so depth and focal length can’t be told apart. Add a pair that stands out of it.',
    );
  }
  const seen = pairs.map(({ picture }) => picture);
  const [mx, my] = [0, 1].map((k) => seen.reduce((s, p) => s + p[k]!, 0) / seen.length) as [number, number];
  let [xx, xy, yy] = [0, 0, 0];
  for (const [x, y] of seen) {
    xx += (x - mx) ** 2;
    xy += (x - mx) * (y - my);
    yy += (y - my) ** 2;
  }
  const least = (xx + yy - Math.hypot(xx - yy, 2 * xy)) / 2;
  if (!(least > 1e-6 * (xx + yy)))
    wrong('All places of the picture lie on one line. Set pairs that are spread over the picture.');
}

/** Whether places lie in one plane, or nearly. */
function isFlat(pairs: readonly PointPair[]): boolean {
  const m = middleOf(pairs);
  const s = [0, 0, 0, 0, 0, 0];
  for (const { model } of pairs) {
    const [x, y, z] = sub(model, m);
    [x * x, x * y, x * z, y * y, y * z, z * z].forEach((v, k) => (s[k]! += v));
  }
  const whole = s[0]! + s[3]! + s[5]!;
  return !(smallestEigenvalue(...(s as unknown as Symmetric3)) > FLAT * whole);
}

const middleOf = (pairs: readonly PointPair[]): Vec3 =>
  scale(
    pairs.reduce<Vec3>((sum, { model }) => add(sum, model), [0, 0, 0]),
    1 / pairs.length,
  );

interface FitResult {
  readonly fitted: Omit<FittedCamera, 'leftOut' | 'isMirrored'>;
  readonly error: number;
  readonly worstPixels: number;
}

function fitAll(pairs: readonly PointPair[], how: FitHow): FitResult {
  const middle = middleOf(pairs);
  const extent = Math.max(...pairs.map(({ model }) => length(sub(model, middle)))) || 1;
  let best: { readonly x: Float64Array; readonly frame: Frame; readonly error: number } | null = null;
  const starts: (readonly [Vec3, Vec3, Vec3])[] = [];
  const linear = pairs.length >= LINEAR_PAIRS ? linearAxes(pairs, middle, extent) : null;
  if (linear) starts.push(linear);
  starts.push(...VIEWS);
  for (const axes of starts) {
    const frame = { axes, middle };
    const start = startFrom(frame, pairs, extent, countOf(how));
    const residuals = residualsFor(frame, pairs, how, extent);
    const { x, error } = leastSquares(residuals, start, scalesOf(how), pairs.length * 2);
    if (Number.isFinite(error) && (!best || error < best.error)) best = { x, frame, error };
    // What the linear start leads to is best nearly always; exact pairs need no other.
    if (best && best.error < 1e-9 * pairs.length) break;
  }
  if (!best) {
    throw new CoreError(
      'bad-argument',
      'No camera sees these places so. Look whether a pair is mixed up, or the picture is mirrored.',
    );
  }
  const camera = cameraOf(best.frame, best.x, how, extent);
  const residuals = residualsOf(camera, pairs);
  const worst = residuals.indexOf(Math.max(...residuals));
  return { fitted: { camera, residuals, worst }, error: best.error, worstPixels: residuals[worst]! };
}

function residualsOf(camera: MatchCamera, pairs: readonly PointPair[]): number[] {
  const see = projection(camera);
  return pairs.map(({ model, picture: [x, y] }) => {
    const seen = see(model);
    return seen.depth > 0 ? Math.hypot(seen.x - x, seen.y - y) : Infinity;
  });
}

function residualsFor(frame: Frame, pairs: readonly PointPair[], how: FitHow, extent: number) {
  const places = pairs.map(({ model }) => model);
  return (x: Float64Array, out: Float64Array): void => {
    seenBy(frame, x, how, extent)(places, out);
    pairs.forEach(({ picture: [px, py] }, i) => {
      out[i * 2]! -= px;
      out[i * 2 + 1]! -= py;
    });
  };
}

/** The parameters of the weak perspective that fits best with an orientation. */
function startFrom(
  { axes: [right, up], middle }: Frame,
  pairs: readonly PointPair[],
  extent: number,
  count: number,
): Float64Array {
  const [mx, my] = [0, 1].map((k) => pairs.reduce((s, p) => s + p.picture[k]!, 0) / pairs.length) as [
    number,
    number,
  ];
  let [over, under] = [0, 0];
  for (const { model, picture } of pairs) {
    const p = sub(model, middle);
    const [u, v] = [dot(p, right), -dot(p, up)];
    over += u * (picture[0] - mx) + v * (picture[1] - my);
    under += u * u + v * v;
  }
  const spread = Math.max(...pairs.map(({ picture: [x, y] }) => Math.hypot(x - mx, y - my)));
  const size = over > 0 && under > 0 ? over / under : spread / extent;
  const out = new Float64Array(count);
  out[SIZE] = Math.log(size);
  out[PERSPECTIVE] = 0.15;
  out[X] = mx;
  out[Y] = my;
  return out;
}

/** Orientations to begin with: looking from 26 sides, upright. */
const VIEWS: readonly (readonly [Vec3, Vec3, Vec3])[] = /* @__PURE__ */ [-1, 0, 1].flatMap((y) =>
  [-1, 0, 1].flatMap((x) =>
    [-1, 0, 1].flatMap((z): (readonly [Vec3, Vec3, Vec3])[] => {
      if (x === 0 && y === 0 && z === 0) return [];
      const back = normalize([x, y, z]);
      const right = normalize(cross(Math.abs(back[1]) > 0.99 ? [0, 0, -Math.sign(y)] : [0, 1, 0], back));
      return [[right, cross(back, right), back]];
    }),
  ),
);

/** The orientation that the direct linear transform gives; null where it gives none. */
function linearAxes(
  pairs: readonly PointPair[],
  middle: Vec3,
  extent: number,
): readonly [Vec3, Vec3, Vec3] | null {
  const [mx, my] = [0, 1].map((k) => pairs.reduce((s, p) => s + p.picture[k]!, 0) / pairs.length) as [
    number,
    number,
  ];
  const spread = Math.max(...pairs.map(({ picture: [x, y] }) => Math.hypot(x - mx, y - my))) || 1;
  // Both are brought to unit size first: without that the equations are hopelessly skew (Hartley 1997).
  const normal = new Float64Array(144);
  const row = new Float64Array(12);
  for (const { model, picture } of pairs) {
    const p = scale(sub(model, middle), 1 / extent);
    const [u, v] = [(picture[0] - mx) / spread, (picture[1] - my) / spread];
    for (const [offset, at] of [
      [0, u],
      [4, v],
    ] as const) {
      row.fill(0);
      [...p, 1].forEach((c, k) => {
        row[offset + k] = c;
        row[8 + k] = -at * c;
      });
      for (let a = 0; a < 12; a++) for (let b = 0; b < 12; b++) normal[a * 12 + b]! += row[a]! * row[b]!;
    }
  }
  let trace = 0;
  for (let a = 0; a < 12; a++) trace += normal[a * 13]!;
  for (let a = 0; a < 12; a++) normal[a * 13]! += trace * 1e-14;
  // The vector that the equations shrink most, by inverse iteration.
  let p: Float64Array | null = Float64Array.from({ length: 12 }, (_, k) => Math.cos(k * 1.7 + 0.3));
  for (let round = 0; round < 12 && p; round++) {
    p = solve(normal.slice(), p, 12);
    const l = p ? Math.hypot(...p) : 0;
    p = p && l > 0 && Number.isFinite(l) ? p.map((c) => c / l) : null;
  }
  if (!p) return null;
  const rowOf = (k: number): Vec3 => [p[k * 4]!, p[k * 4 + 1]!, p[k * 4 + 2]!];
  // The last row is along the view; the others lie square to it, but for where the axis meets the picture.
  const third = rowOf(2);
  // Depths are positive before the eye.
  const sign = p[11]! < 0 ? -1 : 1;
  const forward = normalize(scale(third, sign), [0, 0, 0]);
  if (length(forward) === 0) return null;
  const first = scale(rowOf(0), sign);
  const right = normalize(sub(first, scale(forward, dot(first, forward))), [0, 0, 0]);
  if (length(right) === 0) return null;
  const back = scale(forward, -1);
  return [right, cross(back, right), back];
}
