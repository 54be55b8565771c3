import { InsideOfEdge } from './inside-of-edge';
import { INSIDE, pixelTile, placeOfTile, type SurfaceMap } from './surface-map';
import { TILE, TILE_TEXELS, texelPosition } from './tiling';

/**
 * For each texel of a tile that is gutter, the covered texel of its island that lies just inside of its border point: what is measured
 * there holds for the gutter too.
 *
 * @param tile of any layer of places
 * @param out receives numbers of texels, counted over all texels of all layers; -1 for what is covered, for nothing, and where there is none such
 */
export function gutterHomes(map: SurfaceMap, tile: number, out: Int32Array): void {
  out.fill(-1);
  const slot = map.slotOfTile[tile]!;
  if (slot < 0) return;
  const { x: left, y: top } = placeOfTile(map.sheets, tile);
  const layer = (tile - pixelTile(map.sheets, tile)) * TILE_TEXELS;
  const edges = new InsideOfEdge(map);
  for (let i = 0; i < TILE_TEXELS; i++) {
    const code = map.codes[slot * TILE_TEXELS + i]!;
    const k = code & 3;
    if (code < 0 || k === INSIDE) continue;
    const [tx, ty] = texelPosition(TILE, i);
    // A triangle that goes round the sheet's border is rare, and its gutter measured for itself.
    out[i] = edges.texel(code >> 2, k, edges.along(code >> 2, k, left + tx + 0.5, top + ty + 0.5), layer);
  }
}
