import type { UvMesh } from '../mesh';

/** UVs further than this many sheets across in one triangle are left out: no texture can show them. */
const MAX_SHEETS_ACROSS = 4;

/** A triangle as it lies on its sheet, in texels: x from the left, y from the top. */
export interface FlatTriangle {
  /** Corners x, y; moved by whole sheets so that the triangle begins in the first. */
  readonly at: Float64Array;
  /** Whether it keeps within the sheet; if not, it goes round to the opposite border. */
  stays: boolean;
}

/** Room for a triangle, for `layTriangle`. */
export const flatTriangle = (): FlatTriangle => ({ at: new Float64Array(6), stays: true });

/** @returns false if the triangle is too far stretched to be shown at all; `out` means nothing then */
export function layTriangle(mesh: UvMesh, face: number, size: number, out: FlatTriangle): boolean {
  const { at } = out;
  const { indices, uvs } = mesh;
  let minU = Infinity;
  let minV = Infinity;
  let maxU = -Infinity;
  let maxV = -Infinity;
  for (let k = 0; k < 3; k++) {
    const vertex = indices[face * 3 + k]! * 2;
    const u = uvs[vertex]!;
    const v = uvs[vertex + 1]!;
    at[k * 2] = u;
    at[k * 2 + 1] = v;
    minU = Math.min(minU, u);
    maxU = Math.max(maxU, u);
    minV = Math.min(minV, v);
    maxV = Math.max(maxV, v);
  }
  if (maxU - minU > MAX_SHEETS_ACROSS || maxV - minV > MAX_SHEETS_ACROSS) return false;
  const inside = minU >= 0 && minV >= 0 && maxU <= 1 && maxV <= 1;
  const shiftU = inside ? 0 : Math.floor(minU);
  const shiftV = inside ? 0 : Math.floor(minV);
  out.stays = true;
  for (let k = 0; k < 3; k++) {
    const x = (at[k * 2]! - shiftU) * size;
    const y = (1 - (at[k * 2 + 1]! - shiftV)) * size;
    at[k * 2] = x;
    at[k * 2 + 1] = y;
    // A layout that stays on its sheet is shown clamped: nothing of it belongs to the opposite border.
    if (!(x >= 0 && x <= size && y >= 0 && y <= size)) out.stays = false;
  }
  return true;
}

/** A place on the sheet, brought back onto it. */
export const wrap = (i: number, size: number): number => ((i % size) + size) % size;
