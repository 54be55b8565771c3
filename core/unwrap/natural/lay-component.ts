import type { Vec3 } from '../../math';
import { faceGeometry, topologyOf, type Mesh, type SymmetryPlane, type Topology } from '../../mesh';
import { autoCharts } from '../segment/auto-charts';
import { cutIntoCharts, type CutChart } from '../segment/chart';
import { type FlatChart } from '../flatten/flatten';
import { cutsAlongLines } from '../seams/follow-line';
import { cutLifter } from './lift-cuts';
import { mirrorOver } from './mirror-map';
import { type NaturalOptions } from './natural-pieces';
import { OtherSide } from './other-side';
import { coarseWorth, linesOf } from './plan-component';
import { cutsOf } from '../seams/seam-runs';
import { seamWorth } from '../seams/seam-worth';
import { cutsAfter, type MeshComponent, type ComponentPlan } from './component';
import { replayed, straightenSeams, type SeamMove } from '../seams/straighten-seams';
import { surfaceSums } from '../segment/surface-sums';
import { Flattener, tryFlat } from './flat-charts';

/** How often seams are taken back before what still won't lie flat is divided as it comes. */
const ROUNDS = 8;

/** Seams that came back are tried once more until so many times the whole mesh was flattened. */
const AGAIN = 6;

/** Squared L² stretch less one of pieces that are divided because they wouldn't lie flat. */
const DIVIDED = 0.0022;

/** One shell that is to be laid out, after some of the steps of its plan. */
export interface LayTask {
  readonly component: MeshComponent;
  readonly plan: ComponentPlan;
  readonly steps: number;
  /** Over which both of its sides are cut alike. */
  readonly plane: SymmetryPlane | null;
  /** Seams of the shell that it mirrors, as lines of places: it has the same, if it lies flat so. */
  readonly lines: readonly (readonly Vec3[])[] | null;
  /** L² stretch of the whole. */
  readonly bound: number;
  /** Strain that is worth a unit of seam cost. */
  readonly worth: number;
}

interface Laid {
  readonly good: FlatChart[];
  /** What wouldn't lie flat. */
  readonly bad: CutChart[];
  /** Strain of what is flat, and what its seams are worth. */
  readonly price: number;
}

/**
 * The pieces of one shell after some of its steps. Where the surface as it is won't lie flat though the thinned one did, seams that went
 * there come back.
 */
