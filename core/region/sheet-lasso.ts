import { cross, dot, sub, type Vec3 } from '../math';
import { faceRuns, type UvMesh } from '../mesh';
import type { Cut } from './cut';
import { facesWithin } from './lasso';

/** A view of the sheet, where UVs stand for places. */
const FLAT_VIEW = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 1];

/**
 * What a closed line over the sheet encloses.
 *
 * @param outline corners, UV
 * @param isShown whether a triangle lies on that sheet
 * @param how whether what it runs through is added or taken off
 */
export function enclosedByUv(
  mesh: UvMesh,
  outline: Cut['outline'],
  isShown: (face: number) => boolean,
  how: Cut['how'] = 'add',
): { readonly faces: readonly number[]; readonly cuts: readonly Cut[] } {
  const { uvs, indices } = mesh;
  const positions = new Float32Array((uvs.length / 2) * 3);
  for (let v = 0; v < uvs.length / 2; v++) positions.set([uvs[v * 2]!, uvs[v * 2 + 1]!, 0], v * 3);
  const { whole, cut } = facesWithin({ positions, indices }, FLAT_VIEW, outline, isShown);
  // Triangles that are folded to a line on the sheet, or in space, have nothing to be cut.
  const ways = new Map(cut.map((face) => [face, wayToSheet(mesh, face)] as const).filter(([, way]) => way));
  if (ways.size === 0) return { faces: whole, cuts: [] };
  const faces = faceRuns(mesh.faceParts.length, (f) => ways.has(f));
  const flat = [...ways.keys()].sort((a, b) => a - b).flatMap((face) => ways.get(face)!);
  return { faces: whole, cuts: [{ how, faces, view: FLAT_VIEW, flat, outline }] };
}

/** Takes places of a triangle to the sheet: two rows of four, u and v. Null where the triangle has no area. */
function wayToSheet({ positions: p, uvs, indices }: UvMesh, face: number): number[] | null {
  const [a, b, c] = [0, 1, 2].map((k) => indices[face * 3 + k]!) as [number, number, number];
  const at = (v: number): Vec3 => [p[v * 3]!, p[v * 3 + 1]!, p[v * 3 + 2]!];
  const [e1, e2] = [sub(at(b), at(a)), sub(at(c), at(a))];
  const n = cross(e1, e2);
  const area2 = dot(n, n);
  if (!(area2 > 0)) return null;
  // Weights of the second and third corner grow along these.
  const [gb, gc] = [cross(e2, n), cross(n, e1)].map((v) => v.map((x) => x / area2)) as [number[], number[]];
  return [0, 1].flatMap((k) => {
    const [ua, ub, uc] = [uvs[a * 2 + k]!, uvs[b * 2 + k]!, uvs[c * 2 + k]!];
    const g = [0, 1, 2].map((i) => gb[i]! * (ub - ua) + gc[i]! * (uc - ua));
    const [x, y, z] = at(a);
    return [...g, ua - (g[0]! * x + g[1]! * y + g[2]! * z)];
  });
}
