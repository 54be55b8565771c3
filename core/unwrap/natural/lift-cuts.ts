import { edgeLengths, type Mesh, type Topology } from '../../mesh';
import type { CoarseMesh } from './coarse';
import { cheapestPath, edgeFans } from '../seams/edge-path';
import { lineFollower } from '../seams/follow-line';
import { placeOf, type OtherSide } from './other-side';

/** A way keeps so near to the seam that it follows, in parts of the coarse mesh's edges there. */
const CORRIDOR = 0.7;

/** Length counts beside cost, so that a way doesn't wander through cheap places. */
const LENGTH = 0.3;

/** What has no counterpart on the other side costs so many times as much: diagonals of quads that are cut another way there. */
const ONE_SIDED = 3;

/** Less than this part of the edges has none where two sides differ by their diagonals only. */
const FEW_ODD = 0.4;

export interface Lift {
  readonly mesh: Pick<Mesh, 'positions'>;
  readonly fine: Topology;
  readonly coarse: CoarseMesh;
  readonly coarseTopology: Topology;
  /** Of the fine mesh's edges. */
  readonly costs: Float64Array;
  /** 1 for each of its edges that is a seam in any case. */
  readonly fixed: Uint8Array;
  /** Where both sides are cut alike. */
  readonly even: LiftEven | null;
}

export interface LiftEven {
  /** Of the fine mesh. */
  readonly other: OtherSide;
  /** The mirrored vertex of each of the coarse mesh's. */
  readonly ofCoarse: Int32Array;
}

/** A way that was led on the fine mesh, for some of the vertices of a coarse one. */
interface Led {
  readonly stops: readonly number[];
  readonly edges: readonly number[];
}

