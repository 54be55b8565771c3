import { findIslands, nextCorner, sheetOfFace, type UvMesh } from '../../mesh';
import type { Vec3 } from '../../math';
import { measureIslands } from '../../unwrap';
import { ownersOf } from './owners';

/** Islands of less than this part of the surface aren't asked for their density. */
const SPECK = 1e-4;

/** How many times denser than the sparsest island the densest is, and where the sparsest is. */
export function unevenDensity(mesh: UvMesh): { factor: number; part: string; face: number } {
  const islands = measureIslands(mesh, 1).filter((i) => i.area > 0 && i.density > 0);
  const whole = islands.reduce((sum, i) => sum + i.area, 0);
  const large = islands.filter((i) => i.area > whole * SPECK);
  if (large.length === 0) return { factor: 1, part: '', face: -1 };
  const sparsest = large.reduce((a, b) => (b.density < a.density ? b : a));
  const densest = Math.max(...large.map((i) => i.density));
  return {
    factor: densest / sparsest.density,
    part: mesh.parts[sparsest.part]!,
    face: sparsest.faces[0]!,
  };
}

/** Texels a side at which islands on one another are looked for. */
const COARSE = 512;
/** Cosine of the angle from which two faces that share texels are lit otherwise. */
const OTHERWISE = 0.9;

/** Triangles that lie on another island whose own look another way there. */
export function stackedFaces(mesh: UvMesh): { count: number; part: string; face: number } {
  const { ofFace: islandOf } = findIslands(mesh);
  let count = 0;
  let face = -1;
  for (let sheet = 0; sheet <= Math.max(0, ...(mesh.partSheets ?? [0])); sheet++) {
    const first = ownersOf(mesh, COARSE, sheet).face;
    for (let f = 0; f < islandOf.length; f++) {
      if (sheetOfFace(mesh, f) !== sheet) continue;
      const v = [0, 1, 2].map((k) => mesh.indices[f * 3 + k]!);
      const x = Math.floor((v.reduce((sum, i) => sum + mesh.uvs[i * 2]!, 0) / 3) * COARSE);
      const y = Math.floor((1 - v.reduce((sum, i) => sum + mesh.uvs[i * 2 + 1]!, 0) / 3) * COARSE);
      if (x < 0 || y < 0 || x >= COARSE || y >= COARSE) continue;
      const other = first[y * COARSE + x]!;
      if (other < 0 || islandOf[other] === islandOf[f]) continue;
      const [p, q] = [normalOf(mesh, f), normalOf(mesh, other)];
      if (p[0] * q[0] + p[1] * q[1] + p[2] * q[2] > OTHERWISE) continue;
      count++;
      if (face < 0) face = f;
    }
  }
  return { count, part: face < 0 ? '' : mesh.parts[mesh.faceParts[face]!]!, face };
}

function normalOf({ positions, indices }: UvMesh, f: number): Vec3 {
  const at = (c: number, k: number): number => positions[indices[c]! * 3 + k]!;
  const [a, b] = [f * 3, nextCorner(f * 3)];
  const c = nextCorner(b);
  const [ux, uy, uz] = [at(b, 0) - at(a, 0), at(b, 1) - at(a, 1), at(b, 2) - at(a, 2)];
  const [vx, vy, vz] = [at(c, 0) - at(a, 0), at(c, 1) - at(a, 1), at(c, 2) - at(a, 2)];
  const n: Vec3 = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
  const length = Math.hypot(...n) || 1;
  return [n[0] / length, n[1] / length, n[2] / length];
}
