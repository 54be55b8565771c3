import { ClosestPoint } from './closest-point';
import type { Mesh } from './mesh';
import { nextCorner, previousCorner, topologyOf, type Topology } from './topology';

/** Numbers that `Unrolled.maps` holds a triangle; see there. */
export const UNROLLED_STRIDE = 8;

/** A piece of the surface around a place, laid flat. */
export interface Unrolled {
  /** Triangles that were reached, the first is that of the place. */
  readonly faces: readonly number[];
  /** Where a triangle stands in `faces`; -1 where it wasn't reached. */
  indexOf(face: number): number;
  /**
   * For each of `faces` what takes a point of it to flat coordinates:
   *
   *     0..2  u along x, y, z     3  plus this
   *     4..6  v along x, y, z     7  plus this
   *
   * The place is at 0, 0; u runs along the direction that was asked for; the way over the surface to a point is as long as its flat
   * coordinates are from 0, 0.
   */
  readonly maps: Float64Array;
}

/** A vertex is put anew only if that brings it nearer by more than this part: less is rounding. */
const NEARER = 1 - 1e-6;

/** Each triangle is come to from its three sides, and again where a vertex was put anew; more often than this only on what is broken. */
const MOST_VISITS = 24;

/**
 * Lays the surface around a place flat, keeping how far and in which direction each vertex lies from there (geodesic polar coordinates:
 * E. Melvær and M. Reimers, "Geodesic polar coordinates on polygonal meshes", 2012): from two known corners of a triangle the third is
 * seen as from a source that lies flat beyond them, which is exact where the surface can be rolled out.
 *
 * Triangles that hang together in space only over a way that is longer than the reach stay out: the other side of something thin,
 * another shell that comes near.
 */
export class Unroller {
  private readonly positions: Float32Array;
  private readonly indices: Uint32Array;
  /** How the mesh hangs together where places that differ by rounding only are one. */
  readonly topology: Topology;
  /** Of welded vertices: distance and direction from the place, valid where `seen` is today's. */
  private readonly distance: Float64Array;
  private readonly direction: Float64Array;
  private readonly seen: Uint32Array;
  private readonly slot: Int32Array;
  private readonly reached: Uint32Array;
  private now = 0;
  /** Where it is laid flat from, seen from the place that was asked for. */
  private off: readonly [u: number, v: number] = [0, 0];
  private readonly faces: number[] = [];
  private maps = new Float64Array(64 * UNROLLED_STRIDE);
  private readonly keys: number[] = [];
  private readonly corners: number[] = [];

  constructor(mesh: Pick<Mesh, 'positions' | 'indices'>) {
    this.positions = mesh.positions;
    this.indices = mesh.indices;
    this.topology = topologyOf({ positions: onGrid(mesh.positions), indices: mesh.indices });
    const vertices = mesh.positions.length / 3;
    const faces = mesh.indices.length / 3;
    this.distance = new Float64Array(vertices);
    this.direction = new Float64Array(vertices);
    this.seen = new Uint32Array(vertices);
    this.slot = new Int32Array(faces);
    this.reached = new Uint32Array(faces);
  }

  /**
   * @param face of the place
   * @param x, y, z the place, on that triangle
   * @param tx, ty, tz the direction in which u runs; any length, not along the normal
   * @param reach how far, model units
   * @returns what was reached; holds until the next call
   */
  around(
    face: number,
    x: number,
    y: number,
    z: number,
    tx: number,
    ty: number,
    tz: number,
    reach: number,
  ): Unrolled {
    this.now++;
    this.faces.length = this.keys.length = this.corners.length = 0;
    this.begin(face, x, y, z, tx, ty, tz, reach);
    const most = () => (this.faces.length + 8) * MOST_VISITS;
    for (let visits = 0; this.corners.length > 0 && visits < most(); visits++) this.cross(this.take(), reach);
    if (this.maps.length < this.faces.length * UNROLLED_STRIDE) {
      this.maps = new Float64Array(this.faces.length * UNROLLED_STRIDE * 2);
    }
    this.faces.forEach((f, i) => this.writeMap(f, i * UNROLLED_STRIDE));
    const { faces, maps, reached, slot, now } = this;
    return { faces, maps, indexOf: (f) => (reached[f] === now ? slot[f]! : -1) };
  }

