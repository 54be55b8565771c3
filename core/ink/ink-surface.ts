import { dot, sub, type Vec3 } from '../math';
import {
  type ClosestPoint,
  closestOnTriangle,
  faceGeometry,
  nextCorner,
  type Unroller,
  type SurfacePoint,
  type Topology,
  type UvMesh,
  surfaceFinders,
} from '../mesh';

/** Triangles that a straight way may cross. */
const MOST_CROSSED = 20_000;

/** What lies behind by more than this, in parts of how far the next place is, isn't where a line goes on. */
const CLEARLY_NEARER = 0.7;

/** What lines are laid on: a mesh, and what is asked of it. Reckoned once a mesh. */
export class InkSurface {
  readonly mesh: UvMesh;
  readonly unroller: Unroller;
  /** Unit normal xyz a triangle. */
  readonly normals: Float64Array;
  private readonly closest: ClosestPoint;
  readonly topology: Topology;
  private readonly near: SurfacePoint = { face: -1, w0: 1, w1: 0, w2: 0, distance: 0 };
  private readonly far: SurfacePoint = { face: -1, w0: 1, w1: 0, w2: 0, distance: 0 };

  constructor(mesh: UvMesh) {
    this.mesh = mesh;
    const { unroller, closest } = surfaceFinders(mesh);
    this.unroller = unroller;
    this.closest = closest;
    this.topology = this.unroller.topology;
    this.normals = faceGeometry(mesh).normals;
  }

  normalOf(face: number): Vec3 {
    const o = face * 3;
    return [this.normals[o]!, this.normals[o + 1]!, this.normals[o + 2]!];
  }

  corner(face: number, k: number): Vec3 {
    const o = this.mesh.indices[face * 3 + k]! * 3;
    const { positions: p } = this.mesh;
    return [p[o]!, p[o + 1]!, p[o + 2]!];
  }

  /** Where a place on the mesh lies. */
  pointOf({ face, w0, w1, w2 }: SurfacePoint): Vec3 {
    const [a, b, c] = [this.corner(face, 0), this.corner(face, 1), this.corner(face, 2)];
    return [0, 1, 2].map((k) => a[k]! * w0 + b[k]! * w1 + c[k]! * w2) as unknown as Vec3;
  }

  /** The place on the surface that is nearest to a point. */
  nearest(p: Vec3): { readonly face: number; readonly at: Vec3; readonly distance: number } {
    const { far } = this;
    this.closest.find(...p, far);
    return { face: far.face, at: this.pointOf(far), distance: far.distance };
  }

  /**
   * The place on the surface where a line that came to triangle `from` goes on to a point: reached over neighbouring triangles, so that it
   * doesn't jump onto what only lies near; elsewhere only if that is much nearer, and faces the same way.
   *
   * @param close so near needs no look elsewhere, model units
   */
  onward(
    from: number,
    p: Vec3,
    close = 0,
  ): { readonly face: number; readonly at: Vec3; readonly distance: number } {
    const { near } = this;
    this.walk(from, p);
    const walked = { face: near.face, at: this.pointOf(near), distance: near.distance };
    if (walked.distance <= close) return walked;
    const other = this.nearest(p);
    if (other.distance >= walked.distance * CLEARLY_NEARER) return walked;
    const isBehind = dot(this.normalOf(other.face), this.normalOf(walked.face)) < -0.2;
    const apart = sub(other.at, walked.at);
    // The other side of something thin.
    if (isBehind && dot(apart, apart) < 4 * walked.distance * walked.distance) return walked;
    return other;
  }

  /** Down to the nearest place over triangles that share an edge, looking two of them ahead. */
  private walk(from: number, [x, y, z]: Vec3): void {
    const { near, far, mesh } = this;
    const { across } = this.topology;
    const look = (face: number): number =>
      closestOnTriangle(mesh.positions, mesh.indices, face, x, y, z, far);
    let best = look(from);
    Object.assign(near, far, { face: from });
    for (let steps = 0; steps < MOST_CROSSED; steps++) {
      const here = near.face;
      const tryFace = (face: number): void => {
        const d = look(face);
        if (d >= best) return;
        best = d;
        Object.assign(near, far, { face });
      };
      for (let k = 0; k < 3; k++) {
        const beyond = across[here * 3 + k]!;
        if (beyond < 0) continue;
        tryFace(Math.floor(beyond / 3));
        for (const c of [nextCorner(beyond), nextCorner(nextCorner(beyond))]) {
          const further = across[c]!;
          if (further >= 0) tryFace(Math.floor(further / 3));
        }
      }
      if (near.face === here) break;
    }
    near.distance = Math.sqrt(best);
  }

  /**
   * The way over the surface between two places in the plane through both that stands on it: the places at which it crosses edges, and the
   * triangles beyond them.
   *
   * @param up about which way the surface faces there
   * @returns null if it comes to an open border, or round in a circle, before it is there
   */
  straightWay(
    from: { readonly face: number; readonly at: Vec3 },
    to: { readonly face: number; readonly at: Vec3 },
    up: Vec3,
  ): readonly { readonly at: Vec3; readonly face: number }[] | null {
    if (from.face === to.face) return [];
    const way = sub(to.at, from.at);
    const plane: Vec3 = [
      way[1] * up[2] - way[2] * up[1],
      way[2] * up[0] - way[0] * up[2],
      way[0] * up[1] - way[1] * up[0],
    ];
    if (dot(plane, plane) <= 1e-24 * dot(way, way) * dot(up, up)) return null;
    const side = (p: Vec3): number => dot(plane, sub(p, from.at));
    const { across } = this.topology;
    const out: { at: Vec3; face: number }[] = [];
    let face = from.face;
    let entered = -1;
    let last = from.at;
    const whole = dot(way, way);
    for (let steps = 0; steps < MOST_CROSSED; steps++) {
      let leave = -1;
      let place: Vec3 = last;
      let furthest = -Infinity;
      for (let k = 0; k < 3; k++) {
        const c = face * 3 + k;
        if (c === entered) continue;
        const [a, b] = [this.corner(face, k), this.corner(face, (k + 1) % 3)];
        const [sa, sb] = [side(a), side(b)];
        if (sa > 0 === sb > 0) continue;
        const t = sa / (sa - sb);
        const at: Vec3 = [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t, a[2] + (b[2] - a[2]) * t];
        // From the first triangle the way goes forward, not back.
        const ahead = dot(sub(at, from.at), way);
        if (entered < 0 && ahead <= furthest) continue;
        furthest = ahead;
        leave = c;
        place = at;
      }
      if (leave < 0) return null;
      const beyond = across[leave]!;
      if (beyond < 0) return null;
      face = Math.floor(beyond / 3);
      entered = beyond;
      last = place;
      out.push({ at: place, face });
      if (face === to.face) return out;
      // Round the back of something, where it was to go over it.
      const off = sub(place, from.at);
      if (dot(off, off) > 36 * whole) return null;
    }
    return null;
  }
}
