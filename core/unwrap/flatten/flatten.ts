import { CoreError } from '../../errors';
import { shapeOf, type Chart, type CutChart } from '../segment/chart';
import { oppositeCorners } from '../segment/chart-edges';
import { conformalMap } from './conformal';
import { convexMap } from './convex';
import { borderCrossings } from './crossings';
import { DirichletEnergy } from '../relax/dirichlet-energy';
import { singularValues } from './measures';
import { partLips } from '../relax/part-lips';
import { relaxLayout } from '../relax/relax';
import { foldedTriangles, restShapes, scaleToRest } from './rest-shape';
import { RigidFit } from '../relax/rigid-fit';

export interface FlattenOptions {
  /** Relaxing steps at the most. 0 leaves the conformal map as it is, if it doesn't fold. */
  readonly steps?: number;
  /** Relaxing ends when a step wins less than this part of the stretch that is left. */
  readonly tolerance?: number;
  /** A chart that won't come to lie well is given up early: it is going to be divided. */
  readonly givesUp?: boolean;
  /** What comes to lie over itself from the first start isn't begun anew from another. */
  readonly oneStart?: boolean;
  /** Triangles that are stretched more than this are relaxed once more as if they were larger: slivers weigh next to nothing by themselves. */
  readonly worst?: number;
  /** What lies over itself by a little is drawn apart, in so many rounds. */
  readonly parts?: number;
  /** It is tried roughly first, from one start: what lies over itself then, or won't come to lie well, isn't brought to an end. */
  readonly tries?: boolean;
}

export interface Flattened {
  /** uv a vertex, in the chart's own units, nothing folded. */
  readonly uv: Float64Array;
  /** Symmetric Dirichlet energy, mean over the area; 4 where nothing is stretched. */
  readonly energy: number;
  /** The layout lies over itself somewhere: the chart needs another cut. */
  readonly overlaps: boolean;
}

/** A chart that knows where it comes from, with its layout. */
export interface FlatChart {
  readonly chart: CutChart;
  readonly flat: Flattened;
}

const STEPS = 120;
const TOLERANCE = 1e-3;

/** How roughly it is tried: relaxing steps, their tolerance, and rounds of drawing apart. */
const [TRY_STEPS, TRY_TOLERANCE, TRY_PARTS] = [16, 1e-2, 2];

/** No more than this part of a piece's triangles are eased. */
const FEW_BAD = 0.02;

/**
 * Flattens a chart: a start without folds, relaxed for area and angle until neither improves. The start is the chart unrolled; where
 * that folds, or the end lies over itself, a conformal map; where that folds too, a convex one, which can't. Most charts end in
 * the same place from all of them, but from unrolling it is the shortest way.
 *
 * @throws CoreError `unwrap-closed` if the chart has no border, `unwrap-folds` if no layout without folds is found
 */
export function flattenChart(chart: Chart, options: FlattenOptions = {}): Flattened {
  const {
    steps = STEPS,
    tolerance = TOLERANCE,
    givesUp = false,
    oneStart = false,
    worst,
    parts = 0,
    tries = false,
  } = options;
  const opposite = oppositeCorners(chart.indices, chart.positions.length / 3);
  const { loops } = shapeOf(chart, opposite);
  if (!loops.length) {
    throw new CoreError('unwrap-closed', 'A closed surface can’t be flattened. Draw a seam on it first.');
  }
  const shapes = restShapes(chart);
  const rigid = new RigidFit(chart, shapes, opposite);
  let givenUp = false;
  const relaxed = (uv: Float64Array): Flattened => {
    scaleToRest(chart, shapes, uv);
    const whole = new DirichletEnergy(chart, shapes);
    /** @returns whether it lies over itself in the end */
    const apart = (rounds: number): boolean =>
      borderCrossings(chart, uv, 1, opposite).length > 0 &&
      (rounds === 0 || !partLips(chart, uv, opposite, whole, rigid, rounds));
    if (tries) {
      const how = { steps: TRY_STEPS, tolerance: TRY_TOLERANCE, hopeless: HOPELESS };
      const energy = relaxLayout(whole, rigid, uv, how);
      givenUp = apart(TRY_PARTS);
      if (givenUp) return { uv, energy, overlaps: true };
    }
    const how = { steps, tolerance, hopeless: givesUp && !tries ? HOPELESS : Infinity };
    const energy = relaxLayout(whole, rigid, uv, how);
    const crosses = apart(parts);
    if (worst !== undefined && !crosses) {
      const before = uv.slice();
      const most = largestStretch(chart, shapes, uv);
      easeWorst(chart, shapes, uv, worst, whole, rigid);
      const isWorse = largestStretch(chart, shapes, uv) > most;
      if (isWorse || borderCrossings(chart, uv, 1, opposite).length > 0) uv.set(before);
    }
    const overlaps = crosses || loops.slice(1).some((loop) => loopArea(loop, uv) >= 0);
    return { uv, energy, overlaps };
  };
  if (steps > 0) {
    const { uv, folded } = unroll(chart, rigid);
    const flat = folded === 0 ? relaxed(uv) : null;
    if (flat && (oneStart || givenUp || !flat.overlaps)) return flat;
    if ((givesUp || tries) && folded > MANY_FOLDS) throw foldsError();
  }
  return relaxed(conformalStart(chart, loops, shapes));
}

