import { IDENTITY, normalize, placed, placeDirection, type Placing, type Vec3 } from '../math';
import type { Mesh } from './mesh';
import { NO_ORIGIN, type Origins } from './origins';

/**
 * A model with its vertices where another version of its file has them. Its layout, its parts and what was mended stay.
 *
 * @param former its file as it was read; null where none was kept: the model itself stands for it then
 * @param next the other version
 * @param placing takes places of the file to the model; null: they are the same
 * @returns null where the other version has other triangles or other UVs, or nothing tells where vertices come from
 */
export function reshaped<M extends Mesh>(
  mesh: M,
  former: Mesh | null,
  next: Mesh,
  placing: Placing | null,
): M | null {
  const { positions: p, normals: n, origins } = next;
  if (!former)
    return haveSameTriangles(mesh, next)
      ? { ...mesh, positions: p, normals: n, ...(origins && { origins }) }
      : null;
  if (!mesh.origins || !origins || !haveSameTriangles(former, next)) return null;
  if (!isSame(former.origins?.from ?? null, origins.from)) return null;
  return moved(mesh, mesh.origins, { ...next, origins }, placing);
}

/** @returns null where a vertex comes from one that isn't there */
function moved<M extends Mesh>(
  mesh: M,
  origins: Origins,
  next: Mesh & { readonly origins: Origins },
  placing: Placing | null,
): M | null {
  const vertexOf = new Map<number, number>();
  for (let v = 0; v < next.positions.length / 3; v++) vertexOf.set(next.origins.from[v * 3]!, v);
  const positions = mesh.positions.slice();
  const normals = mesh.normals.slice();
  for (let v = 0; v < positions.length; v += 3) {
    if (origins.from[v] === NO_ORIGIN) continue;
    const at: [number, number, number] = [0, 0, 0];
    const normal: [number, number, number] = [0, 0, 0];
    for (let k = v; k < v + 3; k++) {
      const weight = origins.weights[k]!;
      if (weight === 0) continue;
      const from = vertexOf.get(origins.from[k]!);
      if (from === undefined) return null;
      for (let c = 0; c < 3; c++) {
        at[c]! += next.positions[from * 3 + c]! * weight;
        normal[c]! += next.normals[from * 3 + c]! * weight;
      }
    }
    positions.set(placing ? placed(at, placing) : at, v);
    if (normal.some((n) => n !== 0)) normals.set(turnedBy(normal, placing ?? IDENTITY), v);
  }
  return { ...mesh, positions, normals };
}

const turnedBy = (normal: Vec3, placing: Placing): Vec3 =>
  placing === IDENTITY ? normalize(normal) : placeDirection(normal, placing);

/** Whether two models have the same triangles on the same UVs, wherever their vertices lie. */
const haveSameTriangles = (a: Mesh, b: Mesh): boolean => isSame(a.indices, b.indices) && isSame(a.uvs, b.uvs);

function isSame(x: ArrayLike<number> | null, y: ArrayLike<number> | null): boolean {
  if (!x || !y) return x === y;
  if (x.length !== y.length) return false;
  for (let i = 0; i < x.length; i++) if (x[i] !== y[i]) return false;
  return true;
}
