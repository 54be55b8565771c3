import { cross, dot, normalize, sub, type Vec3 } from '../../math';
import { withCornerUvs } from '../corner-uvs';
import { OriginList, weldPlaces, type UvMesh } from '../../mesh';

/** Where a line over a surface goes from one vertex on: through an edge, or to a vertex. Vertices are welded ones. */
export type Step =
  | { readonly a: number; readonly b: number; /** 0 at a, 1 at b. */ readonly t: number }
  | { readonly to: number };

/** A line that comes so near to a vertex, in parts of an edge, goes through it: no slivers are made. */
const NEAR = 0.12;

/** A mesh whose edges can be split, one after the other. New vertices lie on the surface as it is, with all that belongs to it. */
export class CutMesh {
  private readonly mesh: UvMesh;
  private readonly positions: number[];
  private readonly normals: number[];
  private readonly uvs: number[];
  private readonly origins: OriginList | null;
  /** The first vertex at the place of each. */
  private readonly weld: number[];
  private readonly tri: number[];
  /** The triangle that each was part of. */
  private readonly origin: number[];
  private readonly facesAt: number[][];
  private readonly splits = new Map<string, number>();

  constructor(mesh: UvMesh) {
    this.mesh = mesh;
    this.positions = [...mesh.positions];
    this.normals = [...mesh.normals];
    this.uvs = [...mesh.uvs];
    this.origins = mesh.origins ? new OriginList(mesh.origins) : null;
    this.weld = [...weldPlaces(mesh.positions)];
    this.tri = [...mesh.indices];
    this.origin = Array.from(mesh.faceParts, (_, f) => f);
    this.facesAt = this.weld.map(() => []);
    this.tri.forEach((v, c) => this.facesAt[this.weld[v]!]!.push(Math.floor(c / 3)));
  }

  at(v: number): Vec3 {
    const p = this.positions;
    return [p[v * 3]!, p[v * 3 + 1]!, p[v * 3 + 2]!];
  }

  /** The welded vertices of a triangle. */
  private corners(f: number): [number, number, number] {
    return [0, 1, 2].map((k) => this.weld[this.tri[f * 3 + k]!]!) as [number, number, number];
  }

  private facesOn(a: number, b: number): number[] {
    return this.facesAt[a]!.filter((f) => this.corners(f).includes(b));
  }

  /** Unit, mean over the area round a vertex. */
  normalAt(v: number): Vec3 {
    const sum: [number, number, number] = [0, 0, 0];
    for (const f of this.facesAt[v]!) {
      const [a, b, c] = this.corners(f).map((w) => this.at(w)) as [Vec3, Vec3, Vec3];
      cross(sub(b, a), sub(c, a)).forEach((x, k) => (sum[k]! += x));
    }
    return normalize(sum);
  }

  /**
   * The straight line over the surface from one vertex to another: in the plane through both that stands upright on the surface between them.
   *
   * @param mayCross whether it may go through an edge @param mayTouch whether it may go through a vertex
   * @returns null if it doesn't get there
   */
  straight(
    from: number,
    to: number,
    mayCross: (a: number, b: number) => boolean,
    mayTouch: (v: number) => boolean,
  ): Step[] | null {
    const [start, end] = [this.at(from), this.at(to)];
    const along = sub(end, start);
    const [n, m] = [this.normalAt(from), this.normalAt(to)];
    const aside = cross(along, [n[0] + m[0], n[1] + m[1], n[2] + m[2]]);
    if (Math.hypot(...aside) < 1e-12) return null;
    const side = (v: number): number => dot(aside, sub(this.at(v), start));
    const far = (p: Vec3): number => dot(along, sub(p, start));
    const out: Step[] = [];
    const most = 60;
    let vertex = from;
    let edge: readonly [number, number] | null = null;
    let face = -1;
    let reached = 0;
    while (out.length < most) {
      // The edges through which it may leave: opposite the vertex, or the other two of the triangle behind the edge.
      const ways: { a: number; b: number; f: number }[] = [];
      if (edge) {
        const next = this.facesOn(...edge).filter((f) => f !== face);
        if (next.length !== 1) return null;
        const apex = this.corners(next[0]!).find((v) => v !== edge![0] && v !== edge![1])!;
        if (apex === to) return [...out, { to }];
        ways.push({ a: edge[0], b: apex, f: next[0]! }, { a: apex, b: edge[1], f: next[0]! });
      } else {
        for (const f of this.facesAt[vertex]!) {
          const [a, b] = this.corners(f).filter((v) => v !== vertex) as [number, number];
          if (a === to || b === to) return [...out, { to }];
          ways.push({ a, b, f });
        }
      }
      let best: { a: number; b: number; f: number; t: number; far: number } | null = null;
      for (const way of ways) {
        const [p, q] = [side(way.a), side(way.b)];
        if (p === q || p > 0 === q > 0) continue;
        const t = p / (p - q);
        const [x, y] = [this.at(way.a), this.at(way.b)];
        const place = x.map((c, k) => c + t * (y[k]! - c)) as unknown as Vec3;
        if (far(place) > reached && (!best || far(place) > best.far)) best = { ...way, t, far: far(place) };
      }
      if (!best) return null;
      reached = best.far;
      const near = best.t < NEAR ? best.a : best.t > 1 - NEAR ? best.b : -1;
      if (near >= 0) {
        if (near === vertex || !mayTouch(near)) return null;
        out.push({ to: near });
        [vertex, edge, face] = [near, null, -1];
        continue;
      }
      if (!mayCross(best.a, best.b)) return null;
      out.push({ a: best.a, b: best.b, t: best.t });
      [vertex, edge, face] = [-1, [best.a, best.b], best.f];
    }
    return null;
  }

