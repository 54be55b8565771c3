import { add, dot, scale, sub, type Vec3 } from '../../math';
import {
  boundsOf,
  ClosestPoint,
  diagonalOf,
  edgeLengths,
  twinVertices,
  type Mesh,
  type SurfacePoint,
  type SymmetryPlane,
  type Topology,
} from '../../mesh';

/** Vertices that are looked at before a surface counts as alike on both sides. */
const LOOKED_AT = 2000;

/** Of these so many must be met on the other side no farther off than an edge is long, and nearly all */
const [MET, NEARLY_ALL] = [0.95, 0.98];

/** no farther off than so many edges, or this part of the diagonal. */
const [NEAR, NOT_FAR] = [0.5, 0.03];

/** Of the vertices on borders so many are looked at; they must be met by others no farther off than so many edges. */
const [FEW, OPEN] = [300, 1.5];

export const placeOf = (p: Float32Array | Float64Array, v: number): Vec3 => [
  p[v * 3]!,
  p[v * 3 + 1]!,
  p[v * 3 + 2]!,
];

export const mirrored = (p: Vec3, { point, normal }: SymmetryPlane): Vec3 =>
  sub(p, scale(normal, 2 * dot(sub(p, point), normal)));

/** Finds places of one surface on another. */
export class NearestVertex {
  private readonly mesh: Pick<Mesh, 'positions' | 'indices'>;
  private readonly topology: Topology;
  private readonly closest: ClosestPoint;
  private readonly found: SurfacePoint = { face: -1, w0: 1, w1: 0, w2: 0, distance: 0 };

  constructor(mesh: Pick<Mesh, 'positions' | 'indices'>, topology: Topology) {
    this.mesh = mesh;
    this.topology = topology;
    const faces = Uint32Array.from({ length: mesh.indices.length / 3 }, (_, f) => f);
    this.closest = new ClosestPoint(mesh.positions, mesh.indices, faces);
  }

  /** The welded vertex that lies next to the nearest place of the surface. */
  at(p: Vec3): number {
    const { found, mesh, topology } = this;
    this.closest.find(...p, found);
    const { w0, w1, w2, face } = found;
    const k = w0 >= w1 && w0 >= w2 ? 0 : w1 >= w2 ? 1 : 2;
    return topology.welded[mesh.indices[face * 3 + k]!]!;
  }

  /** How far the surface is, model units. */
  distance(p: Vec3): number {
    this.closest.find(...p, this.found);
    return this.found.distance;
  }
}

/** Where the places of a surface are on its other side, also where that is triangulated otherwise, or bent a little. */
export class OtherSide {
  /** The twin of each welded vertex; -1 where there is none. */
  readonly ofVertex: Int32Array;
  private readonly mesh: Pick<Mesh, 'positions' | 'indices'>;
  private readonly topology: Topology;
  private readonly plane: SymmetryPlane;
  private readonly offsets: Float64Array;
  private nearest: NearestVertex | null = null;

  constructor(mesh: Pick<Mesh, 'positions' | 'indices'>, topology: Topology, plane: SymmetryPlane) {
    this.mesh = mesh;
    this.topology = topology;
    this.plane = plane;
    const { ofVertex, offsets } = twinVertices(mesh, topology, plane.point, plane.normal);
    this.ofVertex = ofVertex;
    this.offsets = offsets;
  }

  /** The place that stands for a vertex on the other side, near the surface. */
  placeOf(v: number): Vec3 {
    return add(mirrored(placeOf(this.mesh.positions, v), this.plane), placeOf(this.offsets, v));
  }

  /** The welded vertex that lies next to a place. */
  vertexAt(p: Vec3): number {
    return this.surface().at(p);
  }

  /** The welded vertex that stands for another, or lies next to where one would. */
  vertexFor(v: number): number {
    const twin = this.ofVertex[v]!;
    return twin >= 0 ? twin : this.vertexAt(this.placeOf(v));
  }

  /** Whether the surface is met wherever its places are mirrored to. */
  isAlike(): boolean {
    const { edges } = this.topology;
    const lengths = edgeLengths(this.topology, this.mesh.positions);
    const edge = lengths.reduce((sum, l) => sum + l, 0) / lengths.length;
    const far = Math.max(NEAR * edge, NOT_FAR * diagonalOf(boundsOf(this.mesh.positions)));
    const vertices = [...new Set(edges.ends)];
    const step = Math.ceil(vertices.length / LOOKED_AT);
    const some = vertices.filter((_, i) => i % step === 0);
    const distances = some.map((v) => this.surface().distance(this.placeOf(v)));
    const within = (reach: number): number => distances.filter((d) => d < reach).length / some.length;
    return within(edge) >= MET && within(far) >= NEARLY_ALL && this.hasLikeBorders(OPEN * edge);
  }

  /** Whether the surface is open at the same places on both sides. */
  private hasLikeBorders(reach: number): boolean {
    const { ends, uses } = this.topology.edges;
    const open = [...new Set([...ends].filter((_, i) => uses[i >> 1] === 1))];
    const places = open.map((v) => placeOf(this.mesh.positions, v));
    const some = open.filter((_, i) => i % Math.ceil(open.length / FEW) === 0);
    const met = some.filter((v) => {
      const image = this.placeOf(v);
      return places.some((p) => Math.hypot(...p.map((x, k) => x - image[k]!)) < reach);
    });
    return met.length >= MET * some.length;
  }

  private surface(): NearestVertex {
    return (this.nearest ??= new NearestVertex(this.mesh, this.topology));
  }
}
