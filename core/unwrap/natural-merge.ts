import { CoreError } from '../errors';
import { boxFill } from './box-fill';
import { cutIntoCharts } from './chart';
import { faceGeometry, type Topology } from '../mesh';
import { flattenChart, type FlatChart } from './flatten';
import { measureDistortion } from './measures';
import type { MirrorMap } from './mirror-map';
import { alongLine, runsThatHang, setKey } from './seam-runs';
import type { SurfaceSums } from './surface-sums';

export interface NaturalOptions {
  /** L² stretch that the whole may have; a piece may have more, but not without end. */
  readonly bound: number;
  /** Strain that is worth a unit of seam cost. */
  readonly worth: number;
  /** Part of the whole model that this is: as much of the work may be spent on it. */
  readonly share: number;
  /** What a seam along each edge costs. */
  readonly costs: Float64Array;
  /** 1 for each edge that must be a seam. */
  readonly fixed: Uint8Array;
  /** Both sides are cut alike. */
  readonly mirror?: MirrorMap | null;
  /** Seams between pieces go as a whole or not at all. */
  readonly wholeOnly?: boolean;
  readonly onProgress?: (done: number) => void;
}

/** One seam that went, or one on either side. */
export interface MergeStep {
  readonly gone: readonly number[];
  /** What each of the new pieces consists of: triangles of the mesh. */
  readonly made: readonly (readonly number[])[];
  /** Strain for each unit of seam cost that went. */
  readonly price: number;
  /** Strain that came of it: squared L² stretch above 1, times area. */
  readonly strain: number;
  /** How many pieces there are fewer. */
  readonly fewer: number;
}

/** A seam is worth so much strain for each unit of its cost, in parts of the square root of the whole area. */
const SEAM_WORTH = 0.12;

/** Of a whole surface: strain that is worth a unit of seam cost. @param area of it */
export const worthOf = (area: number): number => SEAM_WORTH * Math.sqrt(area);

/** A slit within a piece is worth less than a seam between two: so much of it. */
const SLIT_WORTH = 0.3;

/** No triangle is stretched more than this, L∞. */
export const MOST_STRETCH = 3;

/** A piece may be stretched so many times as far above 1 as the whole. */
export const WORST_PIECE = 4;

/** What may be paid for a unit of the cost of a seam between pieces, or within one. */
const mostPrice = (pieces: readonly number[], worth: number): number =>
  pieces.length > 1 ? worth : worth * SLIT_WORTH;

/** Joining without strain still costs so much, in squares of the worth: of seams that go for nothing the dearest go first. */
const NOTHING = 1e-5;

/** A price of less than this part of the worth is nothing. */
const FREE = 1e-4;

/** Of so few triangles all seams are tried before the first one goes. */
const FEW = 400;

/** A piece that fills its smallest box less than this packs badly; less than its parts did, it isn't joined to that. */
const LEAST_FILL = 0.3;

/** Round a place where so much angle is missing nothing lies flat, radians. */
const CORNER = 0.5;

/** Triangles flattened for tries, for each of a shell's at the least, and for a whole model. */
const [TRIES_A_TRIANGLE, TRIES] = [10, 2_500_000];

/** Drawing lips apart takes so many times as long as flattening, and relaxing to the end so many times. */
const [PARTING, FINISHING] = [3, 2];

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

/** Runs of a seam that lie alike on both sides of where it crosses the plane. */
function partsAtMiddle(
  { edges: { ends } }: Topology,
  edges: readonly number[],
  { ofVertex, ofEdge }: MirrorMap,
): (readonly number[])[] {
  const own = new Set(edges);
  if (edges.length < DIVISIBLE || !edges.every((e) => own.has(ofEdge[e]!))) return [];
  const at = new Map<number, number[]>();
  for (const e of edges)
    for (const v of [ends[e * 2]!, ends[e * 2 + 1]!]) at.set(v, [...(at.get(v) ?? []), e]);
  return [...at].flatMap(([middle, [first]]) => {
    if (ofVertex[middle] !== middle || ofEdge[first!] === first) return [];
    const both: number[] = [];
    let [v, e]: [number, number | undefined] = [middle, first];
    while (e !== undefined && !both.includes(e)) {
      const last: number = e;
      both.push(last, ofEdge[last]!);
      v = ends[last * 2] === v ? ends[last * 2 + 1]! : ends[last * 2]!;
      e = at.get(v)!.find((other) => other !== last);
    }
    return [0.66, 0.33].map((part) => both.slice(0, 2 * Math.round((part * edges.length) / 2)));
  });
}

/** A piece that is there, and what it weighs. */
interface Piece {
  readonly flat: FlatChart;
  readonly area: number;
  /** Squared L² stretch above 1, times area. */
  readonly strain: number;
}