  private vertex(corner: number): number {
    return this.topology.welded[this.indices[corner]!]!;
  }

  private begin(
    face: number,
    x: number,
    y: number,
    z: number,
    tx: number,
    ty: number,
    tz: number,
    reach: number,
  ): void {
    const { positions: p, indices } = this;
    const [a, b, c] = [0, 1, 2].map((k) => indices[face * 3 + k]! * 3) as [number, number, number];
    const [ex, ey, ez] = [p[b]! - p[a]!, p[b + 1]! - p[a + 1]!, p[b + 2]! - p[a + 2]!];
    const [fx, fy, fz] = [p[c]! - p[a]!, p[c + 1]! - p[a + 1]!, p[c + 2]! - p[a + 2]!];
    let [nx, ny, nz] = [ey * fz - ez * fy, ez * fx - ex * fz, ex * fy - ey * fx];
    const n = Math.sqrt(nx * nx + ny * ny + nz * nz) || 1;
    [nx, ny, nz] = [nx / n, ny / n, nz / n];
    const along = tx * nx + ty * ny + tz * nz;
    let [ux, uy, uz] = [tx - nx * along, ty - ny * along, tz - nz * along];
    let u = Math.sqrt(ux * ux + uy * uy + uz * uz);
    // Straight along the normal, or nothing: any direction is as good.
    if (!(u > 1e-6)) {
      [ux, uy, uz] = [ex, ey, ez];
      u = Math.sqrt(ex * ex + ey * ey + ez * ez) || 1;
    }
    [ux, uy, uz] = [ux / u, uy / u, uz / u];
    const [vx, vy, vz] = [ny * uz - nz * uy, nz * ux - nx * uz, nx * uy - ny * ux];
    const inner = this.inward(face, x, y, z, reach);
    const [ix, iy, iz] = [inner[0] - x, inner[1] - y, inner[2] - z];
    this.off = [ix * ux + iy * uy + iz * uz, ix * vx + iy * vy + iz * vz];
    for (let k = 0; k < 3; k++) {
      const o = indices[face * 3 + k]! * 3;
      const [qx, qy, qz] = [p[o]! - inner[0], p[o + 1]! - inner[1], p[o + 2]! - inner[2]];
      const w = this.vertex(face * 3 + k);
      const s = qx * ux + qy * uy + qz * uz;
      const t = qx * vx + qy * vy + qz * vz;
      this.distance[w] = Math.sqrt(s * s + t * t);
      this.direction[w] = Math.atan2(t, s);
      this.seen[w] = this.now;
    }
    this.enter(face);
    for (let k = 0; k < 3; k++) this.offer(face * 3 + k, reach);
  }

  /** The place, a little inside of its triangle: from its very border the direction of a corner would mean nothing. */
  private inward(
    face: number,
    x: number,
    y: number,
    z: number,
    reach: number,
  ): readonly [number, number, number] {
    const { positions: p, indices } = this;
    const middle = [0, 0, 0];
    for (let k = 0; k < 3; k++) {
      const o = indices[face * 3 + k]! * 3;
      for (let axis = 0; axis < 3; axis++) middle[axis]! += p[o + axis]! / 3;
    }
    const [dx, dy, dz] = [middle[0]! - x, middle[1]! - y, middle[2]! - z];
    const far = Math.sqrt(dx * dx + dy * dy + dz * dz);
    const by = far > 0 ? Math.min(0.01, (reach * 1e-3) / far) : 0;
    return [x + dx * by, y + dy * by, z + dz * by];
  }

  private enter(face: number): void {
    this.reached[face] = this.now;
    this.slot[face] = this.faces.length;
    this.faces.push(face);
  }

