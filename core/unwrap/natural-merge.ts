import { CoreError } from '../errors';
import { boxFill } from './box-fill';
import { cutIntoCharts, type CutChart } from './chart';
import { flattenChart, type FlatChart, type FlattenOptions } from './flatten';
import { measureDistortion } from './measures';
import type { SurfaceSums } from './surface-sums';

export interface NaturalOptions {
  /** L² stretch that the whole may have. */
  readonly bound: number;
  /** What a seam along each edge costs. */
  readonly costs: Float64Array;
  /** 1 for each edge that must be a seam. */
  readonly fixed: Uint8Array;
  readonly onProgress?: (done: number) => void;
}

/** A seam is worth so much strain for each unit of its cost, in parts of the square root of the whole area. */
const SEAM_WORTH = 0.08;

/** No triangle is stretched more than this, L∞. */
const MOST_STRETCH = 3;

/** A piece may be stretched so many times as far above 1 as the whole. */
const WORST_PIECE = 2.5;

/** A piece that fills its smallest box less than this packs badly; less than its parts did, it isn't joined to that. */
const LEAST_FILL = 0.3;

/** Round a place where so much angle is missing nothing lies flat, radians. */
const CORNER = 0.5;

/** Tries are flattened roughly; what stays is flattened well at the end. */
const TRY: FlattenOptions = { givesUp: true, oneStart: true, tolerance: 1e-2, steps: 16 };

/** Triangles flattened for tries, all in all, for each of the model's, and at the least. */
const [TRIES_A_TRIANGLE, LEAST_TRIES] = [200, 3_000_000];

/** Seams of fewer edges go as a whole or not at all. */
const DIVISIBLE = 8;

/** Runs of a seam that may go by themselves: from either end, and from the middle. */
function partsOf(edges: readonly number[]): (readonly number[])[] {
  const n = edges.length;
  if (n < DIVISIBLE) return [];
  const [long, short] = [Math.floor(n * 0.66), Math.floor(n * 0.33)];
  return [
    edges.slice(0, long),
    edges.slice(n - long),
    edges.slice(0, short),
    edges.slice(n - short),
    edges.slice(short, long),
  ];
}

/** A piece that is there, and what it weighs. */
interface Piece {
  readonly flat: FlatChart;
  readonly area: number;
  /** Squared L² stretch above 1, times area. */
  readonly strain: number;
}

/** Seams between two pieces, or within one, that hang together. */
interface Chain {
  readonly edges: readonly number[];
  readonly cost: number;
}

/** Two pieces that may become one, by taking some of the seams between them away; or one and a seam within it. */
interface Joint {
  readonly a: number;
  readonly b: number;
  readonly chains: readonly Chain[];
  /** Strain for each unit of seam cost that goes; a guess until `result` is there. */
  price: number;
  result: { readonly flat: FlatChart; readonly gone: readonly number[]; readonly strain: number } | null;
}

/**
 * Takes seams away as long as the stretch stays within its bound: always those that cost most for the least stretch, so that what is left lies
 * where a seam isn't seen and where the form asks for one (bounded distortion, least seam: M. Li and others, "OptCuts", 2018). Of several seams
 * between two pieces the one that costs least may stay: a tube is opened along the side that nobody sees.
 *
 * @param cuts all cuts; those that disappear are taken out
 */
export function mergeNaturally(
  sums: SurfaceSums,
  charts: readonly FlatChart[],
  cuts: Uint8Array,
  options: NaturalOptions,
): FlatChart[] {
  const pieces = new NaturalPieces(sums, cuts, options);
  const ids = charts.map((chart) => pieces.take(chart));
  let spent = ids.reduce((sum, id) => sum + pieces.get(id).strain, 0);
  const budget = (options.bound ** 2 - 1) * ids.reduce((sum, id) => sum + pieces.get(id).area, 0);
  const worth = SEAM_WORTH * Math.sqrt(ids.reduce((sum, id) => sum + pieces.get(id).area, 0));
  let joints = pieces.jointsOf(ids);
  while (joints.length > 0) {
    joints.sort((p, q) => p.price - q.price || p.a - q.a || p.b - q.b);
    const best = joints.shift()!;
    if (!best.result) {
      pieces.evaluate(best);
      options.onProgress?.(pieces.triedPart);
      if (best.result) joints.push(best);
      continue;
    }
    const { strain, flat, gone } = best.result;
    const before =
      best.a === best.b ? pieces.get(best.a).strain : pieces.get(best.a).strain + pieces.get(best.b).strain;
    if (best.price > worth || spent + strain - before > budget) continue;
    spent += strain - before;
    const joined = pieces.join(best, flat, gone, strain);
    joints = joints.filter((p) => pieces.has(p.a) && pieces.has(p.b));
    joints.push(...pieces.jointsOf([joined]));
  }
  return pieces.charts();
}