/** Seams that hang together, between two pieces or within one, with those that mirror them if these lie in the same joint. */
interface Chain {
  readonly edges: readonly number[];
  /** Without those that mirror them. */
  readonly own: readonly number[];
  readonly cost: number;
}

/** Pieces that may become one, by taking some of the seams between them away; or one and a seam within it. */
interface Joint {
  readonly pieces: readonly number[];
  /** Those on the other side, which are joined along with them in the same way. */
  readonly twins: readonly number[] | null;
  readonly chains: readonly Chain[];
  /** It is its own mirror image. */
  readonly isAcross: boolean;
  /** Strain for each unit of seam cost that goes; a guess until `result` is there. */
  price: number;
  result: Result | null;
}

interface Result {
  readonly flat: FlatChart;
  readonly gone: readonly number[];
  readonly strain: number;
}

/** What is joined across the plane comes before what costs as much: pieces grow round the middle, not to two halves. */
const ACROSS = 0.5;

const rankOf = ({ price, isAcross }: Joint): number => price * (isAcross ? ACROSS : 1);

type Found = Pick<Joint, 'price'> & { readonly result: Result };

/** Of a seam as much as may be paid for goes; of as much, what is had for less. */
function isBetterPart(one: Found, best: Found, most: number): boolean {
  if (one.price > most !== best.price > most) return one.price <= most;
  const [own, other] = [one.result.gone.length, best.result.gone.length];
  return own > 1.2 * other || (own > 0.8 * other && one.price < best.price);
}

/**
 * Takes seams away as long as they are worth it: always those that cost most for the least stretch, so that what is left lies
 * where a seam isn't seen and where the form asks for one (bounded distortion, least seam: M. Li and others, "OptCuts", 2018). Of several seams
 * between two pieces the one that costs least may stay: a tube is opened along the side that nobody sees. What is alike on both sides is joined on
 * both.
 *
 * @param cuts all cuts; those that disappear are taken out
 * @returns what went, in its order
 */
