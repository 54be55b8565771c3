import type { Mesh } from './mesh';

/** Unit normal xyz and area of each triangle; a triangle without area has the normal 0. */
export function faceGeometry(mesh: Pick<Mesh, 'positions' | 'indices'>): {
  readonly normals: Float64Array;
  readonly areas: Float64Array;
} {
  const { positions: p, indices } = mesh;
  const faces = indices.length / 3;
  const normals = new Float64Array(faces * 3);
  const areas = new Float64Array(faces);
  for (let f = 0; f < faces; f++) {
    const a = indices[f * 3]! * 3;
    const b = indices[f * 3 + 1]! * 3;
    const c = indices[f * 3 + 2]! * 3;
    const ux = p[b]! - p[a]!;
    const uy = p[b + 1]! - p[a + 1]!;
    const uz = p[b + 2]! - p[a + 2]!;
    const vx = p[c]! - p[a]!;
    const vy = p[c + 1]! - p[a + 1]!;
    const vz = p[c + 2]! - p[a + 2]!;
    const x = uy * vz - uz * vy;
    const y = uz * vx - ux * vz;
    const z = ux * vy - uy * vx;
    const l = Math.sqrt(x * x + y * y + z * z);
    areas[f] = l / 2;
    if (l === 0) continue;
    normals[f * 3] = x / l;
    normals[f * 3 + 1] = y / l;
    normals[f * 3 + 2] = z / l;
  }
  return { normals, areas };
}
