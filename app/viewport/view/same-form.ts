import type { UvMesh } from '../../../core/mesh';

type Numbers = ArrayLike<number>;

function same(a: Numbers, b: Numbers): boolean {
  if (a === b) return true;
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
}

/** Whether two meshes differ in their layout on the sheets, and in names, only. */
export const hasSameForm = (a: UvMesh, b: UvMesh): boolean =>
  a === b ||
  (same(a.indices, b.indices) &&
    same(a.positions, b.positions) &&
    same(a.normals, b.normals) &&
    same(a.faceParts, b.faceParts) &&
    same(a.partSheets ?? [], b.partSheets ?? []) &&
    a.backdrops === b.backdrops);
