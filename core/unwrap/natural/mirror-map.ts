import type { Vec3 } from '../../math';
import {
  boundsOf,
  centreOf,
  diagonalOf,
  mainSymmetry,
  symmetryPlanes,
  twinVertices,
  type Mesh,
  type SymmetryPlane,
  type Topology,
} from '../../mesh';

/** What stands for what on the other side of a mesh; -1 where nothing does. What lies on the plane stands for itself. */
export interface MirrorMap {
  readonly plane: SymmetryPlane;
  /** A welded vertex. */
  readonly ofVertex: Int32Array;
  readonly ofEdge: Int32Array;
  readonly ofFace: Int32Array;
  /** For each corner the one of the mirrored triangle at the mirrored vertex. */
  readonly ofCorner: Int32Array;
}

/** Sides that have less of their triangles in common than this part are cut without regard for one another. */
export const LEAST_SHARED = 0.5;

/** A normal is an axis if it agrees with it by this cosine; a plane goes through a point so near, in parts of the diagonal. */
const [UPRIGHT, NEAR] = [0.9999, 2e-3];

/** The plane over which a model is built, as nearly as can be told. */
export function mirrorPlane(mesh: Pick<Mesh, 'positions' | 'indices'>): SymmetryPlane {
  const found = mainSymmetry(symmetryPlanes(mesh));
  // What is held in one hand hides that all else is even: models are built over x = 0.
  return found ? alongAxis(found, mesh.positions) : { point: [0, 0, 0], normal: [1, 0, 0], error: 0 };
}

/** A plane that nearly stands on an axis, or nearly goes through the origin or the middle, does: so it was modelled. */
function alongAxis(plane: SymmetryPlane, positions: Float32Array): SymmetryPlane {
  const axis = plane.normal.findIndex((x) => Math.abs(x) > UPRIGHT);
  if (axis < 0) return plane;
  const bounds = boundsOf(positions);
  const point = [...plane.point] as [number, number, number];
  const near = [0, centreOf(bounds)[axis]!].find(
    (x) => Math.abs(x - point[axis]!) < NEAR * diagonalOf(bounds),
  );
  if (near !== undefined) point[axis] = near;
  return { ...plane, point, normal: [0, 1, 2].map((k) => (k === axis ? 1 : 0)) as unknown as Vec3 };
}

/** What stands for what over a plane that is known; null if less than half of the triangles have a counterpart. */
export function mirrorOver(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  topology: Topology,
  plane: SymmetryPlane,
): MirrorMap | null {
  const { ofVertex } = twinVertices(mesh, topology, plane.point, plane.normal);
  const map = mirrorMap(mesh, topology, plane, ofVertex);
  return sharedPart(map) >= LEAST_SHARED ? map : null;
}

/** Part of a mesh's triangles that have a counterpart, 0..1. */
export const sharedPart = ({ ofFace }: MirrorMap): number =>
  ofFace.reduce((n, f) => n + (f >= 0 ? 1 : 0), 0) / ofFace.length;

/** @param ofVertex the twin of each welded vertex; -1 where there is none */
export function mirrorMap(
  { indices }: Pick<Mesh, 'indices'>,
  { welded, edges }: Topology,
  plane: SymmetryPlane,
  ofVertex: Int32Array,
): MirrorMap {
  const edgeOf = new Map<number, number>();
  const name = (a: number, b: number): number => Math.min(a, b) * 2 ** 26 + Math.max(a, b);
  edges.uses.forEach((_, e) => edgeOf.set(name(edges.ends[e * 2]!, edges.ends[e * 2 + 1]!), e));
  const ofEdge = Int32Array.from(edges.uses, (_, e) => {
    const [a, b] = [ofVertex[edges.ends[e * 2]!]!, ofVertex[edges.ends[e * 2 + 1]!]!];
    return a < 0 || b < 0 ? -1 : (edgeOf.get(name(a, b)) ?? -1);
  });
  const faceOf = new Map<string, number>();
  const key = (list: readonly number[]): string => list.toSorted((a, b) => a - b).join(' ');
  const count = indices.length / 3;
  const verticesOf = (f: number): number[] => [0, 1, 2].map((k) => welded[indices[f * 3 + k]!]!);
  for (let f = 0; f < count; f++) faceOf.set(key(verticesOf(f)), f);
  const ofFace = new Int32Array(count).fill(-1);
  const ofCorner = new Int32Array(count * 3).fill(-1);
  for (let f = 0; f < count; f++) {
    const images = verticesOf(f).map((v) => ofVertex[v]!);
    if (images.includes(-1)) continue;
    const g = faceOf.get(key(images));
    if (g === undefined) continue;
    ofFace[f] = g;
    const there = verticesOf(g);
    for (let k = 0; k < 3; k++) ofCorner[f * 3 + k] = g * 3 + there.indexOf(images[k]!);
  }
  return { plane, ofVertex, ofEdge, ofFace, ofCorner };
}