export function layComponent(
  { component, plan, steps, plane, lines, bound, worth }: LayTask,
  onProgress: (done: number) => void,
): FlatChart[] {
  const { mesh, topology, seams } = component;
  const { coarse } = plan;
  const own = topologyOf(coarse.mesh);
  const { costs } = seamWorth(mesh, topology, component.wishes, component.seen);
  const mirror = plane && mirrorOver(coarse.mesh, own, plane);
  const lift = cutLifter({
    mesh,
    fine: topology,
    coarse,
    coarseTopology: own,
    costs,
    fixed: seams,
    even: plane && mirror && { other: new OtherSide(mesh, topology, plane), ofCoarse: mirror.ofVertex },
  });
  const flattener = new Flattener(bound);
  const cutAlong = (fine: Uint8Array, asItIs = false): Laid => {
    const charts = withoutDust(mesh, topology, fine, seams, coarse.vertexOf);
    const [good, bad]: [FlatChart[], CutChart[]] = [[], []];
    let price = 0;
    for (const chart of charts) {
      if (asItIs) flattener.accept(chart);
      const one = flattener.flat(chart);
      if (one) good.push(one);
      else bad.push(chart);
      price += one?.strain ?? 0;
    }
    fine.forEach((x, e) => (price += x ? worth * costs[e]! : 0));
    return { good, bad, price };
  };
  if (lines) {
    const alike = cutAlong(cutsAlongLines(mesh, topology, seams, lines), true);
    if (alike.bad.length === 0) return alike.good;
  }
  /** Lays a cut of the coarse mesh out on the fine one. */
  const laidAlong = (cuts: Uint8Array, isExact: boolean): Laid => cutAlong(lift(cuts, isExact));
  const isThinned = coarse.mesh.indices.length < mesh.indices.length;
  // What lies flat by a little lies so only along the very seams that it was tried with.
  const laid = (cuts: Uint8Array): Laid => {
    if (plan.isTurned) return laidAlong(cuts, true);
    const smooth = laidAlong(cuts, false);
    if (isThinned && smooth.bad.length === 0) return smooth;
    const exact = laidAlong(cuts, true);
    const isBetter = exact.bad.length - smooth.bad.length || exact.price - smooth.price;
    return isBetter < 0 ? exact : smooth;
  };
  const places = new CoarsePlaces(plan, own, topology);
  const cuts = cutsAfter(plan, steps);
  let whole = laid(cuts);
  const undone = new Set<number>();
  for (let round = 0; whole.bad.length > 0 && round < ROUNDS; round++) {
    onProgress((0.4 * round) / ROUNDS);
    const back = new Set<number>();
    for (const chart of whole.bad) {
      const last = places.lastSteps(chart, cuts, steps, 2 ** round);
      for (const k of last) back.add(k);
      if (last.length === 0) flattener.accept(chart);
    }
    for (const k of back) {
      undone.add(k);
      for (const e of plan.steps[k]!.gone) cuts[e] = 1;
    }
    whole = laid(cuts);
    if (back.size === 0) break;
  }
  // Most seams that came back had nothing to do with what lay over itself: they go once more.
  for (const k of [...undone].sort((a, b) => a - b)) {
    if (flattener.tried > AGAIN * mesh.indices.length) break;
    const fewer = cuts.slice();
    for (const e of plan.steps[k]!.gone) fewer[e] = 0;
    const next = laid(fewer);
    if (next.bad.length > whole.bad.length) continue;
    whole = next;
    cuts.set(fewer);
  }
  onProgress(0.4);
  const straight = plan.isTurned
    ? []
    : straightened(plan, own, cuts, {
        bound,
        worth,
        costs: coarseWorth(coarse, own, component).costs,
        fixed: linesOf(coarse, own),
        mirror,
      });
  for (let round = 0; round < ROUNDS && straight.length > 0; round++) {
    const next = laid(replayed(cuts, straight));
    onProgress(0.5 + (0.5 * round) / ROUNDS);
    if (next.bad.length <= whole.bad.length) {
      whole = next;
      break;
    }
    const stays = straight.filter((move) => !next.bad.some((chart) => places.touches(chart, move)));
    if (stays.length === straight.length) break;
    straight.splice(0, straight.length, ...stays);
  }
  return [
    ...whole.good,
    ...whole.bad.flatMap((chart) => {
      const inside = cutsOf(whole.good, topology, seams);
      return autoCharts(mesh, topology, { stretch: DIVIDED, seams: inside, faces: chart.faces });
    }),
  ];
}

/** Which places of the coarse mesh a piece of the fine one covers. */
class CoarsePlaces {
  private readonly plan: ComponentPlan;
  private readonly own: Topology;
  private readonly fine: Topology;

  constructor(plan: ComponentPlan, own: Topology, fine: Topology) {
    this.plan = plan;
    this.own = own;
    this.fine = fine;
  }

  /** Triangles of the coarse mesh all of whose corners belong to a piece. */
  private facesIn(chart: CutChart, corners: Uint32Array): number[] {
    const { mesh, vertexOf } = this.plan.coarse;
    const inside = new Set<number>();
    for (const f of chart.faces) for (let k = 0; k < 3; k++) inside.add(corners[f * 3 + k]!);
    const out: number[] = [];
    for (let f = 0; f < mesh.indices.length / 3; f++) {
      if ([0, 1, 2].every((k) => inside.has(vertexOf[mesh.indices[f * 3 + k]!]!))) out.push(f);
    }
    return out;
  }

  /** Welded vertices of the fine mesh's corners. */
  private corners(): Uint32Array {
    const { edges } = this.fine;
    return (this.known ??= cornersOf(edges.ofCorner, edges.ends));
  }
  private known: Uint32Array | null = null;

