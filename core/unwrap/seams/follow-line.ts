import type { Vec3 } from '../../math';
import { edgeLengths, type Mesh, type Topology } from '../../mesh';
import { cheapestPath, edgeFans, type EdgeFans } from './edge-path';
import { NearestVertex } from '../natural/other-side';

/** What lies one edge beside the line costs so many times its length more. */
const BESIDE = 16;

/**
 * Ways along a mesh's edges that keep to given lines as nearly as its edges allow: seams of the other side where that is triangulated
 * otherwise.
 *
 * @returns the edges in order from one vertex to another; empty if there is no way
 */
export function lineFollower(
  mesh: Pick<Mesh, 'positions'>,
  topology: Topology,
  fans: EdgeFans = edgeFans(topology),
) {
  const { ends } = topology.edges;
  const lengths = edgeLengths(topology, mesh.positions);
  const step = lengths.reduce((sum, l) => sum + l, 0) / lengths.length || 1;
  return (
    line: readonly Vec3[],
    from: number,
    to: number,
    isBlocked: (vertex: number) => boolean,
  ): number[] => {
    const known = new Map<number, number>();
    const beside = (v: number): number => {
      let d = known.get(v);
      if (d === undefined) known.set(v, (d = (distanceTo(mesh.positions, v, line) / step) ** 2));
      return d;
    };
    const cost = (e: number): number => {
      const [a, b] = [ends[e * 2]!, ends[e * 2 + 1]!];
      for (const v of [a, b]) if (v !== from && v !== to && isBlocked(v)) return Infinity;
      return lengths[e]! * (1 + (BESIDE * (beside(a) + beside(b))) / 2);
    };
    return cheapestPath(topology, cost, [from], new Set([to]), fans);
  };
}

/** Places so near to vertices, in parts of the edges, are these. */
const SAME = 1e-3;

/**
 * Cuts along lines of places, as nearly as a mesh's edges allow. Ways don't cross one another.
 *
 * @param seams 1 for each edge that is a seam in any case
 * @returns the same with those along the lines
 */
export function cutsAlongLines(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  topology: Topology,
  seams: Uint8Array,
  lines: readonly (readonly Vec3[])[],
): Uint8Array {
  const { ends, uses } = topology.edges;
  const fans = edgeFans(topology);
  const follow = lineFollower(mesh, topology, fans);
  const nearest = new NearestVertex(mesh, topology);
  const lengths = edgeLengths(topology, mesh.positions);
  const reach = (SAME * lengths.reduce((sum, l) => sum + l, 0)) / lengths.length;
  const out = seams.slice();
  const taken = new Uint8Array(topology.welded.length);
  const mark = (e: number): void => void (taken[ends[e * 2]!] = taken[ends[e * 2 + 1]!] = 1);
  uses.forEach((n, e) => {
    if (n !== 2 || seams[e]) mark(e);
  });
  const between = (a: number, b: number): number => {
    for (let i = fans.start[a]!; i < fans.start[a + 1]!; i++) {
      const e = fans.edge[i]!;
      if (ends[e * 2] === b || ends[e * 2 + 1] === b) return e;
    }
    return -1;
  };
  /** Edges that are just what the line is; null if there are none. */
  const same = (line: readonly Vec3[]): number[] | null => {
    const vertices = line.map((at) => nearest.at(at));
    const isMet = vertices.every(
      (v, i) => Math.hypot(...line[i]!.map((x, k) => x - mesh.positions[v * 3 + k]!)) < reach,
    );
    const edges = vertices.slice(1).map((v, i) => between(vertices[i]!, v));
    return isMet && !edges.includes(-1) ? edges : null;
  };
  // A ring is led in halves.
  const parts = lines.flatMap((line) => {
    const [first, last] = [line[0]!, line.at(-1)!];
    const middle = line.length >> 1;
    const isRing = line.length > 2 && first.every((x, k) => x === last[k]);
    return isRing ? [line.slice(0, middle + 1), line.slice(middle)] : [line];
  });
  for (const line of parts) taken[nearest.at(line[0]!)] = taken[nearest.at(line.at(-1)!)] = 1;
  for (const line of parts) {
    const [from, to] = [nearest.at(line[0]!), nearest.at(line.at(-1)!)];
    const way = same(line) ?? follow(line, from, to, (v) => taken[v] === 1);
    for (const e of way) {
      out[e] = 1;
      mark(e);
    }
  }
  return out;
}

/** How far a vertex is from a line of places. */
function distanceTo(p: Float32Array, v: number, line: readonly Vec3[]): number {
  let least = Infinity;
  for (let i = 0; i + 1 < line.length; i++) {
    const [a, b] = [line[i]!, line[i + 1]!];
    let [dot, square] = [0, 0];
    for (let k = 0; k < 3; k++) {
      dot += (p[v * 3 + k]! - a[k]!) * (b[k]! - a[k]!);
      square += (b[k]! - a[k]!) ** 2;
    }
    const t = Math.max(0, Math.min(1, dot / (square || 1)));
    const d = Math.hypot(...[0, 1, 2].map((k) => p[v * 3 + k]! - a[k]! - t * (b[k]! - a[k]!)));
    least = Math.min(least, d);
  }
  return least;
}