class NaturalPieces {
  private readonly sums: SurfaceSums;
  private readonly cuts: Uint8Array;
  private readonly options: NaturalOptions;
  private readonly live = new Map<number, Piece>();
  private readonly pieceOf: Int32Array;
  private readonly most: number;
  /** Seams that wouldn't go: pieces only grow, so they won't later. */
  private readonly failed = new Set<string>();
  private next = 0;
  private tried = 0;

  constructor(sums: SurfaceSums, cuts: Uint8Array, options: NaturalOptions) {
    this.sums = sums;
    this.cuts = cuts;
    this.options = options;
    this.pieceOf = new Int32Array(sums.areas.length).fill(-1);
    this.most = Math.max(LEAST_TRIES, TRIES_A_TRIANGLE * sums.areas.length);
  }

  get triedPart(): number {
    return Math.min(1, this.tried / this.most);
  }
  get = (id: number): Piece => this.live.get(id)!;
  has = (id: number): boolean => this.live.has(id);
  charts = (): FlatChart[] => [...this.live.values()].map((p) => p.flat);

  /** @returns the number that the piece gets */
  take(flat: FlatChart, known?: number): number {
    const id = this.next++;
    let area = 0;
    for (const f of flat.chart.faces) {
      this.pieceOf[f] = id;
      area += this.sums.areas[f]!;
    }
    const strain = known ?? strainOf(flat, area).strain;
    this.live.set(id, { flat, area, strain });
    return id;
  }

  join({ a, b }: Joint, flat: FlatChart, gone: readonly number[], strain: number): number {
    for (const e of gone) this.cuts[e] = 0;
    this.live.delete(a);
    this.live.delete(b);
    return this.take(flat, strain);
  }

  /** Joints in which one of the given pieces takes part, with a guess of their price. */
  jointsOf(ids: readonly number[]): Joint[] {
    const { topology } = this.sums;
    const { cuts, pieceOf } = this;
    const { fixed } = this.options;
    const found = new Map<number, { a: number; b: number; edges: Set<number> }>();
    for (const id of ids) {
      for (const f of this.get(id).flat.chart.faces) {
        for (let c = f * 3; c < f * 3 + 3; c++) {
          const o = topology.across[c]!;
          const e = topology.edges.ofCorner[c]!;
          if (o < 0 || !cuts[e] || fixed[e] || topology.twisted[e]) continue;
          const other = pieceOf[Math.floor(o / 3)]!;
          if (other < 0) continue;
          const [a, b] = [Math.min(id, other), Math.max(id, other)];
          const key = a * 2 ** 26 + b;
          const pair = found.get(key) ?? { a, b, edges: new Set() };
          found.set(key, pair);
          pair.edges.add(e);
        }
      }
    }
    return [...found.values()].flatMap(({ a, b, edges }): Joint[] => {
      const chains = this.chainsOf([...edges]);
      // A seam within a piece goes by itself; between two, all of them go, or all but one.
      const sets = a === b ? chains.map((chain) => [chain]) : [chains];
      return sets.map((some) => ({ a, b, chains: some, price: this.guess(a, b, some), result: null }));
    });
  }

  /** Edges that hang together at their ends, but not round a corner: there a seam may go on one side and stay on the other. */
  private chainsOf(edges: readonly number[]): Chain[] {
    const { ends } = this.sums.topology.edges;
    const at = new Map<number, number[]>();
    for (const e of edges) {
      for (const v of [ends[e * 2]!, ends[e * 2 + 1]!]) {
        const list = at.get(v);
        if (list) list.push(e);
        else at.set(v, [e]);
      }
    }
    const seen = new Set<number>();
    return edges.flatMap((first): Chain[] => {
      if (seen.has(first)) return [];
      seen.add(first);
      const chain = [first];
      for (const e of chain) {
        for (const v of [ends[e * 2]!, ends[e * 2 + 1]!]) {
          if (Math.abs(this.sums.missing[v]!) > CORNER) continue;
          for (const other of at.get(v)!) {
            if (seen.has(other)) continue;
            seen.add(other);
            chain.push(other);
          }
        }
      }
      return [{ edges: chain, cost: chain.reduce((sum, e) => sum + this.options.costs[e]!, 0) }];
    });
  }

  /** For the order of the tries: small pieces with a costly seam first. */
  private guess(a: number, b: number, chains: readonly Chain[]): number {
    const cost = chains.reduce((sum, c) => sum + c.cost, 0) || 1e-30;
    return (1e-3 * Math.min(this.get(a).area, this.get(b).area)) / cost;
  }

