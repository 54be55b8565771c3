import {
  boundsOf,
  diagonalOf,
  faceGeometry,
  nextCorner,
  previousCorner,
  topologyOf,
  type UvMesh,
} from '../mesh';
import { cornerUvs, withCornerUvs } from './corner-uvs';
import { DOUBLE_REACH, doubledVertices } from './health';

export type Mending =
  { readonly do: 'merge-doubles' | 'unify-winding' } | { readonly do: 'normals'; readonly angle: number };

export interface Mended {
  readonly mesh: UvMesh;
  /** Where a corner of the former mesh is now: seams are kept as corners. */
  readonly cornerNow: (corner: number) => number;
}

/** Mends a mesh. Triangles keep their numbers, so that paint, seams and regions can follow. */
export function mendMesh(mesh: UvMesh, mending: Mending): Mended {
  switch (mending.do) {
    case 'merge-doubles':
      return { mesh: mergeDoubles(mesh), cornerNow: (c) => c };
    case 'unify-winding':
      return unifyWinding(mesh);
    case 'normals':
      return { mesh: recomputeNormals(mesh, mending.angle), cornerNow: (c) => c };
  }
}

/** Vertices that are meant to be one come to lie at one place. */
function mergeDoubles(mesh: UvMesh): UvMesh {
  const topology = topologyOf(mesh);
  const twins = doubledVertices(mesh, topology, diagonalOf(boundsOf(mesh.positions)) * DOUBLE_REACH);
  const positions = mesh.positions.slice();
  for (let v = 0; v < positions.length / 3; v++) {
    const twin = twins.get(topology.welded[v]!);
    if (twin !== undefined) positions.set(mesh.positions.subarray(twin * 3, twin * 3 + 3), v * 3);
  }
  return withCornerUvs({ ...mesh, positions }, cornerUvs(mesh));
}

/** Neighbours run the same way round; closed pieces face outward (their volume is positive). */
function unifyWinding(mesh: UvMesh): Mended {
  const { across, edges, twisted } = topologyOf(mesh);
  const faces = mesh.faceParts.length;
  const turned = new Int8Array(faces).fill(-1);
  const indices = mesh.indices.slice();
  for (let first = 0; first < faces; first++) {
    if (turned[first]! >= 0) continue;
    turned[first] = 0;
    const piece = [first];
    // The list grows while it is walked.
    for (const f of piece) {
      for (let c = f * 3; c < f * 3 + 3; c++) {
        const o = across[c]!;
        if (o < 0 || turned[Math.floor(o / 3)]! >= 0) continue;
        const g = Math.floor(o / 3);
        turned[g] = twisted[edges.ofCorner[c]!] ? 1 - turned[f]! : turned[f]!;
        piece.push(g);
      }
    }
    let volume = 0;
    for (const f of piece) volume += (turned[f] ? -1 : 1) * signedVolume(mesh, f);
    const isInsideOut = piece.length > 3 && volume < 0;
    for (const f of piece) {
      if ((turned[f] === 1) === isInsideOut) {
        turned[f] = 0;
        continue;
      }
      turned[f] = 1;
      indices[f * 3 + 1] = mesh.indices[f * 3 + 2]!;
      indices[f * 3 + 2] = mesh.indices[f * 3 + 1]!;
    }
  }
  // Corners a, b, c become a, c, b: the edge of the first corner is now the last one's.
  const cornerNow = (c: number): number =>
    turned[Math.floor(c / 3)] && c % 3 !== 1 ? c - (c % 3) + 2 - (c % 3) : c;
  const swapped = { ...mesh, indices };
  return { mesh: withCornerUvs(swapped, cornerUvs(swapped)), cornerNow };
}

function signedVolume({ positions: p, indices }: UvMesh, f: number): number {
  const [a, b, c] = [0, 1, 2].map((k) => indices[f * 3 + k]! * 3) as [number, number, number];
  return (
    (p[a]! * (p[b + 1]! * p[c + 2]! - p[b + 2]! * p[c + 1]!) -
      p[a + 1]! * (p[b]! * p[c + 2]! - p[b + 2]! * p[c]!) +
      p[a + 2]! * (p[b]! * p[c + 1]! - p[b + 1]! * p[c]!)) /
    6
  );
}

/**
 * Smooth where neighbours turn by less than an angle, hard elsewhere; weighted by the corners' angles, as `smoothNormals` does.
 *
 * @param angle radians
 */
function recomputeNormals(mesh: UvMesh, angle: number): UvMesh {
  const { welded } = topologyOf(mesh);
  const { normals } = faceGeometry(mesh);
  const around = new Map<number, number[]>();
  mesh.indices.forEach((v, c) => {
    const list = around.get(welded[v]!);
    if (list) list.push(c);
    else around.set(welded[v]!, [c]);
  });
  const cos = Math.cos(angle) - 1e-9;
  const weights = Float64Array.from(mesh.indices, (_, c) => cornerAngle(mesh, c));
  const own = new Float32Array(mesh.indices.length * 3);
  mesh.indices.forEach((v, c) => {
    const f = Math.floor(c / 3) * 3;
    const sum = [0, 0, 0];
    for (const other of around.get(welded[v]!)!) {
      const g = Math.floor(other / 3) * 3;
      const dot =
        normals[f]! * normals[g]! + normals[f + 1]! * normals[g + 1]! + normals[f + 2]! * normals[g + 2]!;
      if (dot < cos) continue;
      for (let k = 0; k < 3; k++) sum[k]! += normals[g + k]! * weights[other]!;
    }
    const l = Math.hypot(...sum);
    // A triangle without area has no direction of its own: the former normal stays.
    for (let k = 0; k < 3; k++) own[c * 3 + k] = l > 0 ? sum[k]! / l : mesh.normals[v * 3 + k]!;
  });
  return withCornerUvs(mesh, cornerUvs(mesh), own);
}

function cornerAngle({ positions: p, indices }: UvMesh, c: number): number {
  const o = indices[c]! * 3;
  const a = indices[nextCorner(c)]! * 3;
  const b = indices[previousCorner(c)]! * 3;
  const [ux, uy, uz] = [p[a]! - p[o]!, p[a + 1]! - p[o + 1]!, p[a + 2]! - p[o + 2]!];
  const [vx, vy, vz] = [p[b]! - p[o]!, p[b + 1]! - p[o + 1]!, p[b + 2]! - p[o + 2]!];
  const cross = Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx);
  return Math.atan2(cross, ux * vx + uy * vy + uz * vz);
}
