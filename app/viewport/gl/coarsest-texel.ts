import { sheetOfPart, type UvMesh } from '../../../core/mesh';

/**
 * Length of the largest texel that a model has, by the areas of its triangles on the model and on the sheet.
 *
 * @param sizes texels a side of each sheet
 * @returns model units; 0 where nothing is laid out
 */
export function coarsestTexel(mesh: UvMesh, sizes: readonly number[]): number {
  const { positions: p, uvs, indices, faceParts } = mesh;
  const sizeOfPart = mesh.parts.map((_, part) => sizes[sheetOfPart(mesh, part)] ?? sizes[0]!);
  let most = 0;
  for (let f = 0; f < faceParts.length; f++) {
    const [a, b, c] = [indices[f * 3]!, indices[f * 3 + 1]!, indices[f * 3 + 2]!];
    const flat =
      (uvs[b * 2]! - uvs[a * 2]!) * (uvs[c * 2 + 1]! - uvs[a * 2 + 1]!) -
      (uvs[b * 2 + 1]! - uvs[a * 2 + 1]!) * (uvs[c * 2]! - uvs[a * 2]!);
    const texels = Math.abs(flat) * sizeOfPart[faceParts[f]!]! ** 2;
    // A triangle of less than a texel tells nothing that could be seen.
    if (texels < 1) continue;
    const [ux, uy, uz] = [0, 1, 2].map((k) => p[b * 3 + k]! - p[a * 3 + k]!) as [number, number, number];
    const [vx, vy, vz] = [0, 1, 2].map((k) => p[c * 3 + k]! - p[a * 3 + k]!) as [number, number, number];
    const area = Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx);
    most = Math.max(most, Math.sqrt(area / texels));
  }
  return most;
}