  /** Splits all edges that a line goes through. @returns its vertices, the first one included */
  cut(from: number, steps: readonly Step[]): number[] {
    return [from, ...steps.map((step) => ('to' in step ? step.to : this.split(step.a, step.b, step.t)))];
  }

  /** Vertices from one end of an edge that was there to the other, however often it was split since. */
  along(a: number, b: number): number[] {
    const middle = this.splits.get(nameOf(a, b));
    if (middle === undefined) return [a, b];
    return [...this.along(a, middle), ...this.along(middle, b).slice(1)];
  }

  private split(a: number, b: number, t: number): number {
    const made = new Map<string, number>();
    let place = -1;
    /** The vertex between two that are split apart by normals or UVs, once for each such pair. */
    const between = (va: number, vb: number): number => {
      const known = made.get(`${va} ${vb}`);
      if (known !== undefined) return known;
      const v = this.weld.length;
      if (place < 0) place = v;
      const mixed = (data: number[], stride: number, i: number, j: number): number[] =>
        Array.from({ length: stride }, (_, k) => data[i * stride + k]! * (1 - t) + data[j * stride + k]! * t);
      // The same place from both sides, to the last bit.
      this.positions.push(...mixed(this.positions, 3, a, b).map(Math.fround));
      this.normals.push(...normalize(mixed(this.normals, 3, va, vb) as unknown as Vec3));
      this.uvs.push(...mixed(this.uvs, 2, va, vb));
      this.weld.push(place);
      this.origins?.addBetween(va, vb, t);
      this.facesAt.push([]);
      made.set(`${va} ${vb}`, v);
      return v;
    };
    for (const f of this.facesOn(a, b)) {
      const corners = this.corners(f);
      const [i, j] = [corners.indexOf(a), corners.indexOf(b)];
      const n = between(this.tri[f * 3 + i]!, this.tri[f * 3 + j]!);
      const other = this.origin.length;
      const copy = this.tri.slice(f * 3, f * 3 + 3);
      copy[i] = n;
      this.tri[f * 3 + j] = n;
      this.tri.push(...copy);
      this.origin.push(this.origin[f]!);
      this.facesAt[b] = this.facesAt[b]!.map((g) => (g === f ? other : g));
      this.facesAt[corners[3 - i - j]!]!.push(other);
      this.facesAt[place]!.push(f, other);
    }
    this.splits.set(nameOf(a, b), place);
    return place;
  }

  /** The mesh as it is cut now; pieces of one triangle stand together, where it stood. @returns also the triangle that each was part of */
  result(): { mesh: UvMesh; from: Uint32Array } {
    const order = [...this.origin.keys()].sort((f, g) => this.origin[f]! - this.origin[g]! || f - g);
    const { polygons, ...rest } = this.mesh;
    const from = Uint32Array.from(order, (f) => this.origin[f]!);
    const indices = Uint32Array.from(order.flatMap((f) => this.tri.slice(f * 3, f * 3 + 3)));
    const mesh: UvMesh = {
      ...rest,
      positions: Float32Array.from(this.positions),
      normals: Float32Array.from(this.normals),
      uvs: Float32Array.from(this.uvs),
      ...(this.origins && { origins: this.origins.done() }),
      indices,
      faceParts: Uint16Array.from(from, (f) => this.mesh.faceParts[f]!),
      ...(polygons ? { polygons: Uint32Array.from(from, (f) => polygons[f]!) } : {}),
    };
    const uvs = new Float32Array(indices.length * 2);
    indices.forEach((v, c) => uvs.set(mesh.uvs.subarray(v * 2, v * 2 + 2), c * 2));
    return { mesh: withCornerUvs(mesh, uvs), from };
  }
}

export const nameOf = (a: number, b: number): string => (a < b ? `${a} ${b}` : `${b} ${a}`);
