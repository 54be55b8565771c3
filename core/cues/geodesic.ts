import TinyQueue from 'tinyqueue';
import { ClosestPoint, topologyOf, type Mesh, type SurfacePoint } from '../mesh';
import type { Vec3 } from '../math';

/** Lengths of the shortest ways over the surface to a place in a triangle, model units; Infinity where none leads. */
export type Ways = (face: number, x: number, y: number, z: number) => number;

/**
 * Shortest ways over a surface from some points, by marching a front over the vertices in the order of their distance (R. Kimmel and
 * J. Sethian, "Computing geodesic paths on manifolds", 1998). From two known corners the third is reached as from a source that lies
 * flat beyond them (M. Novotni and R. Klein, "Computing geodesic distances on triangular meshes", 2002), which is exact on a plane.
 *
 * @param from points near the surface: each counts where the surface is nearest to it
 */
export function ways(mesh: Mesh, from: readonly Vec3[]): Ways {
  const { positions: p, indices } = mesh;
  const { welded } = topologyOf(mesh);
  const distance = new Float64Array(p.length / 3).fill(Infinity);
  // Each source lies in a triangle, whose places it sees straight.
  const sources = new Map<number, Vec3[]>();
  const closest = new ClosestPoint(
    p,
    indices,
    Uint32Array.from({ length: indices.length / 3 }, (_, f) => f),
  );
  const place: SurfacePoint = { face: -1, w0: 1, w1: 0, w2: 0, distance: Infinity };
  const front = new Front(distance);
  for (const point of from) {
    closest.find(...point, place);
    const c = [0, 1, 2].map((k) => indices[place.face * 3 + k]! * 3) as [number, number, number];
    const at = [0, 1, 2].map(
      (k) => p[c[0] + k]! * place.w0 + p[c[1] + k]! * place.w1 + p[c[2] + k]! * place.w2,
    ) as unknown as Vec3;
    const there = sources.get(place.face);
    if (there) there.push(at);
    else sources.set(place.face, [at]);
    for (const v of c) {
      front.offer(welded[v / 3]!, Math.hypot(p[v]! - at[0], p[v + 1]! - at[1], p[v + 2]! - at[2]));
    }
  }
  const cornersAt = cornersOf(indices, welded);
  const corner = (c: number): number => welded[indices[c]!]!;
  for (let v = front.take(); v >= 0; v = front.take()) {
    for (let i = cornersAt.start[v]!; i < cornersAt.start[v + 1]!; i++) {
      const f = Math.floor(cornersAt.list[i]! / 3) * 3;
      const others = [0, 1, 2].map((k) => corner(f + k)).filter((w) => w !== v);
      if (others.length !== 2) continue;
      const [a, b] = others as [number, number];
      for (const [known, reached] of [
        [a, b],
        [b, a],
      ] as const) {
        const at = reached * 3;
        front.offer(reached, beyond(p, distance, v, known, p[at]!, p[at + 1]!, p[at + 2]!));
      }
    }
  }
  return (face, x, y, z) => {
    let best = Infinity;
    for (const s of sources.get(face) ?? []) best = Math.min(best, Math.hypot(x - s[0], y - s[1], z - s[2]));
    for (let k = 0; k < 3; k++) {
      const [a, b] = [corner(face * 3 + k), corner(face * 3 + ((k + 1) % 3))];
      best = Math.min(best, beyond(p, distance, a, b, x, y, z));
    }
    return best;
  };
}

/** The way to a point beyond the edge between two vertices whose distances are known; along the edge's ends where it can't be crossed. */
function beyond(
  p: Float32Array,
  distance: Float64Array,
  a: number,
  b: number,
  x: number,
  y: number,
  z: number,
): number {
  const [da, db] = [distance[a]!, distance[b]!];
  const [ax, ay, az] = [p[a * 3]!, p[a * 3 + 1]!, p[a * 3 + 2]!];
  const [ex, ey, ez] = [p[b * 3]! - ax, p[b * 3 + 1]! - ay, p[b * 3 + 2]! - az];
  const [qx, qy, qz] = [x - ax, y - ay, z - az];
  const l2 = ex * ex + ey * ey + ez * ez;
  const q2 = qx * qx + qy * qy + qz * qz;
  const qe = qx * ex + qy * ey + qz * ez;
  const ends = Math.min(da + Math.sqrt(q2), db + Math.sqrt(Math.max(0, q2 - 2 * qe + l2)));
  if (!(l2 > 0) || da === Infinity || db === Infinity) return ends;
  // Flat coordinates: a at 0, b at l, the point above, the source below the edge.
  const l = Math.sqrt(l2);
  const cx = qe / l;
  const cy = Math.sqrt(Math.max(0, q2 - cx * cx));
  const sx = (l2 + da * da - db * db) / (2 * l);
  const sy2 = da * da - sx * sx;
  // Distances that no flat source has.
  if (sy2 < 0) return ends;
  const sy = Math.sqrt(sy2);
  const crossing = sy + cy > 0 ? sx + ((cx - sx) * sy) / (sy + cy) : sx;
  return crossing < 0 || crossing > l ? ends : Math.hypot(cx - sx, cy + sy);
}

/** The corners of triangles at each welded vertex. */
function cornersOf(
  indices: Uint32Array,
  welded: Uint32Array,
): { readonly start: Uint32Array; readonly list: Uint32Array } {
  const start = new Uint32Array(welded.length + 1);
  for (const v of indices) start[welded[v]! + 1]!++;
  for (let v = 0; v < welded.length; v++) start[v + 1]! += start[v]!;
  const next = start.slice();
  const list = new Uint32Array(indices.length);
  indices.forEach((v, c) => (list[next[welded[v]!]!++] = c));
  return { start, list };
}

/** Vertices by their distance, the nearest first; one that becomes nearer is put in again, and its old entry passed over. */
class Front {
  private readonly distance: Float64Array;
  private readonly done: Uint8Array;
  private readonly queue = new TinyQueue<{ readonly vertex: number; readonly at: number }>(
    [],
    (a, b) => a.at - b.at,
  );

  constructor(distance: Float64Array) {
    this.distance = distance;
    this.done = new Uint8Array(distance.length);
  }

  offer(vertex: number, at: number): void {
    if (this.done[vertex] || !(at < this.distance[vertex]!)) return;
    this.distance[vertex] = at;
    this.queue.push({ vertex, at });
  }

  /** The nearest vertex that wasn't taken yet; -1 where none is left. */
  take(): number {
    for (let next = this.queue.pop(); next; next = this.queue.pop()) {
      if (this.done[next.vertex]) continue;
      this.done[next.vertex] = 1;
      return next.vertex;
    }
    return -1;
  }
}