  /** Puts an edge of a reached triangle on the list of those to be crossed, if it comes near enough. */
  private offer(corner: number, reach: number): void {
    if (this.topology.across[corner]! < 0) return;
    const [a, b] = [this.vertex(corner), this.vertex(nextCorner(corner))];
    const near = this.nearestOnEdge(a, b);
    if (near >= reach) return;
    const { keys, corners } = this;
    let i = keys.push(near) - 1;
    corners.push(corner);
    while (i > 0) {
      const up = (i - 1) >> 1;
      if (keys[up]! <= keys[i]!) break;
      this.swap(up, i);
      i = up;
    }
  }

  private take(): number {
    const { keys, corners } = this;
    const top = corners[0]!;
    const [key, corner] = [keys.pop()!, corners.pop()!];
    if (corners.length === 0) return top;
    [keys[0], corners[0]] = [key, corner];
    for (let i = 0; ;) {
      let least = i;
      for (let child = 2 * i + 1; child <= 2 * i + 2 && child < keys.length; child++) {
        if (keys[child]! < keys[least]!) least = child;
      }
      if (least === i) return top;
      this.swap(i, least);
      i = least;
    }
  }

  private swap(i: number, j: number): void {
    const { keys, corners } = this;
    [keys[i], keys[j]] = [keys[j]!, keys[i]!];
    [corners[i], corners[j]] = [corners[j]!, corners[i]!];
  }

  private length(a: number, b: number): number {
    const { positions: p } = this;
    const [x, y, z] = [p[b * 3]! - p[a * 3]!, p[b * 3 + 1]! - p[a * 3 + 1]!, p[b * 3 + 2]! - p[a * 3 + 2]!];
    return Math.sqrt(x * x + y * y + z * z);
  }

  /** How near an edge comes to the place. */
  private nearestOnEdge(a: number, b: number): number {
    const [da, db] = [this.distance[a]!, this.distance[b]!];
    const l = this.length(a, b);
    if (!(l > 0)) return Math.min(da, db);
    const foot = (l * l + da * da - db * db) / (2 * l);
    if (foot <= 0 || foot >= l) return Math.min(da, db);
    return Math.sqrt(Math.max(0, da * da - foot * foot));
  }

  /** Goes over an edge into the triangle beyond. */
  private cross(corner: number, reach: number): void {
    const beyond = this.topology.across[corner]!;
    const face = Math.floor(beyond / 3);
    const third = previousCorner(beyond);
    const isNew = this.reached[face] !== this.now;
    const isPut = this.put(this.vertex(third), this.vertex(beyond), this.vertex(nextCorner(beyond)));
    if (isNew) this.enter(face);
    if (!isNew && !isPut) return;
    this.offer(nextCorner(beyond), reach);
    this.offer(third, reach);
  }

  /** Puts vertex i where it is seen from over the edge a, b. @returns whether it came nearer */
  private put(i: number, a: number, b: number): boolean {
    const { positions: p, distance, direction, seen, now } = this;
    const [da, db] = [distance[a]!, distance[b]!];
    const l = this.length(a, b);
    const [la, lb] = [this.length(a, i), this.length(b, i)];
    // Along the edge's ends.
    let d = Math.min(da + la, db + lb);
    let angle = da + la < db + lb ? direction[a]! : direction[b]!;
    if (l > 0) {
      // Flat: a at 0, b at l, vertex i above, the source below.
      const sx = (l * l + da * da - db * db) / (2 * l);
      const sy = Math.sqrt(Math.max(0, da * da - sx * sx));
      const cx =
        ((p[i * 3]! - p[a * 3]!) * (p[b * 3]! - p[a * 3]!) +
          (p[i * 3 + 1]! - p[a * 3 + 1]!) * (p[b * 3 + 1]! - p[a * 3 + 1]!) +
          (p[i * 3 + 2]! - p[a * 3 + 2]!) * (p[b * 3 + 2]! - p[a * 3 + 2]!)) /
        l;
      const cy = Math.sqrt(Math.max(0, la * la - cx * cx));
      const crossing = sy + cy > 0 ? sx + ((cx - sx) * sy) / (sy + cy) : sx;
      if (crossing >= 0 && crossing <= l) {
        d = Math.sqrt((cx - sx) ** 2 + (cy + sy) ** 2);
        const whole = angleBetween(-sx, sy, l - sx, sy);
        const part = whole > 0 ? Math.min(1, angleBetween(-sx, sy, cx - sx, cy + sy) / whole) : 0;
        angle = direction[a]! + wrapped(direction[b]! - direction[a]!) * part;
      }
    }
    if (seen[i] === now && d >= distance[i]! * NEARER) return false;
    distance[i] = d;
    direction[i] = angle;
    seen[i] = now;
    return true;
  }

