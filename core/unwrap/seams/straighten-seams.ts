import { CoreError } from '../../errors';
import { cutIntoCharts } from '../segment/chart';
import { cheapestPath, edgeFans, type EdgeFans } from './edge-path';
import { flattenChart, type FlatChart } from '../flatten/flatten';
import { measureDistortion } from '../flatten/measures';
import { MOST_STRETCH, type NaturalOptions } from '../natural/natural-pieces';
import type { SurfaceSums } from '../segment/surface-sums';

/** Passes over all seams; the second meets what the first has moved. */
const PASSES = 2;

/** A way that is cheaper by less than this isn't worth another layout. */
const GAIN = 0.03;

/** A seam from one place where seams meet, or end, to the next. */
interface Run {
  readonly edges: readonly number[];
  readonly ends: readonly [number, number];
}

/** A seam, or two that mirror one another, led another way. Edges. */
export interface SeamMove {
  readonly from: readonly number[];
  readonly to: readonly number[];
}

/** Cuts after some moves; those whose seam isn't there are left out. */
export function replayed(cuts: Uint8Array, moves: readonly SeamMove[]): Uint8Array {
  const out = cuts.slice();
  for (const { from, to } of moves) {
    if (!from.every((e) => out[e])) continue;
    for (const e of from) out[e] = 0;
    for (const e of to) out[e] = 1;
  }
  return out;
}

/**
 * Leads seams along the cheapest way between the places where they meet: shorter, out of sight, along creases, without the stairs that the
 * division left. A seam is moved only within the pieces that it divides, and only if these still lie flat within the bound. Seams that mirror
 * one another are moved alike.
 *
 * @param cuts all cuts; changed along with the seams
 */
export function straightenSeams(
  sums: SurfaceSums,
  charts: readonly FlatChart[],
  cuts: Uint8Array,
  options: Omit<NaturalOptions, 'onProgress' | 'share'>,
): SeamMove[] {
  const { topology } = sums;
  const fans = edgeFans(topology);
  const ofEdge = options.mirror?.ofEdge;
  const live = new Map(charts.map((chart, i) => [i, chart] as const));
  const pieceOf = new Int32Array(sums.areas.length).fill(-1);
  let next = charts.length;
  const place = (id: number, chart: FlatChart): void => {
    live.set(id, chart);
    for (const f of chart.chart.faces) pieceOf[f] = id;
  };
  charts.forEach((chart, i) => place(i, chart));
  const besides = (edges: readonly number[]): number[] => [
    ...new Set(edges.flatMap((e) => sidesOf(sums, pieceOf, e))),
  ];
  const { worth } = options;
  const costOf = (edges: readonly number[]): number => edges.reduce((sum, e) => sum + options.costs[e]!, 0);
  const moves: SeamMove[] = [];
  for (let pass = 0; pass < PASSES; pass++) {
    let moved = 0;
    for (const run of runsOf(sums, cuts, options.fixed, fans)) {
      const near = besides(run.edges);
      if (near.length === 0 || near.length > 2 || run.edges.some((e) => !cuts[e])) continue;
      const image = ofEdge ? run.edges.map((e) => ofEdge[e]!) : null;
      const hasTwin = image?.every((e) => e >= 0 && cuts[e] === 1) ?? false;
      // What is its own mirror image stays where it is.
      if (hasTwin && image!.some((e) => run.edges.includes(e))) continue;
      const fresh = movedRun(sums, run, cuts, near, pieceOf, fans, options);
      if (!fresh) continue;
      const twin = hasTwin ? fresh.map((e) => ofEdge![e]!) : [];
      if (twin.includes(-1) || twin.some((e) => fresh.includes(e))) continue;
      const from = hasTwin ? [...run.edges, ...image!] : run.edges;
      const to = [...fresh, ...twin];
      const sides = hasTwin ? besides(from) : near;
      const faces = sides.flatMap((id) => [...live.get(id)!.chart.faces]);
      for (const e of from) cuts[e] = 0;
      for (const e of to) cuts[e] = 1;
      const pieces = laidOut(
        sums,
        faces,
        cuts,
        sides.length,
        options.bound,
        sides.map((id) => live.get(id)!),
        worth * (costOf(from) - costOf(to)),
      );
      if (!pieces) {
        for (const e of to) cuts[e] = 0;
        for (const e of from) cuts[e] = 1;
        continue;
      }
      for (const id of sides) live.delete(id);
      for (const piece of pieces) place(next++, piece);
      moves.push({ from, to });
      moved++;
    }
    if (moved === 0) break;
  }
  return moves;
}

const sidesOf = ({ topology }: SurfaceSums, pieceOf: Int32Array, edge: number): number[] => {
  const out: number[] = [];
  for (const c of cornersOf(topology.edges.ofCorner).get(edge) ?? []) {
    const id = pieceOf[Math.floor(c / 3)]!;
    if (id >= 0 && !out.includes(id)) out.push(id);
  }
  return out;
};

/** Corners along each edge, told once a mesh. */
const known = new WeakMap<Uint32Array, Map<number, number[]>>();
function cornersOf(ofCorner: Uint32Array): Map<number, number[]> {
  let map = known.get(ofCorner);
  if (!map) {
    map = new Map();
    for (let c = 0; c < ofCorner.length; c++) {
      const list = map.get(ofCorner[c]!);
      if (list) list.push(c);
      else map.set(ofCorner[c]!, [c]);
    }
    known.set(ofCorner, map);
  }
  return map;
}

