import { CoreError } from '../../errors';
import { boxFill } from '../flatten/box-fill';
import { cutIntoCharts } from '../segment/chart';
import { flattenChart, type FlatChart } from '../flatten/flatten';
import type { MirrorMap } from './mirror-map';
import { alongLine, runsThatHang, setKey } from '../seams/seam-runs';
import type { SurfaceSums } from '../segment/surface-sums';

import { partsOf, partsAtMiddle, stretchOf } from './seam-parts';
import { type Piece, type Chain, type Joint, type Result, type Found, isBetterPart } from './joints';

/** What may be paid for a unit of the cost of a seam between pieces, or within one. */
export const mostPrice = (pieces: readonly number[], worth: number): number =>
  pieces.length > 1 ? worth : worth * SLIT_WORTH;

/** A price of less than this part of the worth is nothing. */
export const FREE = 1e-4;

/** Of so few triangles all seams are tried before the first one goes. */
export const FEW = 400;

/** Triangles flattened for tries, for each of a shell's at the least, and for a whole model. */
export const [TRIES_A_TRIANGLE, TRIES] = [10, 2_500_000];

/** Drawing lips apart takes so many times as long as flattening, and relaxing to the end so many times. */
export const [PARTING, FINISHING] = [3, 2];

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

/** A seam is worth so much strain for each unit of its cost, in parts of the square root of the whole area. */
const SEAM_WORTH = 0.12;

/** Of a whole surface: strain that is worth a unit of seam cost. @param area of it */
export const worthOf = (area: number): number => SEAM_WORTH * Math.sqrt(area);

/** A slit within a piece is worth less than a seam between two: so much of it. */
export const SLIT_WORTH = 0.3;

/** No triangle is stretched more than this, L∞. */
export const MOST_STRETCH = 3;

/** A piece may be stretched so many times as far above 1 as the whole. */
export const WORST_PIECE = 4;

/** Joining without strain still costs so much, in squares of the worth: of seams that go for nothing the dearest go first. */
const NOTHING = 1e-5;

/** A piece that fills its smallest box less than this packs badly; less than its parts did, it isn't joined to that. */
const LEAST_FILL = 0.3;

/** Round a place where so much angle is missing nothing lies flat, radians. */
const CORNER = 0.5;

export class NaturalPieces {
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
