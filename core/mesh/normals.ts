import { faceGeometry } from './face-geometry';

/**
 * Smooth vertex normals, weighted by corner angle (Thürmer and Wüthrich, "Computing Vertex Normals from Polygonal Facets",
 * 1998). Vertices that share a position share a normal.
 *
 * @param positions xyz a vertex
 * @param indices three vertices a triangle
 * @param group vertices with the same number are smoothed as one (for example a welded index)
 * @returns unit xyz a vertex
 */
export function smoothNormals(
  positions: Float32Array,
  indices: Uint32Array,
  group: Uint32Array,
): Float32Array {
  const { normals, areas } = faceGeometry({ positions, indices });
  const sums = new Float64Array(positions.length);
  for (let f = 0; f < indices.length; f += 3) {
    const ids = [indices[f]!, indices[f + 1]!, indices[f + 2]!] as const;
    const p = (k: number, axis: number): number => positions[ids[k % 3]! * 3 + axis]!;
    if (areas[f / 3] === 0) continue;
    for (let k = 0; k < 3; k++) {
      const ax = p(k + 1, 0) - p(k, 0);
      const ay = p(k + 1, 1) - p(k, 1);
      const az = p(k + 1, 2) - p(k, 2);
      const bx = p(k + 2, 0) - p(k, 0);
      const by = p(k + 2, 1) - p(k, 1);
      const bz = p(k + 2, 2) - p(k, 2);
      const cos = (ax * bx + ay * by + az * bz) / (Math.hypot(ax, ay, az) * Math.hypot(bx, by, bz));
      const angle = Math.acos(Math.min(1, Math.max(-1, cos)));
      const o = group[ids[k]!]! * 3;
      for (let axis = 0; axis < 3; axis++) sums[o + axis]! += normals[f + axis]! * angle;
    }
  }
  const out = new Float32Array(positions.length);
  for (let v = 0; v < positions.length / 3; v++) {
    const o = group[v]! * 3;
    const l = Math.hypot(sums[o]!, sums[o + 1]!, sums[o + 2]!);
    out[v * 3] = l > 0 ? sums[o]! / l : 0;
    out[v * 3 + 1] = l > 0 ? sums[o + 1]! / l : 1;
    out[v * 3 + 2] = l > 0 ? sums[o + 2]! / l : 0;
  }
  return out;
}

/**
 * Makes every normal a unit vector; one without length or with a bad number is replaced from `fallback`.
 */
export function unitNormals(normals: Float32Array, fallback: () => Float32Array): Float32Array {
  const out = new Float32Array(normals.length);
  let spare: Float32Array | undefined;
  for (let i = 0; i < normals.length; i += 3) {
    const l = Math.hypot(normals[i]!, normals[i + 1]!, normals[i + 2]!);
    if (l > 1e-12 && Number.isFinite(l)) {
      for (let k = 0; k < 3; k++) out[i + k] = normals[i + k]! / l;
    } else {
      spare ??= fallback();
      for (let k = 0; k < 3; k++) out[i + k] = spare[i + k]!;
    }
  }
  return out;
}
