import { CoreError } from '../errors';
import { cutIntoCharts } from './chart';
import { flattenChart, type FlatChart, type FlattenOptions } from './flatten';
import { smallestBoxTurn } from './outline';
import { doubledArea } from './rest-shape';
import type { SurfaceSums } from './surface-sums';

/**
 * Triangles that are flattened for a try, all in all: it bounds the time. Small models try every pair; the larger a model is, the
 * finer it is divided by its sums alone, and the less there is to join.
 */
const triedTriangles = (faces: number): number => Math.max(4_000, 48_000 - faces);

/** Larger unions are not tried. */
const MOST_IN_A_TRY = 6000;

/**
 * A seam is worth this much energy times area for each unit of its length, in parts of the square root of the whole area. From the
 * curves of islands against stretch of the bench's models: beyond it stretch grows without much seam going.
 */
const SEAM_WORTH = 10 ** -2.6;

/** Symmetric Dirichlet energy above 4 is about this many times the squared L² stretch above 1 (both are quadratic in the strain). */
const ENERGY_PER_STRETCH = 2.7;

/** A piece that fills its smallest box less than this packs badly: joining may not make it so. */
const GOOD_FILL = 0.6;

/** The part of its smallest box that a piece fills. */
function boxFill({ chart, flat }: FlatChart): number {
  const turn = smallestBoxTurn(flat.uv);
  const cos = Math.cos(turn);
  const sin = Math.sin(turn);
  let [minX, maxX, minY, maxY] = [Infinity, -Infinity, Infinity, -Infinity];
  for (let i = 0; i < flat.uv.length; i += 2) {
    const x = flat.uv[i]! * cos - flat.uv[i + 1]! * sin;
    const y = flat.uv[i]! * sin + flat.uv[i + 1]! * cos;
    minX = Math.min(minX, x);
    maxX = Math.max(maxX, x);
    minY = Math.min(minY, y);
    maxY = Math.max(maxY, y);
  }
  let area = 0;
  for (let f = 0; f < chart.faces.length; f++) area += Math.abs(doubledArea(chart.indices, flat.uv, f)) / 2;
  return area / ((maxX - minX) * (maxY - minY) || 1);
}

interface MergeOptions {
  /** Seams that must stay. */
  readonly fixed: Uint8Array | undefined;
  /** Squared L² stretch less one, mean over the surface. */
  readonly target: number;
  readonly flatten: FlattenOptions;
  readonly onProgress?: (done: number) => void;
}

interface Pair {
  readonly a: number;
  readonly b: number;
  readonly length: number;
  readonly edges: number[];
  /** Energy added for each unit of seam worth; an estimate until `result` is there. */
  cost: number;
  result: FlatChart | null;
}

/**
 * Joins neighbouring pieces as long as the mean stretch stays within the target: always the pair that costs least for each unit of
 * seam that goes. The cost is not foretold but flattened and measured.
 *
 * @param cuts all cuts; those that disappear are taken out
 */
export function mergeCharts(
  { mesh, topology, areas, lengths }: SurfaceSums,
  charts: readonly FlatChart[],
  cuts: Uint8Array,
  { fixed, target, flatten: options, onProgress }: MergeOptions,
): FlatChart[] {
  const live = new Map<number, FlatChart>();
  const areaOf = new Map<number, number>();
  const chartOf = new Int32Array(areas.length).fill(-1);
  let next = 0;
  let total = 0;
  let spent = 0;
  const excess = ({ flat }: FlatChart): number => Math.max(0, flat.energy - 4);
  const take = (chart: FlatChart): number => {
    const id = next++;
    live.set(id, chart);
    let area = 0;
    for (const f of chart.chart.faces) {
      chartOf[f] = id;
      area += areas[f]!;
    }
    areaOf.set(id, area);
    return id;
  };
  for (const chart of charts) {
    const id = take(chart);
    total += areaOf.get(id)!;
    spent += excess(chart) * areaOf.get(id)!;
  }
  const budget = Math.max(target * ENERGY_PER_STRETCH * total, spent * 2);
  const worth = SEAM_WORTH * Math.sqrt(total);
  let tried = 0;
  const most = triedTriangles(areas.length);
  let pairs = pairsOf([...live.keys()]);
  while (pairs.length && spent < budget) {
    pairs.sort((p, q) => p.cost - q.cost || p.a - q.a || p.b - q.b);
    const best = pairs.shift()!;
    if (!best.result) {
      evaluate(best);
      onProgress?.(Math.min(1, tried / most));
      if (best.result) pairs.push(best);
      continue;
    }
    const added = best.cost * best.length;
    if (best.cost > worth || spent + added > budget) continue;
    spent += added;
    for (const e of best.edges) cuts[e] = 0;
    live.delete(best.a);
    live.delete(best.b);
    const joined = take(best.result);
    pairs = pairs.filter((p) => live.has(p.a) && live.has(p.b));
    pairs.push(...pairsOf([joined]));
  }
  return [...live.values()];

  /** Pairs in which one of the given charts takes part, with an estimate of their cost. */
  function pairsOf(ids: readonly number[]): Pair[] {
    const found = new Map<number, Pair>();
    for (const id of ids) {
      for (const f of live.get(id)!.chart.faces) {
        for (let c = f * 3; c < f * 3 + 3; c++) {
          const o = topology.across[c]!;
          const e = topology.edges.ofCorner[c]!;
          if (o < 0 || !cuts[e] || fixed?.[e] || topology.twisted[e]) continue;
          const other = chartOf[Math.floor(o / 3)]!;
          if (other < 0 || other === id) continue;
          const a = Math.min(id, other);
          const b = Math.max(id, other);
          const key = a * 2 ** 26 + b;
          let pair = found.get(key) as (Pair & { length: number }) | undefined;
          if (!pair) found.set(key, (pair = { a, b, length: 0, edges: [], cost: 0, result: null }));
          if (pair.edges.includes(e)) continue;
          pair.edges.push(e);
          pair.length += lengths[e]!;
        }
      }
    }
    for (const pair of found.values()) pair.cost = estimate(pair);
    return [...found.values()];
  }

  /** A guess for the order of the tries: small pieces with a long common seam first. */
  function estimate({ a, b, length }: Pair): number {
    const area = Math.min(areaOf.get(a)!, areaOf.get(b)!);
    return (1e-3 * area) / (length || 1e-30);
  }

  function evaluate(pair: Pair): void {
    const a = live.get(pair.a)!;
    const b = live.get(pair.b)!;
    const size = a.chart.faces.length + b.chart.faces.length;
    if (size > MOST_IN_A_TRY || tried + size > most) return;
    tried += size;
    for (const e of pair.edges) cuts[e] = 0;
    try {
      const faces = [...a.chart.faces, ...b.chart.faces];
      const [chart, ...rest] = cutIntoCharts(mesh, topology, cuts, faces);
      if (rest.length) return;
      const flat = flattenChart(chart!, options);
      if (flat.overlaps) return;
      const result = { chart: chart!, flat };
      const fill = boxFill(result);
      if (fill < GOOD_FILL && fill < Math.min(boxFill(a), boxFill(b))) return;
      pair.result = result;
      const area = areaOf.get(pair.a)! + areaOf.get(pair.b)!;
      const before = excess(a) * areaOf.get(pair.a)! + excess(b) * areaOf.get(pair.b)!;
      pair.cost = (excess(pair.result) * area - before) / (pair.length || 1e-30);
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
    } finally {
      for (const e of pair.edges) cuts[e] = 1;
    }
  }
}