/** Carries cuts of a coarse mesh to the fine one: each seam goes the cheapest way along edges near it. Ways don't cross one another. */
export function cutLifter({ mesh, fine, coarse, coarseTopology, costs, fixed, even }: Lift) {
  const fans = edgeFans(fine);
  const { ends } = fine.edges;
  const byEnds = edgesByEnds(fine);
  /** The edge between two vertices; -1 if there is none. */
  const edgeOf = (a: number, b: number): number => byEnds.get(edgeName(a, b)) ?? -1;
  const twinOf = (v: number): number => even?.other.ofVertex[v] ?? -1;
  const image = (e: number): number => edgeOf(twinOf(ends[e * 2]!), twinOf(ends[e * 2 + 1]!));
  const isOneSided = fine.edges.uses.map((_, e) => (even && image(e) < 0 ? 1 : 0));
  // Where most edges have a counterpart, ways keep to those.
  const isStrict = even !== null && isOneSided.reduce((sum, x) => sum + x, 0) < FEW_ODD * isOneSided.length;
  const weights = edgeLengths(fine, mesh.positions).map(
    (l, e) => (costs[e]! + LENGTH * l) * (isOneSided[e] ? ONE_SIDED : 1),
  );
  const p = mesh.positions;
  const apart = (a: number, b: number): number =>
    Math.hypot(p[a * 3]! - p[b * 3]!, p[a * 3 + 1]! - p[b * 3 + 1]!, p[a * 3 + 2]! - p[b * 3 + 2]!);
  const follow = even && lineFollower(mesh, fine, fans);
  /** The edge between two vertices, if the other side has it too; -1 if there is none. */
  const sharedEdge = (a: number, b: number): number => {
    const e = edgeOf(a, b);
    return e >= 0 && even && image(e) < 0 ? -1 : e;
  };
  const placeIn = (v: number): number => coarse.vertexOf[v]!;

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
    const runs = cutRuns(coarseTopology, cuts);
    for (const run of runs) taken[placeIn(run[0]!)] = taken[placeIn(run.at(-1)!)] = 1;
    const mark = (way: readonly number[]): void => {
      for (const e of way) {
        out[e] = 1;
        take(e);
      }
    };
    const way = (stops: readonly number[], mayTouch: boolean, isMiddle: boolean): number[] => {
      const strict = isStrict ? wayOver(stops, mayTouch, isMiddle, true) : [];
      return strict.length > 0 ? strict : wayOver(stops, mayTouch, isMiddle, false);
    };
    const wayOver = (
      stops: readonly number[],
      mayTouch: boolean,
      isMiddle: boolean,
      onlyShared: boolean,
    ): number[] => {
      const [a, b] = [stops[0]!, stops.at(-1)!];
      // Round a single diagonal the way over shared edges is a corner farther.
      const width = (stops.length > 2 ? 1 : 1.5) * (onlyShared ? 2 : 1);
      const reach = corridor(p, stops, CORRIDOR * width);
      return cheapestPath(
        fine,
        (e) => {
          if (onlyShared && isOneSided[e]) return Infinity;
          for (const x of [ends[e * 2]!, ends[e * 2 + 1]!]) {
            if (x === a || x === b) continue;
            if ((!mayTouch && taken[x]) || !reach(x) || (isMiddle && twinOf(x) !== x)) return Infinity;
          }
          return weights[e]!;
        },
        [a],
        new Set([b]),
        fans,
      );
    };
    const lead = (run: readonly number[]): number[] => {
      // What runs in the middle stays there.
      const isMiddle = even !== null && run.every((v) => even.ofCoarse[v] === v);
      const stops = run.map(placeIn).filter((v, i, all) => v !== all[i - 1]);
      if (stops.length < 2) return [];
      const same = stops.slice(1).map((v, i) => sharedEdge(stops[i]!, v));
      const isSame = isExact && !same.includes(-1);
      if (isSame) mark(same);
      if (isSame) return same;
      let free = isExact ? [] : way(stops, false, isMiddle);
      if (free.length === 0 && isMiddle && !isExact) {
        const line = run.map((v) => placeOf(coarse.mesh.positions, v));
        free = follow!(line, stops[0]!, stops.at(-1)!, (v) => taken[v] === 1);
      }
      if (free.length > 0) {
        mark(free);
        return free;
      }
      // Too narrow for a way of its own: vertex by vertex.
      const found: number[] = [];
      for (let i = 0; i + 1 < stops.length; i++) {
        const short = [stops[i]!, stops[i + 1]!];
        const edge = isExact ? sharedEdge(short[0]!, short[1]!) : -1;
        const tries = [
          () => (edge < 0 ? [] : [edge]),
          () => way(short, false, isMiddle),
          () => way(short, true, isMiddle),
          () => cheapestPath(fine, (e) => weights[e]!, [short[0]!], new Set([short[1]!]), fans),
        ];
        let step: number[] = [];
        for (const next of tries) if (step.length === 0) step = next();
        mark(step);
        found.push(...step);
      }
      return found;
    };
    /** The way that mirrors another; null if it has to be led by itself. */
    const mirroredWay = ({ stops, edges }: Led): number[] | null => {
      const images = edges.map(image);
      if (!images.includes(-1)) return images;
      if (isExact) return null;
      const [from, to] = [stops[0]!, stops.at(-1)!].map((v) => placeIn(even!.ofCoarse[v]!));
      if (from === to) return null;
      const line = verticesAlong(ends, edges, placeIn(stops[0]!)).map((v) => even!.other.placeOf(v));
      const found = follow!(line, from!, to!, (v) => taken[v] === 1);
      return found.length > 0 ? found : null;
    };
    const done = new Map<string, readonly Led[]>();
    const twinRun = (run: readonly number[]): number[] | null => even && run.map((v) => even.ofCoarse[v]!);
    for (const run of runs) {
      const twin = twinRun(run);
      const known = twin && done.get(nameOf(twin));
      const parts: Led[] = [];
      for (const stops of known?.map((led) => twinRun(led.stops)!) ?? partsOf(run, twin)) {
        const other = twin && done.get(nameOf(twinRun(stops)!));
        const isOwn = twin !== null && stops.length > 1 && stops.every((v) => even!.ofCoarse[v] === v);
        const images = isOwn ? null : other && mirroredWay(other[0]!);
        if (images) mark(images);
        const led = { stops, edges: images ?? lead(stops) };
        done.set(nameOf(stops), [led]);
        parts.push(led);
      }
      done.set(nameOf(run), parts);
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

/** The vertices along edges that follow one another. */
function verticesAlong(ends: Uint32Array, edges: readonly number[], start: number): number[] {
  const out = [start];
  for (const e of edges) out.push(ends[e * 2] === out.at(-1) ? ends[e * 2 + 1]! : ends[e * 2]!);
  return out;
}

/** A run in parts that are led one after the other: a ring in halves; what is its own mirror image from its middle. */
function partsOf(run: readonly number[], twin: readonly number[] | null): (readonly number[])[] {
  const middle = Math.floor(run.length / 2);
  const isOwn = twin !== null && twin.toReversed().every((v, i) => v === run[i]);
  const halves = run[0] === run.at(-1) || (isOwn && run.length % 2 === 1 && run.length > 2);
  return halves && middle > 0 ? [run.slice(0, middle + 1), run.slice(middle)] : [run];
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
