import { topologyOf, type Mesh, type SymmetryPlane, type Topology } from '../../mesh';
import { halfTwice } from './half-twice';
import { LEAST_SHARED, mirrorMap, sharedPart, type MirrorMap } from './mirror-map';
import { OtherSide } from './other-side';

/** A mesh that is its own mirror image, with what stands for what. */
export interface EvenMesh {
  readonly mesh: Pick<Mesh, 'positions' | 'indices'>;
  readonly topology: Topology;
  readonly map: MirrorMap;
  /** The surface's welded vertex for each vertex, if the mesh has others; null if it has the same. */
  readonly vertexOf: Uint32Array | null;
  /** The surface's own vertices on its other side. */
  readonly other: OtherSide;
}

/** Sides that have this part of their triangles in common are cut as they are. */
const NEARLY_ALL = 0.9;

/** Of fewer triangles every edge counts: nothing else stands for them. */
const FEW = 100;

/**
 * A mesh as its own mirror image over the plane by which it is alike on both sides. Quads are often cut in two another way on either side: then
 * the triangles of one side are taken for both, with the vertices that are there. Sides that are triangulated quite differently are stood for by
 * one of them and its mirror image.
 *
 * @param isWhole nothing is marked within it that must be a seam
 * @returns null if it isn't alike on both sides
 */
export function evenMesh(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  topology: Topology,
  plane: SymmetryPlane,
  isWhole: boolean,
): EvenMesh | null {
  const other = new OtherSide(mesh, topology, plane);
  const { ofVertex } = other;
  const own = { mesh, topology, map: mirrorMap(mesh, topology, plane, ofVertex), vertexOf: null, other };
  if (sharedPart(own.map) === 1) return own;
  const indices = oneSideTwice(mesh, topology, plane, ofVertex);
  if (indices) {
    const even = { positions: mesh.positions, indices };
    const its = topologyOf(even);
    const map = mirrorMap(even, its, plane, ofVertex);
    if (sharedPart(map) >= LEAST_SHARED) return { ...own, mesh: even, topology: its, map };
  }
  if (sharedPart(own.map) >= NEARLY_ALL) return own;
  const isLarge = mesh.indices.length >= 3 * FEW;
  const twice = isWhole && isLarge && other.isAlike() ? halfTwice(mesh, topology, plane, other) : null;
  if (twice) return { ...twice, map: mirrorMap(twice.mesh, twice.topology, plane, twice.ofVertex), other };
  return sharedPart(own.map) >= LEAST_SHARED ? own : null;
}

/** Triangles of the near side, and their mirror images in place of the far side's; null if that are not as many. */
function oneSideTwice(
  { positions: p, indices }: Pick<Mesh, 'positions' | 'indices'>,
  { welded }: Topology,
  { point, normal }: SymmetryPlane,
  ofVertex: Int32Array,
): Uint32Array | null {
  const side = (v: number): number => {
    if (ofVertex[v] === v) return 0;
    let sum = 0;
    for (let k = 0; k < 3; k++) sum += (p[v * 3 + k]! - point[k]!) * normal[k]!;
    return Math.sign(sum);
  };
  const near: number[] = [];
  const other: number[] = [];
  let far = 0;
  for (let c = 0; c < indices.length; c += 3) {
    const corners = [0, 1, 2].map((k) => welded[indices[c + k]!]!);
    const sides = corners.map(side);
    const isPaired = corners.every((v) => ofVertex[v]! >= 0);
    if (isPaired && Math.min(...sides) >= 0 && Math.max(...sides) > 0) near.push(...corners);
    else if (isPaired && Math.max(...sides) <= 0 && Math.min(...sides) < 0) far++;
    else other.push(...corners);
  }
  if (far * 3 !== near.length) return null;
  const mirrored = near.map((_, i) => ofVertex[near[i - (i % 3) + ((3 - (i % 3)) % 3)]!]!);
  return Uint32Array.from([...near, ...mirrored, ...other]);
}
