import { InsideOfEdge } from './inside-of-edge';
import { INSIDE, sheetOfTile, type SurfaceMap } from './surface-map';
import { TILE, TILE_TEXELS, texelPosition, tilesAcross } from './tiling';

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
  const { size, firstTile } = map.sheets[sheetOfTile(map.sheets, tile)]!;
  const across = tilesAcross(size);
  const left = ((tile - firstTile) % across) * TILE;
  const top = Math.floor((tile - firstTile) / across) * TILE;
  const edges = new InsideOfEdge(map);
  for (let i = 0; i < TILE_TEXELS; i++) {
    const code = map.codes[slot * TILE_TEXELS + i]!;
    const k = code & 3;
    if (code < 0 || k === INSIDE) continue;
    const [tx, ty] = texelPosition(TILE, i);
    // A triangle that goes round the sheet's border is rare, and its gutter measured for itself.
    out[i] = edges.texel(code >> 2, k, edges.along(code >> 2, k, left + tx + 0.5, top + ty + 0.5));
  }
}