/** All seams that may be moved, each from one meeting to the next. */
function runsOf({ topology }: SurfaceSums, cuts: Uint8Array, fixed: Uint8Array, fans: EdgeFans): Run[] {
  const { ends, uses } = topology.edges;
  const isOpen = (e: number): boolean => uses[e] !== 2 || topology.twisted[e] === 1;
  const isCut = (e: number): boolean => cuts[e] === 1 || isOpen(e);
  const around = (v: number): number[] => {
    const out: number[] = [];
    for (let i = fans.start[v]!; i < fans.start[v + 1]!; i++)
      if (isCut(fans.edge[i]!)) out.push(fans.edge[i]!);
    return out;
  };
  const seen = new Uint8Array(uses.length);
  const out: Run[] = [];
  for (let first = 0; first < uses.length; first++) {
    if (seen[first] || !cuts[first] || fixed[first] || isOpen(first)) continue;
    seen[first] = 1;
    const edges = [first];
    const tips: [number, number] = [ends[first * 2]!, ends[first * 2 + 1]!];
    let isRound = false;
    for (const side of [0, 1] as const) {
      let e = first;
      for (;;) {
        const v = tips[side]!;
        const here = around(v);
        if (here.length !== 2) break;
        const on: number = here[0] === e ? here[1]! : here[0]!;
        if (fixed[on] || isOpen(on)) break;
        if (seen[on]) {
          isRound = on === first || tips[0] === tips[1];
          break;
        }
        seen[on] = 1;
        if (side === 0) edges.unshift(on);
        else edges.push(on);
        tips[side] = ends[on * 2] === v ? ends[on * 2 + 1]! : ends[on * 2]!;
        e = on;
      }
    }
    if (!isRound && tips[0] !== tips[1]) out.push({ edges, ends: tips });
  }
  return out;
}

/** The cheapest way between the ends of a seam within its pieces; null if it is hardly cheaper. */
function movedRun(
  { topology }: SurfaceSums,
  { edges, ends: [a, b] }: Run,
  cuts: Uint8Array,
  sides: readonly number[],
  pieceOf: Int32Array,
  fans: EdgeFans,
  { costs }: Pick<NaturalOptions, 'costs'>,
): number[] | null {
  const own = new Set(edges);
  const { ends, uses } = topology.edges;
  const corners = cornersOf(topology.edges.ofCorner);
  const isWithin = (e: number): boolean =>
    uses[e] === 2 && corners.get(e)!.every((c) => sides.includes(pieceOf[Math.floor(c / 3)]!));
  const isLoose = (v: number): boolean => {
    for (let i = fans.start[v]!; i < fans.start[v + 1]!; i++) {
      const e = fans.edge[i]!;
      if (cuts[e] && !own.has(e)) return false;
    }
    return true;
  };
  const isOpen = (v: number): boolean => {
    for (let i = fans.start[v]!; i < fans.start[v + 1]!; i++) if (uses[fans.edge[i]!] !== 2) return true;
    return false;
  };
  // An end on the model's own border may slide along that.
  const along = (tip: number): Set<number> => {
    const out = new Set([tip]);
    if (!isOpen(tip) || !isLoose(tip)) return out;
    for (const v of out) {
      for (let i = fans.start[v]!; i < fans.start[v + 1]!; i++) {
        const e = fans.edge[i]!;
        if (uses[e] !== 1 || !sides.includes(pieceOf[Math.floor(corners.get(e)![0]! / 3)]!)) continue;
        const w = ends[e * 2] === v ? ends[e * 2 + 1]! : ends[e * 2]!;
        if (isLoose(w)) out.add(w);
      }
    }
    return out;
  };
  const [begins, aims] = [along(a), along(b)];
  // Other seams are not met on the way, and the border only at the ends.
  const isFree = (v: number): boolean => begins.has(v) || aims.has(v) || (isLoose(v) && !isOpen(v));
  const cost = (e: number): number =>
    isWithin(e) && (!cuts[e] || own.has(e)) && isFree(ends[e * 2]!) && isFree(ends[e * 2 + 1]!)
      ? costs[e]!
      : Infinity;
  const path = cheapestPath(topology, cost, begins, aims, fans);
  if (path.length === 0) return null;
  const sum = (list: readonly number[]): number => list.reduce((s, e) => s + costs[e]!, 0);
  return sum(path) < sum(edges) * (1 - GAIN) ? path : null;
}

/** Pieces cut and flattened anew; null unless there are as many as before, and all lie well. @param most strain that may come of it */
function laidOut(
  sums: SurfaceSums,
  faces: readonly number[],
  cuts: Uint8Array,
  count: number,
  bound: number,
  before: readonly FlatChart[],
  most: number,
): FlatChart[] | null {
  const charts = cutIntoCharts(sums.mesh, sums.topology, cuts, faces);
  if (charts.length !== count) return null;
  try {
    const out = charts.map((chart): FlatChart => ({ chart, flat: flattenChart(chart, { parts: 5 }) }));
    const was = before.map(({ chart, flat }) => measureDistortion(chart, flat.uv));
    const now = out.map(({ chart, flat }) => measureDistortion(chart, flat.uv));
    const worst = Math.max(bound, ...was.map((m) => m.stretchL2)) * 1.005;
    const strain = (list: readonly FlatChart[], measured: readonly { stretchL2: number }[]): number =>
      list.reduce((sum, { chart }, i) => {
        const area = chart.faces.reduce((a, f) => a + sums.areas[f]!, 0);
        return sum + area * (measured[i]!.stretchL2 ** 2 - 1);
      }, 0);
    if (strain(out, now) - strain(before, was) > most) return null;
    const isGood = out.every(
      ({ flat }, i) =>
        !flat.overlaps &&
        now[i]!.stretchL2 <= worst &&
        now[i]!.stretchLinf <= Math.max(MOST_STRETCH, ...was.map((m) => m.stretchLinf)),
    );
    return isGood ? out : null;
  } catch (error) {
    if (error instanceof CoreError) return null;
    throw error;
  }
}
