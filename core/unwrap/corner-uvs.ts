import { weldExact, type Mesh, type UvMesh } from '../mesh';

/** The layout corner by corner: uv of corner c at 2c. What every change of a layout works on. */
export function cornerUvs(mesh: UvMesh): Float32Array {
  const out = new Float32Array(mesh.indices.length * 2);
  for (let c = 0; c < mesh.indices.length; c++) {
    out[c * 2] = mesh.uvs[mesh.indices[c]! * 2]!;
    out[c * 2 + 1] = mesh.uvs[mesh.indices[c]! * 2 + 1]!;
  }
  return out;
}

/**
 * The mesh with another layout: vertices are split and joined anew, triangles keep their numbers.
 *
 * @param uvs uv a corner
 * @param cornerNormals unit xyz a corner; the mesh's own if left out
 */
export function withCornerUvs(mesh: Mesh, uvs: Float32Array, cornerNormals?: Float32Array): UvMesh {
  const { indices: old, faceParts } = mesh;
  const corners = old.length;
  // Vertices are compared once, corners then by their numbers: a third of the time of comparing all of every corner.
  const vertices = weldExact(
    { data: mesh.positions, stride: 3 },
    ...(cornerNormals ? [] : [{ data: mesh.normals, stride: 3 }]),
  );
  // No vertex belongs to two parts: they may lie on different sheets.
  const keys = new Float32Array(corners * 3);
  for (let c = 0; c < corners; c++) {
    const v = vertices[old[c]!]!;
    keys[c * 3] = v & 0xfff;
    keys[c * 3 + 1] = v >>> 12;
    keys[c * 3 + 2] = faceParts[Math.floor(c / 3)]!;
  }
  const first = weldExact(
    { data: keys, stride: 3 },
    { data: uvs, stride: 2 },
    ...(cornerNormals ? [{ data: cornerNormals, stride: 3 }] : []),
  );
  const kept: number[] = [];
  const place = new Int32Array(corners).fill(-1);
  const indices = new Uint32Array(corners);
  for (let c = 0; c < corners; c++) {
    const root = first[c]!;
    if (place[root]! < 0) place[root] = kept.push(root) - 1;
    indices[c] = place[root]!;
  }
  const pick = (data: Float32Array, stride: number, of: (corner: number) => number): Float32Array => {
    const out = new Float32Array(kept.length * stride);
    for (let v = 0; v < kept.length; v++) {
      const from = of(kept[v]!) * stride;
      for (let k = 0; k < stride; k++) out[v * stride + k] = data[from + k]!;
    }
    return out;
  };
  const vertexOf = (corner: number): number => old[corner]!;
  const itself = (corner: number): number => corner;
  return {
    ...mesh,
    positions: pick(mesh.positions, 3, vertexOf),
    normals: cornerNormals ? pick(cornerNormals, 3, itself) : pick(mesh.normals, 3, vertexOf),
    uvs: pick(uvs, 2, itself),
    indices,
  };
}
