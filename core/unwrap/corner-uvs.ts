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
  const corners = mesh.indices.length;
  const positions = new Float32Array(corners * 3);
  const normals = cornerNormals ?? new Float32Array(corners * 3);
  for (let c = 0; c < corners; c++) {
    const v = mesh.indices[c]! * 3;
    positions.set(mesh.positions.subarray(v, v + 3), c * 3);
    if (!cornerNormals) normals.set(mesh.normals.subarray(v, v + 3), c * 3);
  }
  const first = weldExact(
    { data: positions, stride: 3 },
    { data: normals, stride: 3 },
    { data: uvs, stride: 2 },
    // No vertex belongs to two parts: they may lie on different sheets.
    { data: Float32Array.from({ length: corners }, (_, c) => mesh.faceParts[Math.floor(c / 3)]!), stride: 1 },
  );
  const kept: number[] = [];
  const place = new Int32Array(corners).fill(-1);
  const indices = new Uint32Array(corners);
  for (let c = 0; c < corners; c++) {
    const root = first[c]!;
    if (place[root]! < 0) place[root] = kept.push(root) - 1;
    indices[c] = place[root]!;
  }
  const pick = (data: Float32Array, stride: number): Float32Array => {
    const out = new Float32Array(kept.length * stride);
    kept.forEach((c, v) => out.set(data.subarray(c * stride, (c + 1) * stride), v * stride));
    return out;
  };
  return {
    ...mesh,
    positions: pick(positions, 3),
    normals: pick(normals, 3),
    uvs: pick(uvs, 2),
    indices,
  };
}
