import { CoreError } from '../../errors';
import { boxFill } from '../flatten/box-fill';
import { cutIntoCharts } from './chart';
import { flattenChart, type FlatChart, type FlattenOptions } from '../flatten/flatten';
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
  length: number;
  readonly edges: number[];
  /** Energy added for each unit of seam worth; an estimate until `result` is there. */
  cost: number;
  result: FlatChart | null;
}

/** A piece that is there, and what it weighs. */
interface Piece {
  readonly flat: FlatChart;
  readonly area: number;
  /** Energy above that of a layout without stretch, times area. */
  readonly strain: number;
}

/**
 * Joins neighbouring pieces as long as the mean stretch stays within the target: always the pair that costs least for each unit of
 * seam that goes. The cost is not foretold but flattened and measured.
 *
 * @param cuts all cuts; those that disappear are taken out
 */
export function mergeCharts(
  sums: SurfaceSums,
  charts: readonly FlatChart[],
  cuts: Uint8Array,
  options: MergeOptions,
): FlatChart[] {
  const pieces = new Pieces(sums, cuts, options);
  const ids = charts.map((chart) => pieces.take(chart));
  const all = ids.map((id) => pieces.get(id));
  const total = all.reduce((sum, p) => sum + p.area, 0);
  let spent = all.reduce((sum, p) => sum + p.strain, 0);
  const budget = Math.max(options.target * ENERGY_PER_STRETCH * total, spent * 2);
  const worth = SEAM_WORTH * Math.sqrt(total);
  let pairs = pieces.pairsOf(ids);
  while (pairs.length && spent < budget) {
    pairs.sort((p, q) => p.cost - q.cost || p.a - q.a || p.b - q.b);
    const best = pairs.shift()!;
    if (!best.result) {
      pieces.evaluate(best);
      options.onProgress?.(pieces.triedPart);
      if (best.result) pairs.push(best);
      continue;
    }
    const added = best.cost * best.length;
    if (best.cost > worth || spent + added > budget) continue;
    spent += added;
    const joined = pieces.join(best, best.result);
    pairs = pairs.filter((p) => pieces.has(p.a) && pieces.has(p.b));
    pairs.push(...pieces.pairsOf([joined]));
  }
  return pieces.charts();
}

/** The pieces of a surface while they are joined. */
class Pieces {
  private readonly sums: SurfaceSums;
  private readonly cuts: Uint8Array;
  private readonly options: MergeOptions;
  private readonly live = new Map<number, Piece>();
  private readonly pieceOf: Int32Array;
  private next = 0;
  /** Triangles flattened for tries so far, and at the most. */
  private tried = 0;
  private readonly most: number;

  constructor(sums: SurfaceSums, cuts: Uint8Array, options: MergeOptions) {
    this.sums = sums;
    this.cuts = cuts;
    this.options = options;
    this.pieceOf = new Int32Array(sums.areas.length).fill(-1);
    this.most = triedTriangles(sums.areas.length);
  }

  get triedPart(): number {
    return Math.min(1, this.tried / this.most);
  }
  get(id: number): Piece {
    return this.live.get(id)!;
  }
  has(id: number): boolean {
    return this.live.has(id);
  }
  charts(): FlatChart[] {
    return [...this.live.values()].map((p) => p.flat);
  }

  /** @returns the number that the piece gets */
  take(flat: FlatChart): number {
    const id = this.next++;
    let area = 0;
    for (const f of flat.chart.faces) {
      this.pieceOf[f] = id;
      area += this.sums.areas[f]!;
    }
    this.live.set(id, { flat, area, strain: strainOf(flat, area) });
    return id;
  }

  /** @returns the number of the piece that two became */
  join({ a, b, edges }: Pair, result: FlatChart): number {
    for (const e of edges) this.cuts[e] = 0;
    this.live.delete(a);
    this.live.delete(b);
    return this.take(result);
  }

  /** Pairs in which one of the given pieces takes part, with an estimate of their cost. */
  pairsOf(ids: readonly number[]): Pair[] {
    const { topology, lengths } = this.sums;
    const { cuts, pieceOf } = this;
    const { fixed } = this.options;
    const found = new Map<number, Pair>();
    for (const id of ids) {
      for (const f of this.get(id).flat.chart.faces) {
        for (let c = f * 3; c < f * 3 + 3; c++) {
          const o = topology.across[c]!;
          const e = topology.edges.ofCorner[c]!;
          if (o < 0 || !cuts[e] || fixed?.[e] || topology.twisted[e]) continue;
          const other = pieceOf[Math.floor(o / 3)]!;
          if (other < 0 || other === id) continue;
          const a = Math.min(id, other);
          const b = Math.max(id, other);
          const key = a * 2 ** 26 + b;
          let pair = found.get(key);
          if (!pair) found.set(key, (pair = { a, b, length: 0, edges: [], cost: 0, result: null }));
          if (pair.edges.includes(e)) continue;
          pair.edges.push(e);
          pair.length += lengths[e]!;
        }
      }
    }
    for (const pair of found.values()) pair.cost = this.estimate(pair);
    return [...found.values()];
  }

  /** A guess for the order of the tries: small pieces with a long common seam first. */
  private estimate({ a, b, length }: Pair): number {
    return (1e-3 * Math.min(this.get(a).area, this.get(b).area)) / (length || 1e-30);
  }

  /** Flattens a pair together: leaves the result and what it costs, or nothing if it is no good. */
  evaluate(pair: Pair): void {
    const { cuts, sums } = this;
    const a = this.get(pair.a);
    const b = this.get(pair.b);
    const faces = [...a.flat.chart.faces, ...b.flat.chart.faces];
    if (faces.length > MOST_IN_A_TRY || this.tried + faces.length > this.most) return;
    this.tried += faces.length;
    for (const e of pair.edges) cuts[e] = 0;
    try {
      const [chart, ...rest] = cutIntoCharts(sums.mesh, sums.topology, cuts, faces);
      if (rest.length) return;
      const flat = flattenChart(chart!, this.options.flatten);
      if (flat.overlaps) return;
      const result = { chart: chart!, flat };
      const fill = boxFill(result);
      if (fill < GOOD_FILL && fill < Math.min(boxFill(a.flat), boxFill(b.flat))) return;
      pair.result = result;
      pair.cost = (strainOf(result, a.area + b.area) - a.strain - b.strain) / (pair.length || 1e-30);
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
    } finally {
      for (const e of pair.edges) cuts[e] = 1;
    }
  }
}

const strainOf = ({ flat }: FlatChart, area: number): number => Math.max(0, flat.energy - 4) * area;
