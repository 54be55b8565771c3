import { edgeLengths, type Mesh, type Topology } from '../mesh';
import type { CoarseMesh } from './coarse';
import { cheapestPath, edgeFans } from './edge-path';

/** A way keeps so near to the seam that it follows, in parts of the coarse mesh's edges there. */
const CORRIDOR = 0.7;

/** Length counts beside cost, so that a way doesn't wander through cheap places. */
const LENGTH = 0.3;

/** What has no counterpart on the other side costs so many times as much: diagonals of quads that are cut another way there. */
const ONE_SIDED = 3;

export interface Lift {
  readonly mesh: Pick<Mesh, 'positions'>;
  readonly fine: Topology;
  readonly coarse: CoarseMesh;
  readonly coarseTopology: Topology;
  /** Of the fine mesh's edges. */
  readonly costs: Float64Array;
  /** 1 for each of its edges that is a seam in any case. */
  readonly fixed: Uint8Array;
  /** The mirrored vertex of each of its vertices, where both sides are cut alike. */
  readonly ofVertex: Int32Array | null;
}

/** Carries cuts of a coarse mesh to the fine one: each seam goes the cheapest way along edges near it. Ways don't cross one another. */
export function cutLifter({ mesh, fine, coarse, coarseTopology, costs, fixed, ofVertex }: Lift) {
  const fans = edgeFans(fine);
  const { ends } = fine.edges;
  const image = mirrorEdges(fine, ofVertex);
  const weights = edgeLengths(fine, mesh.positions).map(
    (l, e) => (costs[e]! + LENGTH * l) * (ofVertex && image(e) < 0 ? ONE_SIDED : 1),
  );
  const p = mesh.positions;
  const apart = (a: number, b: number): number =>
    Math.hypot(p[a * 3]! - p[b * 3]!, p[a * 3 + 1]! - p[b * 3 + 1]!, p[a * 3 + 2]! - p[b * 3 + 2]!);

  const byEnds = edgesByEnds(fine);
  /** The edge between two vertices; -1 if there is none. */
  const edgeOf = (a: number, b: number): number => byEnds.get(edgeName(a, b)) ?? -1;

  /**
   * @param cuts 1 for each edge of the coarse mesh that is cut
   * @param isExact seams keep to the coarse mesh's edges where the fine one has the same
   * @returns the same for the fine one
   */
  return (cuts: Uint8Array, isExact = false): Uint8Array => {
    const out = fixed.slice();
    const taken = new Uint8Array(fine.welded.length);
    const take = (e: number): void => void (taken[ends[e * 2]!] = taken[ends[e * 2 + 1]!] = 1);
    fixed.forEach((x, e) => {
      if (x || fine.edges.uses[e] !== 2) take(e);
    });
    const runs = cutRuns(coarseTopology, cuts).map((run) => run.map((v) => coarse.vertexOf[v]!));
    for (const run of runs) taken[run[0]!] = taken[run.at(-1)!] = 1;
    const mark = (way: readonly number[]): void => {
      for (const e of way) {
        out[e] = 1;
        take(e);
      }
    };
    const way = (stops: readonly number[], mayTouch: boolean): number[] => {
      const [a, b] = [stops[0]!, stops.at(-1)!];
      // What runs in the middle stays there.
      const isMiddle = ofVertex !== null && stops.every((v) => ofVertex[v] === v);
      const reach = corridor(p, stops, CORRIDOR * (stops.length > 2 ? 1 : 1.5));
      return cheapestPath(
        fine,
        (e) => {
          for (const x of [ends[e * 2]!, ends[e * 2 + 1]!]) {
            if (x === a || x === b) continue;
            if ((!mayTouch && taken[x]) || !reach(x) || (isMiddle && ofVertex[x] !== x)) return Infinity;
          }
          return weights[e]!;
        },
        [a],
        new Set([b]),
        fans,
      );
    };
    const lead = (stops: readonly number[]): number[] => {
      const same = stops.slice(1).map((v, i) => edgeOf(stops[i]!, v));
      const isSame = isExact && !same.includes(-1);
      if (isSame) mark(same);
      if (isSame) return same;
      const free = isExact ? [] : way(stops, false);
      if (free.length > 0) {
        mark(free);
        return free;
      }
      // Too narrow for a way of its own: vertex by vertex.
      const found: number[] = [];
      for (let i = 0; i + 1 < stops.length; i++) {
        const short = [stops[i]!, stops[i + 1]!];
        const edge = isExact ? edgeOf(short[0]!, short[1]!) : -1;
        const tries = [
          () => (edge < 0 ? [] : [edge]),
          () => way(short, false),
          () => way(short, true),
          () => cheapestPath(fine, (e) => weights[e]!, [short[0]!], new Set([short[1]!]), fans),
        ];
        let step: number[] = [];
        for (const next of tries) if (step.length === 0) step = next();
        mark(step);
        found.push(...step);
      }
      return found;
    };
    const done = new Map<string, readonly number[]>();
    for (const run of runs) {
      const twin = ofVertex && run.map((v) => ofVertex[v]!);
      const known = twin && done.get(nameOf(twin))?.map(image);
      if (known && !known.includes(-1)) {
        mark(known);
        done.set(nameOf(run), known);
        continue;
      }
      const found: number[] = [];
      for (const part of partsOf(run, twin)) {
        const other = twin && done.get(nameOf(part.map((v) => ofVertex[v]!)))?.map(image);
        const isOwn = part.length > 1 && part.every((v) => ofVertex?.[v] === v);
        if (other && !isOwn && !other.includes(-1)) mark(other);
        const led = other && !isOwn && !other.includes(-1) ? other : lead(part);
        done.set(nameOf(part), led);
        found.push(...led);
      }
      done.set(nameOf(run), found);
    }
    return out;
  };

  /** Whether a vertex is near a line of vertices: told once each. */
  function corridor(q: Float32Array, stops: readonly number[], width: number): (v: number) => boolean {
    const known = new Map<number, boolean>();
    let sum = 0;
    for (let i = 0; i + 1 < stops.length; i++) sum += apart(stops[i]!, stops[i + 1]!);
    const reach = (width * sum) / (stops.length - 1);
    return (v) => {
      let near = known.get(v);
      if (near !== undefined) return near;
      near = false;
      for (let i = 0; i + 1 < stops.length && !near; i++)
        near = toSegment(q, v, stops[i]!, stops[i + 1]!) < reach;
      known.set(v, near);
      return near;
    };
  }
}

