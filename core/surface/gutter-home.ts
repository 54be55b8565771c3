import { INSIDE, sheetOfTile, texelOnSheet, codeAt, type SurfaceMap } from './surface-map';
import { TILE, TILE_TEXELS, texelPosition, tilesAcross } from './tiling';
import { flatTriangle, layTriangle } from './triangle-on-sheet';

/** How far inside of the border the covered texel is looked for, texels. */
const STEPS_IN = [0.5, 1, 1.5] as const;

/**
 * For each texel of a tile that is gutter, the covered texel of its island that lies just inside of its border point: what is measured
 * there holds for the gutter too.
 *
 * @param out receives numbers of texels, counted over all texels; -1 for what is covered, for nothing, and where there is none such
 */
export function gutterHomes(map: SurfaceMap, tile: number, out: Int32Array): void {
  out.fill(-1);
  const slot = map.slotOfTile[tile]!;
  if (slot < 0) return;
  const sheet = map.sheets[sheetOfTile(map.sheets, tile)]!;
  const { size, firstTile } = sheet;
  const across = tilesAcross(size);
  const left = ((tile - firstTile) % across) * TILE;
  const top = Math.floor((tile - firstTile) / across) * TILE;
  const flat = flatTriangle();
  let laid = -1;
  for (let i = 0; i < TILE_TEXELS; i++) {
    const code = map.codes[slot * TILE_TEXELS + i]!;
    const k = code & 3;
    if (code < 0 || k === INSIDE) continue;
    const face = code >> 2;
    if (laid !== face) {
      layTriangle(map.mesh, face, size, flat);
      laid = face;
    }
    // A triangle that goes round the sheet's border is rare, and its gutter measured for itself.
    if (!flat.stays) continue;
    const t = flat.at;
    const next = (k + 1) % 3;
    const tip = (k + 2) % 3;
    const [ax, ay] = [t[k * 2]!, t[k * 2 + 1]!];
    const [dx, dy] = [t[next * 2]! - ax, t[next * 2 + 1]! - ay];
    const long = Math.hypot(dx, dy);
    if (long === 0) continue;
    const [tx, ty] = texelPosition(TILE, i);
    const s = Math.min(
      1,
      Math.max(0, ((left + tx + 0.5 - ax) * dx + (top + ty + 0.5 - ay) * dy) / (long * long)),
    );
    // Square to the edge, toward the third corner.
    const side = dx * (t[tip * 2 + 1]! - ay) - dy * (t[tip * 2]! - ax) < 0 ? -1 : 1;
    const [ix, iy] = [(-dy / long) * side, (dx / long) * side];
    for (const step of STEPS_IN) {
      const x = Math.floor(ax + dx * s + ix * step);
      const y = Math.floor(ay + dy * s + iy * step);
      if (x < 0 || y < 0 || x >= size || y >= size) continue;
      const texel = texelOnSheet(sheet, x, y);
      const there = codeAt(map, texel);
      if (there < 0 || (there & 3) !== INSIDE) continue;
      if (map.islandOfFace[there >> 2] !== map.islandOfFace[face]) continue;
      out[i] = texel;
      break;
    }
  }
}