  /** See `Unrolled.maps`. */
  private writeMap(face: number, o: number): void {
    const { positions: p, indices, maps } = this;
    const [a, b, c] = [0, 1, 2].map((k) => indices[face * 3 + k]! * 3) as [number, number, number];
    const [ex, ey, ez] = [p[b]! - p[a]!, p[b + 1]! - p[a + 1]!, p[b + 2]! - p[a + 2]!];
    const [fx, fy, fz] = [p[c]! - p[a]!, p[c + 1]! - p[a + 1]!, p[c + 2]! - p[a + 2]!];
    const ee = ex * ex + ey * ey + ez * ez;
    const ef = ex * fx + ey * fy + ez * fz;
    const ff = fx * fx + fy * fy + fz * fz;
    const det = ee * ff - ef * ef;
    const inverse = det > 0 ? 1 / det : 0;
    const flat = [0, 1, 2].map((k) => {
      const v = this.vertex(face * 3 + k);
      const d = this.distance[v]!;
      const t = this.direction[v]!;
      return [d * Math.cos(t), d * Math.sin(t)] as const;
    });
    for (let axis = 0; axis < 2; axis++) {
      const base = flat[0]![axis]! + this.off[axis]!;
      const along = (flat[1]![axis]! - flat[0]![axis]!) * inverse;
      const over = (flat[2]![axis]! - flat[0]![axis]!) * inverse;
      // What a step along x, y, z adds: the flat steps of both sides times the shares of them that lie in it.
      const gx = along * (ff * ex - ef * fx) + over * (ee * fx - ef * ex);
      const gy = along * (ff * ey - ef * fy) + over * (ee * fy - ef * ey);
      const gz = along * (ff * ez - ef * fz) + over * (ee * fz - ef * ez);
      const at = o + axis * 4;
      maps[at] = gx;
      maps[at + 1] = gy;
      maps[at + 2] = gz;
      maps[at + 3] = base - gx * p[a]! - gy * p[a + 1]! - gz * p[a + 2]!;
    }
  }
}

/** Vertices nearer than this part of the largest coordinate are one for a brush: programs that reckon a seam twice round differently. */
const SAME_PLACE = 1e-6;

/** Positions rounded, so that those which differ by rounding only are equal. */
function onGrid(positions: Float32Array): Float32Array {
  const step = positions.reduce((most, x) => Math.max(most, Math.abs(x)), 0) * SAME_PLACE;
  return step > 0 ? positions.map((x) => Math.round(x / step) * step) : positions;
}

/** The angle between two flat vectors, 0..π. */
const angleBetween = (ax: number, ay: number, bx: number, by: number): number =>
  Math.abs(Math.atan2(ax * by - ay * bx, ax * bx + ay * by));

/** An angle as -π..π. */
const wrapped = (angle: number): number => angle - 2 * Math.PI * Math.round(angle / (2 * Math.PI));

/** What places on a model are found by, and the surface laid flat around them: made once a mesh. */
export interface SurfaceFinders {
  readonly closest: ClosestPoint;
  readonly unroller: Unroller;
}

export const surfaceFinders = (mesh: Mesh): SurfaceFinders => ({
  closest: new ClosestPoint(mesh.positions, mesh.indices),
  unroller: new Unroller(mesh),
});