  /** The last of the steps taken that made the piece, or what it was made from. */
  lastSteps(chart: CutChart, cuts: Uint8Array, taken: number, count: number): number[] {
    const inside = new Set(this.facesIn(chart, this.corners()));
    const out: number[] = [];
    for (let k = taken - 1; k >= 0 && out.length < count; k--) {
      const { made, gone } = this.plan.steps[k]!;
      if (gone.every((e) => cuts[e])) continue;
      const isPart = made.some(
        (faces) => 2 * faces.reduce((n, f) => n + (inside.has(f) ? 1 : 0), 0) > faces.length,
      );
      if (isPart) out.push(k);
    }
    return out;
  }

  touches(chart: CutChart, { from, to }: SeamMove): boolean {
    const edges = new Set([...from, ...to]);
    return this.facesIn(chart, this.corners()).some((f) =>
      [0, 1, 2].some((k) => edges.has(this.own.edges.ofCorner[f * 3 + k]!)),
    );
  }
}

/** The welded vertex at each corner, from the edges that leave it. */
function cornersOf(ofCorner: Uint32Array, ends: Uint32Array): Uint32Array {
  return Uint32Array.from(ofCorner, (e, c) => {
    const before = ofCorner[c % 3 === 0 ? c + 2 : c - 1]!;
    const [a, b] = [ends[e * 2]!, ends[e * 2 + 1]!];
    return a === ends[before * 2] || a === ends[before * 2 + 1] ? a : b;
  });
}

/** How seams of the coarse mesh are straightened. */
function straightened(
  { coarse }: ComponentPlan,
  own: Topology,
  cuts: Uint8Array,
  options: Omit<NaturalOptions, 'onProgress' | 'share'>,
): SeamMove[] {
  const charts = cutIntoCharts(coarse.mesh, own, cuts).map((chart) => tryFlat(chart, Infinity));
  const flat = charts.filter((one) => one !== null);
  if (flat.length < charts.length) return [];
  return straightenSeams(surfaceSums(coarse.mesh, own), flat, cuts.slice(), options);
}

/** No piece has so few triangles and so small a part of the shell's area. */
const [FEW, SPECK] = [2, 0.004];

/** Pieces along cuts; what two ways leave between them goes to a neighbour. @param stops vertices of the coarse mesh */
function withoutDust(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  topology: Topology,
  cuts: Uint8Array,
  fixed: Uint8Array,
  stops: Uint32Array,
): CutChart[] {
  const isStop = new Uint8Array(topology.welded.length);
  for (const v of stops) isStop[v] = 1;
  const { ofCorner } = topology.edges;
  const charts = cutIntoCharts(mesh, topology, cuts);
  const { areas } = faceGeometry(mesh);
  const speck = SPECK * areas.reduce((sum, a) => sum + a, 0);
  const dust = charts.filter(({ faces: own }) => {
    // Between two ways on either side of the plane, where no edges run along it.
    if (own.length <= FEW && own.reduce((sum, f) => sum + areas[f]!, 0) < speck) return true;
    const found = new Set<number>();
    for (const f of own)
      for (let k = 0; k < 3; k++) {
        const v = topology.welded[mesh.indices[f * 3 + k]!]!;
        if (isStop[v]) found.add(v);
      }
    return found.size < 3;
  });
  if (dust.length === 0) return charts;
  for (const chart of dust) {
    const own = new Set(chart.faces);
    // The neighbour with which it shares most of its border.
    const borders = new Map<number, number[]>();
    for (const f of own)
      for (let c = f * 3; c < f * 3 + 3; c++) {
        const o = topology.across[c]!;
        const e = ofCorner[c]!;
        if (o < 0 || fixed[e] || !cuts[e] || own.has(Math.floor(o / 3))) continue;
        const n = charts.findIndex((other) => other.faces.includes(Math.floor(o / 3)));
        borders.set(n, [...(borders.get(n) ?? []), e]);
      }
    const most = [...borders.values()].sort((a, b) => b.length - a.length)[0];
    for (const e of most ?? []) cuts[e] = 0;
  }
  return cutIntoCharts(mesh, topology, cuts);
}
