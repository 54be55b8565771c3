import { edgeLengths, type Mesh, type Topology } from '../mesh';
import type { CoarseMesh } from './coarse';
import { cheapestPath, edgeFans } from './edge-path';
import type { MirrorMap } from './mirror-map';

/** A way keeps so near to the seam that it follows, in parts of the coarse mesh's edges there. */
const CORRIDOR = 0.7;

/** Length counts beside cost, so that a way doesn't wander through cheap places. */
const LENGTH = 0.3;

export interface Lift {
  readonly mesh: Pick<Mesh, 'positions'>;
  readonly fine: Topology;
  readonly coarse: CoarseMesh;
  readonly coarseTopology: Topology;
  /** Of the fine mesh's edges. */
  readonly costs: Float64Array;
  /** 1 for each of its edges that is a seam in any case. */
  readonly fixed: Uint8Array;
  /** Of the fine mesh. */
  readonly mirror: MirrorMap | null;
}

/** Carries cuts of a coarse mesh to the fine one: each seam goes the cheapest way along edges near it. Ways don't cross one another. */
export function cutLifter({ mesh, fine, coarse, coarseTopology, costs, fixed, mirror }: Lift) {
  const fans = edgeFans(fine);
  const weights = edgeLengths(fine, mesh.positions).map((l, e) => costs[e]! + LENGTH * l);
  const { ends } = fine.edges;
  const p = mesh.positions;
  const apart = (a: number, b: number): number =>
    Math.hypot(p[a * 3]! - p[b * 3]!, p[a * 3 + 1]! - p[b * 3 + 1]!, p[a * 3 + 2]! - p[b * 3 + 2]!);

  /** @param cuts 1 for each edge of the coarse mesh that is cut @returns the same for the fine one */
  return (cuts: Uint8Array): Uint8Array => {
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
      const reach = corridor(p, stops, CORRIDOR * (stops.length > 2 ? 1 : 1.5));
      return cheapestPath(
        fine,
        (e) => {
          for (const x of [ends[e * 2]!, ends[e * 2 + 1]!]) {
            if (x !== a && x !== b && ((!mayTouch && taken[x]) || !reach(x))) return Infinity;
          }
          return weights[e]!;
        },
        [a],
        new Set([b]),
        fans,
      );
    };
    const done = new Map<string, readonly number[]>();
    for (const run of runs) {
      const name = nameOf(run);
      const twin = mirror ? done.get(nameOf(run.map((v) => mirror.ofVertex[v]!))) : undefined;
      const image = twin?.map((e) => mirror!.ofEdge[e]!);
      if (image && !image.includes(-1)) {
        mark(image);
        continue;
      }
      // A ring is closed: its two halves are led one after the other.
      const half = run[0] === run.at(-1) ? Math.floor(run.length / 2) : 0;
      const parts = half ? [run.slice(0, half + 1), run.slice(half)] : [run];
      const found: number[] = [];
      for (const part of parts) {
        const free = way(part, false);
        if (free.length > 0) {
          found.push(...free);
          mark(free);
          continue;
        }
        // Too narrow for a way of its own: vertex by vertex.
        for (let i = 0; i + 1 < part.length; i++) {
          const short = [part[i]!, part[i + 1]!];
          const step = way(short, false);
          const way2 = step.length ? step : way(short, true);
          const stretch = way2.length
            ? way2
            : cheapestPath(fine, (e) => weights[e]!, [short[0]!], new Set([short[1]!]), fans);
          found.push(...stretch);
          mark(stretch);
        }
      }
      done.set(name, found);
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
      for (let i = 0; i + 1 < stops.length && !near; i++) near = toSegment(q, v, stops[i]!, stops[i + 1]!) < reach;
      known.set(v, near);
      return near;
    };
  }
}

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