/** L∞ stretch of a layout in the model's own scale. */
function largestStretch(chart: Chart, shapes: Float64Array, uv: Float64Array): number {
  let least = Infinity;
  for (let f = 0; f < chart.indices.length / 3; f++)
    least = Math.min(least, singularValues(chart.indices, shapes, uv, f)[1]);
  return 1 / least;
}

/** Rounds in which the worst triangles get more weight, each time so many times as much, and the steps of each. */
const [EASING, HEAVIER, EASING_STEPS] = [4, 6, 30];

/** Relaxes the triangles that are stretched most, which are slivers most often, at a small cost to those round them. */
function easeWorst(
  chart: Chart,
  shapes: Float64Array,
  uv: Float64Array,
  limit: number,
  energy: DirichletEnergy,
  rigid: RigidFit,
): void {
  const count = chart.indices.length / 3;
  for (let round = 0; round < EASING; round++) {
    scaleToRest(chart, shapes, uv);
    let found = 0;
    for (let f = 0; f < count; f++) {
      const [big, small] = singularValues(chart.indices, shapes, uv, f);
      if (small * limit > 1 && big < limit) continue;
      energy.emphasise(f, HEAVIER ** (round + 1));
      found++;
    }
    // Where many are, it isn't slivers: the piece is stretched.
    if (found === 0 || found > 2 + count * FEW_BAD) return;
    relaxLayout(energy, rigid, uv, { steps: EASING_STEPS, tolerance: TOLERANCE, hopeless: Infinity });
  }
}

/** An energy (4 at best) from which relaxing doesn't come down to a good layout any more. */
const HOPELESS = 12;

/** Steps in which folds that unrolling leaves may go by themselves, if they are no more than this part of the triangles. */
const UNFOLDING = 2;
const FEW_FOLDS = 0.02;

/** So many are folded where a tube or a bag can't be laid flat without a cut. */
const MANY_FOLDS = 0.1;

/**
 * The chart unrolled. (Smoothing the last folds away ended in layouts that wind twice round a place.)
 *
 * @returns also the part of its triangles that is folded
 */
function unroll(chart: Chart, rigid: RigidFit): { uv: Float64Array; folded: number } {
  const uv = new Float64Array((chart.positions.length / 3) * 2);
  rigid.unroll(uv);
  for (let step = 0; ; step++) {
    const folded = foldedTriangles(chart, uv) / (chart.indices.length / 3);
    if (folded === 0 || folded > FEW_FOLDS || step === UNFOLDING) return { uv, folded };
    rigid.step(uv, uv);
  }
}

const foldsError = (): CoreError =>
  new CoreError(
    'unwrap-folds',
    'This piece can’t be flattened without folds: it has a handle, or its border meets itself. Cut it once more.',
  );

function conformalStart(
  chart: Chart,
  loops: readonly (readonly number[])[],
  shapes: Float64Array,
): Float64Array {
  const conformal = conformalMap(chart, loops[0]!, shapes);
  if (conformal.every(Number.isFinite) && foldedTriangles(chart, conformal) === 0) return conformal;
  const convex = convexMap(chart, loops);
  if (foldedTriangles(chart, convex) === 0) return convex;
  throw foldsError();
}

/** Signed area inside a border: positive round a piece, negative round a hole, unless the piece lies over the hole. */
function loopArea(loop: readonly number[], uv: Float64Array): number {
  return loop.reduce((sum, a, i) => {
    const b = loop[(i + 1) % loop.length]!;
    return sum + uv[a * 2]! * uv[b * 2 + 1]! - uv[b * 2]! * uv[a * 2 + 1]!;
  }, 0);
}