export function mergeNaturally(
  sums: SurfaceSums,
  charts: readonly FlatChart[],
  cuts: Uint8Array,
  options: NaturalOptions,
): MergeStep[] {
  const pieces = new NaturalPieces(sums, cuts, options);
  const ids = charts.map((chart) => pieces.take(chart));
  const { worth } = options;
  const steps: MergeStep[] = [];
  let joints = pieces.jointsOf(ids);
  while (joints.length > 0) {
    joints.sort(
      (p, q) => rankOf(p) - rankOf(q) || p.pieces[0]! - q.pieces[0]! || p.pieces[1]! - q.pieces[1]!,
    );
    const best = joints.shift()!;
    if (!best.result) {
      pieces.evaluate(best);
      options.onProgress?.(pieces.triedPart);
      if (best.result) joints.push(best);
      continue;
    }
    const more = (best.result.strain - pieces.strainOf(best.pieces)) * (best.twins ? 2 : 1);
    if (best.price > mostPrice(best.pieces, worth)) continue;
    const before = pieces.count;
    const joined = pieces.join(best, best.result);
    steps.push({
      gone: joined.gone,
      made: joined.ids.map((id) => [...pieces.get(id).flat.chart.faces]),
      price: best.price,
      strain: more,
      fewer: before - pieces.count,
    });
    joints = joints.filter((p) => [...p.pieces, ...(p.twins ?? [])].every(pieces.has));
    joints.push(...pieces.jointsOf(joined.ids));
  }
  return steps;
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
    this.most = Math.max(TRIES * options.share, TRIES_A_TRIANGLE * sums.areas.length);
  }

  get triedPart(): number {
    return Math.min(1, this.tried / this.most);
  }
  get count(): number {
    return this.live.size;
  }
  get = (id: number): Piece => this.live.get(id)!;
  has = (id: number): boolean => this.live.has(id);
  strainOf = (ids: readonly number[]): number => ids.reduce((sum, id) => sum + this.get(id).strain, 0);

  /** @returns the number that the piece gets */
  take(flat: FlatChart, known?: number): number {
    const id = this.next++;
    let area = 0;
    for (const f of flat.chart.faces) {
      this.pieceOf[f] = id;
      area += this.sums.areas[f]!;
    }
    const strain = known ?? stretchOf(flat, area).strain;
    this.live.set(id, { flat, area, strain });
    return id;
  }

  join({ pieces, twins }: Joint, { flat, gone, strain }: Result): { ids: number[]; gone: number[] } {
    const { mirror } = this.options;
    const all = twins ? [...gone, ...gone.map((e) => mirror!.ofEdge[e]!)] : [...gone];
    for (const e of all) this.cuts[e] = 0;
    for (const id of [...pieces, ...(twins ?? [])]) this.live.delete(id);
    const ids = [this.take(flat, strain)];
    if (twins) ids.push(this.take(this.mirrored(flat), strain));
    return { ids, gone: all };
  }

  /** The same piece on the other side, flattened in the same way. */
  private mirrored({ chart, flat }: FlatChart): FlatChart {
    const { ofFace, ofCorner } = this.options.mirror!;
    const vertexAt = new Map<number, number>();
    chart.faces.forEach((f, i) => {
      for (let k = 0; k < 3; k++) vertexAt.set(ofCorner[f * 3 + k]!, chart.indices[i * 3 + k]!);
    });
    const [twin] = cutIntoCharts(
      this.sums.mesh,
      this.sums.topology,
      this.cuts,
      Array.from(chart.faces, (f) => ofFace[f]!),
    );
    const uv = new Float64Array((twin!.positions.length / 3) * 2);
    twin!.faces.forEach((f, i) => {
      for (let k = 0; k < 3; k++) {
        const v = twin!.indices[i * 3 + k]! * 2;
        const w = vertexAt.get(f * 3 + k)! * 2;
        uv[v] = -flat.uv[w]!;
        uv[v + 1] = flat.uv[w + 1]!;
      }
    });
    return { chart: twin!, flat: { ...flat, uv } };
  }

  /** The piece on the other side; -1 if there is none that is wholly alike. */
  private twinOf(id: number): number {
    const { mirror } = this.options;
    if (!mirror) return -1;
    const { faces } = this.get(id).flat.chart;
    const first = mirror.ofFace[faces[0]!]!;
    const twin = first < 0 ? -1 : this.pieceOf[first]!;
    if (twin < 0 || this.get(twin).flat.chart.faces.length !== faces.length) return -1;
    const isAlike = faces.every((f) => {
      const g = mirror.ofFace[f]!;
      return g >= 0 && this.pieceOf[g] === twin;
    });
    return isAlike ? twin : -1;
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
    const known = new Set<string>();
    return [...found.values()].flatMap(({ a, b, edges }): Joint[] => {
      const chains = runsThatHang(topology, [...edges], (v) => Math.abs(this.sums.missing[v]!) <= CORNER);
      // A seam within a piece goes by itself; between two, all of them go, or all but one.
      const sets = a === b ? chains.map((chain) => [chain]) : [chains];
      return sets.flatMap((some) => this.jointOf(a, b, some, known));
    });
  }

  /** @param known joints that are there already, for both sides find the same one */
  private jointOf(a: number, b: number, runs: readonly (readonly number[])[], known: Set<string>): Joint[] {
    const [ta, tb] = [this.twinOf(a), this.twinOf(b)];
    const ofEdge = this.options.mirror?.ofEdge;
    const isMirrored =
      ta >= 0 &&
      tb >= 0 &&
      runs.every((run) => run.every((e) => ofEdge![e]! >= 0 && this.cuts[ofEdge![e]!] === 1));
    const apart = isMirrored && ![ta, tb].some((id) => id === a || id === b);
    const own = [...new Set(isMirrored && !apart ? [a, b, ta, tb] : [a, b])].sort((x, y) => x - y);
    const twins = apart ? [...new Set([ta, tb])].sort((x, y) => x - y) : null;
    const chains = isMirrored && !apart ? this.withMirrored(runs) : runs.map((run) => this.chain(run, run));
    const key = isMirrored
      ? [setKey(runs.flat()), setKey(runs.flat().map((e) => ofEdge![e]!))].sort().join('|')
      : '';
    if (isMirrored && known.has(key)) return [];
    known.add(key);
    const joint = { pieces: own, twins, chains, isAcross: isMirrored && !apart };
    return [{ ...joint, price: this.guess(joint), result: null }];
  }

  private chain(edges: readonly number[], own: readonly number[]): Chain {
    return { edges, own, cost: edges.reduce((sum, e) => sum + this.options.costs[e]!, 0) };
  }

  /** Runs together with those that mirror them. */
  private withMirrored(runs: readonly (readonly number[])[]): Chain[] {
    const ofEdge = this.options.mirror!.ofEdge;
    const seen = new Set<number>();
    return runs.flatMap((run) => {
      if (seen.has(run[0]!)) return [];
      const all = new Set([...run, ...run.map((e) => ofEdge[e]!)]);
      for (const e of all) seen.add(e);
      return [this.chain([...all], run)];
    });
  }

  /** For the order of the tries: small pieces with a costly seam first; of few triangles all are tried before one goes. */
  private guess({ pieces, chains }: Pick<Joint, 'pieces' | 'chains'>): number {
    const cost = chains.reduce((sum, c) => sum + c.cost, 0) || 1e-30;
    if (this.sums.areas.length <= FEW) return 0;
    return (1e-3 * Math.min(...pieces.map((id) => this.get(id).area))) / cost;
  }

  /** Flattens what a joint makes: leaves the result and its price, or nothing if it is no good. */
  evaluate(joint: Joint): void {
    const chains = joint.chains.toSorted((a, b) => b.cost - a.cost);
    const counts = new Set([chains.length, chains.length - 1, 1].filter((n) => n > 0));
    let best = this.options.wholeOnly ? this.closed(joint) : null;
    if (best && best.price < FREE * this.options.worth) counts.clear();
    for (const count of counts) {
      const found = this.tryWithout(
        joint.pieces,
        chains.slice(0, count).flatMap((c) => c.edges),
      );
      if (found && (!best || found.price < best.price - 1e-9)) best = found;
      // What lies flat with all of them gone needs no other try.
      if (found && found.price < FREE * this.options.worth) break;
    }
    const isDivisible = !this.options.wholeOnly || joint.pieces.length === 1;
    if (!best && isDivisible) best = this.partly(joint, chains[0]!);
    if (best) Object.assign(joint, best);
  }

  /** All seams between pieces gone, and those within them too. */
  private closed({ pieces, chains }: Joint): Found | null {
    const { topology } = this.sums;
    const within = new Set<number>();
    for (const id of pieces)
      for (const f of this.get(id).flat.chart.faces)
        for (let c = f * 3; c < f * 3 + 3; c++) {
          const e = topology.edges.ofCorner[c]!;
          const o = topology.across[c]!;
          if (o >= 0 && this.cuts[e] && !this.options.fixed[e] && this.pieceOf[Math.floor(o / 3)] === id)
            within.add(e);
        }
    const all = chains.flatMap((c) => c.edges);
    return within.size > 0 && pieces.length > 1 ? this.tryWithout(pieces, [...all, ...within]) : null;
  }

  /** Where all of a seam won't go, some of it may: it ends within the piece. */
  private partly({ pieces }: Joint, { edges, own }: Chain): Found | null {
    const ofEdge = this.options.mirror?.ofEdge;
    let best: Found | null = null;
    const line = alongLine(this.sums.topology, own);
    const middles = this.options.mirror ? partsAtMiddle(this.sums.topology, line, this.options.mirror) : [];
    for (const part of [...middles, ...partsOf(line)]) {
      const both = edges.length > own.length || edges.some((e) => own.includes(ofEdge?.[e] ?? -1));
      const gone = both && ofEdge ? [...new Set([...part, ...part.map((e) => ofEdge[e]!)])] : part;
      const found = gone.includes(-1) ? null : this.tryWithout(pieces, gone);
      if (!found) continue;
      if (!best || isBetterPart(found, best, mostPrice(pieces, this.options.worth))) best = found;
    }
    return best;
  }

  private tryWithout(ids: readonly number[], gone: readonly number[]): Found | null {
    const { cuts, sums, options } = this;
    const pieces = ids.map(this.get);
    const faces = pieces.flatMap((p) => [...p.flat.chart.faces]);
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
      // What nearly touches may lie over itself when it is relaxed to the end.
      const flat: FlatChart = { chart: chart!, flat: flattenChart(chart!, { tries: true, parts: 5 }) };
      this.tried += (flat.flat.overlaps ? PARTING : FINISHING) * faces.length;
      if (flat.flat.overlaps) return null;
      const area = pieces.reduce((sum, p) => sum + p.area, 0);
      const { strain, worst } = stretchOf(flat, area);
      if (worst > MOST_STRETCH || strain > (options.bound ** 2 - 1) * WORST_PIECE * area) return null;
      const fill = boxFill(flat);
      if (fill < LEAST_FILL && fill < Math.min(...pieces.map((p) => boxFill(p.flat)))) return null;
      this.failed.delete(key);
      const cost = gone.reduce((sum, e) => sum + options.costs[e]!, 0) || 1e-30;
      const more = Math.max(0, strain - this.strainOf(ids));
      return { result: { flat, gone, strain }, price: (more + NOTHING * options.worth ** 2) / cost };
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      return null;
    } finally {
      for (const e of gone) cuts[e] = 1;
    }
  }
}

/** Squared L² stretch above 1, times area. */
export function strainOf(flat: FlatChart): number {
  const area = faceGeometry(flat.chart).areas.reduce((sum, a) => sum + a, 0);
  return stretchOf(flat, area).strain;
}

function stretchOf({ chart, flat }: FlatChart, area: number): { strain: number; worst: number } {
  const { stretchL2, stretchLinf } = measureDistortion(chart, flat.uv);
  return { strain: Math.max(0, stretchL2 ** 2 - 1) * area, worst: stretchLinf };
}
