import { CoreError } from '../errors';
import { shapeOf, type Chart, type CutChart } from './chart';
import { oppositeCorners } from './chart-edges';
import { conformalMap } from './conformal';
import { convexMap } from './convex';
import { borderCrossings } from './crossings';
import { DirichletEnergy } from './dirichlet-energy';
import { relaxLayout } from './relax';
import { foldedTriangles, restShapes, scaleToRest } from './rest-shape';
import { RigidFit } from './rigid-fit';

export interface FlattenOptions {
  /** Relaxing steps at the most. 0 leaves the conformal map as it is, if it doesn't fold. */
  readonly steps?: number;
  /** Relaxing ends when a step wins less than this part of the stretch that is left. */
  readonly tolerance?: number;
  /** A chart whose energy is still above this after a few steps is left as it is. */
  readonly hopeless?: number;
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

/**
 * Flattens a chart: a start without folds, relaxed for area and angle until neither improves. The start is the chart unrolled; where
 * that folds, or the end lies over itself, a conformal map; where that folds too, a convex one, which can't. Most charts end in
 * the same place from all of them, but from unrolling it is the shortest way.
 *
 * @throws CoreError `unwrap-closed` if the chart has no border, `unwrap-folds` if no layout without folds is found
 */
export function flattenChart(chart: Chart, options: FlattenOptions = {}): Flattened {
  const { steps = STEPS, tolerance = TOLERANCE, hopeless = Infinity } = options;
  const opposite = oppositeCorners(chart.indices, chart.positions.length / 3);
  const { loops } = shapeOf(chart, opposite);
  if (!loops.length) {
    throw new CoreError('unwrap-closed', 'A closed surface can’t be flattened. Draw a seam on it first.');
  }
  const shapes = restShapes(chart);
  const rigid = new RigidFit(chart, shapes, opposite);
  const relaxed = (uv: Float64Array): Flattened => {
    scaleToRest(chart, shapes, uv);
    const energy = relaxLayout(new DirichletEnergy(chart, shapes), rigid, uv, {
      steps,
      tolerance,
      hopeless,
    });
    const overlaps =
      borderCrossings(chart, uv, 1, opposite).length > 0 ||
      loops.slice(1).some((loop) => loopArea(loop, uv) >= 0);
    return { uv, energy, overlaps };
  };
  const unrolled = steps > 0 ? unrolledStart(chart, rigid) : null;
  const flat = unrolled && relaxed(unrolled);
  return flat && !flat.overlaps ? flat : relaxed(conformalStart(chart, loops, shapes));
}

/** Steps in which folds that unrolling leaves may go by themselves, and the part of the triangles that may be folded then. */
const UNFOLDING = 2;
const FEW_FOLDS = 0.02;

/** @returns null if it folds. (Smoothing the last folds away ended in layouts that wind twice round a place.) */
function unrolledStart(chart: Chart, rigid: RigidFit): Float64Array | null {
  const uv = new Float64Array((chart.positions.length / 3) * 2);
  rigid.unroll(uv);
  for (let step = 0; ; step++) {
    const folded = foldedTriangles(chart, uv);
    if (folded === 0) return uv;
    if (step === UNFOLDING || folded > (chart.indices.length / 3) * FEW_FOLDS) return null;
    rigid.step(uv, uv);
  }
}

function conformalStart(
  chart: Chart,
  loops: readonly (readonly number[])[],
  shapes: Float64Array,
): Float64Array {
  const conformal = conformalMap(chart, loops[0]!, shapes);
  if (conformal.every(Number.isFinite) && foldedTriangles(chart, conformal) === 0) return conformal;
  const convex = convexMap(chart, loops);
  if (foldedTriangles(chart, convex) === 0) return convex;
  throw new CoreError(
    'unwrap-folds',
    'This piece can’t be flattened without folds: it has a handle, or its border meets itself. Cut it once more.',
  );
}

/** Signed area inside a border: positive round a piece, negative round a hole, unless the piece lies over the hole. */
function loopArea(loop: readonly number[], uv: Float64Array): number {
  return loop.reduce((sum, a, i) => {
    const b = loop[(i + 1) % loop.length]!;
    return sum + uv[a * 2]! * uv[b * 2 + 1]! - uv[b * 2]! * uv[a * 2 + 1]!;
  }, 0);
}
