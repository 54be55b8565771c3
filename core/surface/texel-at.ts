import { type UvMesh, sheetOfFace } from '../mesh';
import { texelOnSheet, type SurfaceMap } from './surface-map';
import { TILE_TEXELS } from './tiling';
import { flatTriangle, layTriangle, wrap } from './triangle-on-sheet';

/** Where values that are kept a texel, in the order of the map's codes, hold that of a place on a triangle; -1 where nothing is held. */
export function texelsAtPlaces(
  map: SurfaceMap,
): (face: number, at: readonly [number, number, number]) => number {
  const { mesh, sheets, slotOfTile } = map;
  const flat = flatTriangle();
  return (face, at) => {
    const sheet = sheets[sheetOfFace(mesh, face)]!;
    if (!layTriangle(mesh, face, sheet.size, flat)) return -1;
    const [w0, w1, w2] = weightsAt(mesh, face, at);
    const t = flat.at;
    const x = t[0]! * w0 + t[2]! * w1 + t[4]! * w2;
    const y = t[1]! * w0 + t[3]! * w1 + t[5]! * w2;
    const on = (v: number): number => {
      const i = Math.floor(v);
      return flat.stays ? Math.min(sheet.size - 1, Math.max(0, i)) : wrap(i, sheet.size);
    };
    const texel = texelOnSheet(sheet, on(x), on(y));
    const slot = slotOfTile[Math.floor(texel / TILE_TEXELS)]!;
    return slot < 0 ? -1 : slot * TILE_TEXELS + (texel % TILE_TEXELS);
  };
}

/** The shares of a triangle's corners in a place on it. */
function weightsAt(
  { positions: p, indices }: UvMesh,
  face: number,
  at: readonly [number, number, number],
): readonly [number, number, number] {
  const corner = (k: number): number => indices[face * 3 + k]! * 3;
  const [a, b, c] = [corner(0), corner(1), corner(2)];
  let [ee, ef, ff, eq, fq] = [0, 0, 0, 0, 0];
  for (let k = 0; k < 3; k++) {
    const e = p[b + k]! - p[a + k]!;
    const f = p[c + k]! - p[a + k]!;
    const q = at[k]! - p[a + k]!;
    ee += e * e;
    ef += e * f;
    ff += f * f;
    eq += e * q;
    fq += f * q;
  }
  const det = ee * ff - ef * ef;
  if (!(det > 0)) return [1, 0, 0];
  const w1 = (ff * eq - ef * fq) / det;
  const w2 = (ee * fq - ef * eq) / det;
  return [1 - w1 - w2, w1, w2];
}
