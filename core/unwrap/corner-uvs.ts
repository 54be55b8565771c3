import { haveOneOrigin, pickOrigins, weldExact, type Mesh, type UvMesh } from '../mesh';

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
  const { indices: old, faceParts, origins } = mesh;
  const corners = old.length;
  const vertices = weldExact(
    { data: mesh.positions, stride: 3 },
    ...(cornerNormals ? [] : [{ data: mesh.normals, stride: 3 }]),
  );
  // For every vertex a list of those that it is split into, each known by its first corner: a few, so they are looked through.
  const first = new Int32Array(mesh.positions.length / 3).fill(-1);
  const next = new Int32Array(corners);
  const place = new Int32Array(corners);
  const kept: number[] = [];
  const indices = new Uint32Array(corners);
  // No vertex belongs to two parts: they may lie on different sheets.
  const isSame = (a: number, b: number): boolean =>
    uvs[a * 2] === uvs[b * 2] &&
    uvs[a * 2 + 1] === uvs[b * 2 + 1] &&
    faceParts[Math.floor(a / 3)] === faceParts[Math.floor(b / 3)] &&
    // What moves one of them may not move the other.
    (!origins || haveOneOrigin(origins, old[a]!, old[b]!)) &&
    (!cornerNormals ||
      (cornerNormals[a * 3] === cornerNormals[b * 3] &&
        cornerNormals[a * 3 + 1] === cornerNormals[b * 3 + 1] &&
        cornerNormals[a * 3 + 2] === cornerNormals[b * 3 + 2]));
  for (let c = 0; c < corners; c++) {
    const v = vertices[old[c]!]!;
    let root = first[v]!;
    while (root >= 0 && !isSame(root, c)) root = next[root]!;
    if (root < 0) {
      next[c] = first[v]!;
      first[v] = c;
      place[c] = kept.push(c) - 1;
      root = c;
    }
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
    ...pickOrigins(mesh, kept.length, (v) => vertexOf(kept[v]!)),
    indices,
  };
}