  /** Flattens what a joint makes: leaves the result and its price, or nothing if it is no good. */
  evaluate(joint: Joint): void {
    const chains = joint.chains.toSorted((a, b) => b.cost - a.cost);
    const counts = new Set([chains.length, chains.length - 1, 1].filter((n) => n > 0));
    let best: Pick<Joint, 'price' | 'result'> | null = null;
    for (const count of counts) {
      const some = chains.slice(0, count);
      const found = this.tryWithout(
        joint,
        some.flatMap((c) => c.edges),
        some.reduce((sum, c) => sum + c.cost, 0),
      );
      if (found && (!best || found.price < best.price - 1e-9)) best = found;
      // What lies flat with all of them gone needs no other try.
      if (found && found.price < 1e-6) break;
    }
    if (best) return void Object.assign(joint, best);
    // Where all of it won't go, some of it may: a seam ends within the piece.
    for (const part of partsOf(this.inOrder(chains[0]!.edges))) {
      const cost = part.reduce((sum, e) => sum + this.options.costs[e]!, 0);
      const found = this.tryWithout(joint, part, cost);
      if (
        found &&
        (!best || found.result!.gone.length > 0.8 * best.result!.gone.length) &&
        (!best || found.price < best.price)
      )
        best = found;
    }
    if (best) Object.assign(joint, best);
  }

  /** A chain's edges as they follow one another, if it is a line; as they are if it isn't. */
  private inOrder(chain: readonly number[]): readonly number[] {
    const { ends } = this.sums.topology.edges;
    const at = new Map<number, number[]>();
    for (const e of chain)
      for (const v of [ends[e * 2]!, ends[e * 2 + 1]!]) at.set(v, [...(at.get(v) ?? []), e]);
    const start = [...at].find(([, list]) => list.length === 1);
    if (!start || [...at.values()].some((list) => list.length > 2)) return chain;
    let [v] = start;
    let e: number | undefined = start[1][0];
    const out: number[] = [];
    while (e !== undefined) {
      out.push(e);
      v = ends[e * 2] === v ? ends[e * 2 + 1]! : ends[e * 2]!;
      const last: number = e;
      e = at.get(v)!.find((other) => other !== last);
    }
    return out;
  }

  private tryWithout(
    joint: Joint,
    gone: readonly number[],
    cost: number,
  ): Pick<Joint, 'price' | 'result'> | null {
    const { cuts, sums, options } = this;
    const [a, b] = [this.get(joint.a), this.get(joint.b)];
    const isOne = joint.a === joint.b;
    const faces = isOne ? [...a.flat.chart.faces] : [...a.flat.chart.faces, ...b.flat.chart.faces];
    if (this.tried + faces.length > this.most) return null;
    const key = setKey(gone);
    if (this.failed.has(key)) return null;
    this.tried += faces.length;
    for (const e of gone) cuts[e] = 0;
    // Until it is known to go.
    this.failed.add(key);
    try {
      const [chart, ...rest] = cutIntoCharts(sums.mesh, sums.topology, cuts, faces);
      if (rest.length > 0) return null;
      const flat: FlatChart = { chart: chart!, flat: flattenChart(chart!, TRY) };
      if (flat.flat.overlaps) return null;
      const area = isOne ? a.area : a.area + b.area;
      const { strain, worst } = strainOf(flat, area);
      if (worst > MOST_STRETCH || strain > (options.bound ** 2 - 1) * WORST_PIECE * area) return null;
      const fill = boxFill(flat);
      if (fill < LEAST_FILL && fill < Math.min(boxFill(a.flat), boxFill(b.flat))) return null;
      const before = isOne ? a.strain : a.strain + b.strain;
      this.failed.delete(key);
      return { result: { flat, gone, strain }, price: (strain - before) / (cost || 1e-30) };
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      return null;
    } finally {
      for (const e of gone) cuts[e] = 1;
    }
  }
}

/** A name for a set of edges. */
function setKey(edges: readonly number[]): string {
  let [sum, squares, least] = [0, 0, Infinity];
  for (const e of edges) {
    sum += e;
    squares = (squares + e * e) % 2 ** 40;
    least = Math.min(least, e);
  }
  return `${edges.length} ${sum} ${squares} ${least}`;
}

function strainOf({ chart, flat }: { chart: CutChart; flat: { uv: Float64Array } }, area: number) {
  const { stretchL2, stretchLinf } = measureDistortion(chart, flat.uv);
  return { strain: Math.max(0, stretchL2 ** 2 - 1) * area, worst: stretchLinf };
}
