import { edgeTable, groupByEdge, weldExact, type Mesh, type UvMesh } from '../mesh';
import { packPieces } from './pack';

/**
 * A simple layout so that work can start on a model without UVs: neighbouring triangles that look toward the same side of a
 * box make one island, projected along that side and packed. Nothing is stretched more than a slope of 45° does; seams fall
 * where the surface turns from one side to the next.
 *
 * @param margin free space around each island, in parts of the sheet's side
 */
export function boxProjection(mesh: Mesh, margin = 1 / 128): UvMesh {
  const faces = mesh.indices.length / 3;
  const side = Uint8Array.from({ length: faces }, (_, f) => sideOf(mesh, f));
  const charts = groupsOfOneSide(mesh, side);

  const pieces: { vertices: Map<number, number>; points: number[] }[] = [];
  const corner = new Uint32Array(mesh.indices.length);
  for (let f = 0; f < faces; f++) {
    const chart = charts[f]!;
    const piece = (pieces[chart] ??= { vertices: new Map(), points: [] });
    for (let k = 0; k < 3; k++) {
      const v = mesh.indices[f * 3 + k]!;
      let local = piece.vertices.get(v);
      if (local === undefined) {
        piece.vertices.set(v, (local = piece.vertices.size));
        piece.points.push(...project(mesh, v, side[f]!));
      }
      corner[f * 3 + k] = local;
    }
  }
  const packed = packPieces(
    pieces.map(({ points }) => ({ points: Float64Array.from(points) })),
    margin,
  );
  const first: number[] = [];
  let total = 0;
  for (const piece of pieces) {
    first.push(total);
    total += piece.vertices.size;
  }
  const positions = new Float32Array(total * 3);
  const normals = new Float32Array(total * 3);
  const uvs = new Float32Array(total * 2);
  pieces.forEach((piece, c) => {
    for (const [v, local] of piece.vertices) {
      const to = first[c]! + local;
      positions.set(mesh.positions.subarray(v * 3, v * 3 + 3), to * 3);
      normals.set(mesh.normals.subarray(v * 3, v * 3 + 3), to * 3);
      uvs[to * 2] = packed[c]![local * 2]!;
      uvs[to * 2 + 1] = packed[c]![local * 2 + 1]!;
    }
  });
  const indices = corner.map((local, i) => first[charts[Math.floor(i / 3)]!]! + local);
  return { positions, normals, uvs, indices, faceParts: mesh.faceParts, parts: mesh.parts };
}

/** 0 +x, 1 -x, 2 +y, 3 -y, 4 +z, 5 -z: the side that the flat triangle looks toward most. */
function sideOf(mesh: Mesh, f: number): number {
  const p = (k: number, axis: number): number => mesh.positions[mesh.indices[f * 3 + k]! * 3 + axis]!;
  const u = [0, 1, 2].map((a) => p(1, a) - p(0, a)) as [number, number, number];
  const v = [0, 1, 2].map((a) => p(2, a) - p(0, a)) as [number, number, number];
  const n = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
  let axis = 0;
  for (let a = 1; a < 3; a++) if (Math.abs(n[a]!) > Math.abs(n[axis]!)) axis = a;
  return axis * 2 + (n[axis]! < 0 ? 1 : 0);
}

/** The point seen from the side, so that front-facing triangles run counter-clockwise. */
function project(mesh: Mesh, v: number, side: number): [number, number] {
  const [x, y, z] = [0, 1, 2].map((a) => mesh.positions[v * 3 + a]!) as [number, number, number];
  switch (side) {
    case 0:
      return [-z, y];
    case 1:
      return [z, y];
    case 2:
      return [x, -z];
    case 3:
      return [x, z];
    case 4:
      return [x, y];
    default:
      return [-x, y];
  }
}

/** Numbers the sets of triangles that hang together by edges and have the same side and part. */
function groupsOfOneSide(mesh: Mesh, side: Uint8Array): Uint32Array {
  const welded = weldExact({ data: mesh.positions, stride: 3 });
  // Keeping the vertices of each side and part apart cuts the edges between them.
  const kinds = new Map<number, Map<number, number>>();
  let next = 0;
  const indices = mesh.indices.map((v, c) => {
    const f = Math.floor(c / 3);
    const kind = mesh.faceParts[f]! * 6 + side[f]!;
    let known = kinds.get(kind);
    if (!known) kinds.set(kind, (known = new Map()));
    let id = known.get(welded[v]!);
    if (id === undefined) known.set(welded[v]!, (id = next++));
    return id;
  });
  const same = Uint32Array.from({ length: next }, (_, i) => i);
  return groupByEdge(edgeTable(indices, same), side.length).ofFace;
}