/** A run in parts that are led one after the other: a ring in halves; what is its own mirror image from its middle. */
function partsOf(run: readonly number[], twin: readonly number[] | null): (readonly number[])[] {
  const middle = Math.floor(run.length / 2);
  const isOwn = twin !== null && twin.toReversed().every((v, i) => v === run[i]);
  const halves = run[0] === run.at(-1) || (isOwn && run.length % 2 === 1 && run.length > 2);
  return halves && middle > 0 ? [run.slice(0, middle + 1), run.slice(middle)] : [run];
}

/** The mirrored edge of an edge; -1 where there is none. */
function mirrorEdges(fine: Topology, ofVertex: Int32Array | null): (e: number) => number {
  if (!ofVertex) return () => -1;
  const { ends } = fine.edges;
  const byEnds = edgesByEnds(fine);
  return (e) => byEnds.get(edgeName(ofVertex[ends[e * 2]!]!, ofVertex[ends[e * 2 + 1]!]!)) ?? -1;
}

const edgeName = (a: number, b: number): number => Math.min(a, b) * 2 ** 26 + Math.max(a, b);

const edgesByEnds = ({ edges: { ends, uses } }: Topology): Map<number, number> =>
  new Map(Array.from(uses, (_, e) => [edgeName(ends[e * 2]!, ends[e * 2 + 1]!), e]));

const nameOf = (run: readonly number[]): string => {
  const back = run.toReversed();
  const isForward = run[0]! < back[0]! || (run[0] === back[0] && run[1]! <= back[1]!);
  return (isForward ? run : back).join(' ');
};

function toSegment(p: Float32Array, v: number, a: number, b: number): number {
  const d = [0, 1, 2].map((k) => p[b * 3 + k]! - p[a * 3 + k]!);
  const q = [0, 1, 2].map((k) => p[v * 3 + k]! - p[a * 3 + k]!);
  const l = d[0]! ** 2 + d[1]! ** 2 + d[2]! ** 2 || 1;
  const t = Math.max(0, Math.min(1, (q[0]! * d[0]! + q[1]! * d[1]! + q[2]! * d[2]!) / l));
  return Math.hypot(q[0]! - t * d[0]!, q[1]! - t * d[1]!, q[2]! - t * d[2]!);
}

/** Cuts inside a mesh as lines of vertices, each from where seams meet, end or come to the border, to the next such place. */
export function cutRuns({ edges }: Topology, cuts: Uint8Array): number[][] {
  const { ends, uses } = edges;
  const at = new Map<number, number[]>();
  const isEnd = new Set<number>();
  const inside: number[] = [];
  uses.forEach((n, e) => {
    const [a, b] = [ends[e * 2]!, ends[e * 2 + 1]!];
    if (n !== 2) isEnd.add(a).add(b);
    else if (cuts[e]) {
      inside.push(e);
      for (const v of [a, b]) at.set(v, [...(at.get(v) ?? []), e]);
    }
  });
  for (const [v, list] of at) if (list.length !== 2) isEnd.add(v);
  const seen = new Set<number>();
  const out: number[][] = [];
  const walk = (from: number, first: number): void => {
    const run = [from];
    let [v, e] = [from, first];
    for (;;) {
      seen.add(e);
      v = ends[e * 2] === v ? ends[e * 2 + 1]! : ends[e * 2]!;
      run.push(v);
      const next = isEnd.has(v) ? undefined : at.get(v)!.find((o) => !seen.has(o));
      if (next === undefined) break;
      e = next;
    }
    out.push(run);
  };
  for (const v of isEnd) for (const e of at.get(v) ?? []) if (!seen.has(e)) walk(v, e);
  for (const e of inside) if (!seen.has(e)) walk(ends[e * 2]!, e);
  return out;
}
