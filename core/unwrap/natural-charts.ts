import { CoreError } from '../errors';
import { nextCorner, type Mesh, type Topology } from '../mesh';
import { autoCharts } from './auto-charts';
import { flattenChart, type FlatChart } from './flatten';
import { mergeNaturally } from './natural-merge';
import { seamWorth } from './seam-worth';
import { straightenSeams } from './straighten-seams';
import { surfaceSums } from './surface-sums';

export interface NaturalCut {
  /** L² stretch that the whole may have; 1.06 is hardly seen in paint. */
  readonly bound: number;
  /** 1 for each edge that must be a seam. */
  readonly seams: Uint8Array;
  readonly faces?: Iterable<number>;
  /** A factor an edge: above 1 where no seam is wanted, below 1 where one is. */
  readonly wishes?: Float32Array | null;
  readonly onProgress?: (done: number) => void;
}

/** Squared L² stretch less one that the pieces have from which a natural cut is joined: next to none. */
const FINE = 0.0022;

/** Parts of the work that are done when the pieces are there, when they are joined, and when their seams are straight. */
const [DIVIDED, JOINED, STRAIGHT] = [0.35, 0.75, 0.9];

/**
 * Cuts a surface as a practised hand would: it is divided finely first, then seams go as long as the stretch stays within its bound, those that
 * are seen most first; what is left is led along the cheapest way.
 */
export function naturalCharts(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  topology: Topology,
  { bound, seams, faces, wishes = null, onProgress }: NaturalCut,
): FlatChart[] {
  const fine = autoCharts(mesh, topology, {
    stretch: FINE,
    seams,
    ...(faces ? { faces } : {}),
    onProgress: (done) => onProgress?.(DIVIDED * done),
  });
  const cuts = cutsOf(fine, topology, seams);
  const { costs } = seamWorth(mesh, topology, wishes);
  const sums = surfaceSums(mesh, topology);
  const options = { bound, costs, fixed: seams };
  const joined = mergeNaturally(sums, fine, cuts, {
    ...options,
    onProgress: (done) => onProgress?.(DIVIDED + (JOINED - DIVIDED) * done),
  });
  const straight = straightenSeams(sums, joined, cuts, options);
  onProgress?.(STRAIGHT);
  const out = straight.map((chart, i) => {
    onProgress?.(STRAIGHT + ((1 - STRAIGHT) * i) / straight.length);
    return polished(chart);
  });
  return out.sort((a, b) => a.chart.faces[0]! - b.chart.faces[0]!);
}

/** 1 for each edge along which charts are cut, from one another or within themselves. */
export function cutsOf(
  charts: readonly FlatChart[],
  { across, edges }: Topology,
  seams: Uint8Array,
): Uint8Array {
  const chartOf = new Int32Array(across.length / 3).fill(-1);
  const vertexOf = new Int32Array(across.length).fill(-1);
  charts.forEach(({ chart }, n) =>
    chart.faces.forEach((f, i) => {
      chartOf[f] = n;
      for (let k = 0; k < 3; k++) vertexOf[f * 3 + k] = chart.indices[i * 3 + k]!;
    }),
  );
  const out = seams.slice();
  for (let c = 0; c < across.length; c++) {
    const o = across[c]!;
    const [n, m] = [chartOf[Math.floor(c / 3)]!, o < 0 ? -1 : chartOf[Math.floor(o / 3)]!];
    if (n < 0 || m < 0) continue;
    const isWhole =
      n === m && vertexOf[c] === vertexOf[nextCorner(o)] && vertexOf[nextCorner(c)] === vertexOf[o];
    if (!isWhole) out[edges.ofCorner[c]!] = 1;
  }
  return out;
}

/** Flattened as well as it can be; as it was where that fails. */
function polished(one: FlatChart): FlatChart {
  try {
    const flat = flattenChart(one.chart);
    return flat.overlaps ? one : { chart: one.chart, flat };
  } catch (error) {
    if (error instanceof CoreError) return one;
    throw error;
  }
}
