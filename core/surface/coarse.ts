import {
  codesOfTile,
  placeLayers,
  placeOfTile,
  sheetSpans,
  spannedTiles,
  type SurfaceMap,
} from './surface-map';
import { TILE, TILE_TEXELS, texelIndex, texelPosition, tilesAcross } from './tiling';

/** A surface of which only every `stride`th texel of every `stride`th row is there, for a quick look. */
export interface CoarseSurface {
  readonly map: SurfaceMap;
  readonly full: SurfaceMap;
  /** Texels of the full surface a texel of this one, each way: 4 or 8. */
  readonly stride: number;
  /**
   * Takes the texels of a tile out of the full surface's tiles.
   *
   * @param tile of the coarse surface
   * @param of the values of a tile of the full surface, in tile order; null where there are none: `out` is left as it is there
   * @returns whether any were there
   */
  gather<T extends Int32Array | Uint16Array | Uint32Array>(
    tile: number,
    of: (fineTile: number) => T | null,
    out: T,
  ): boolean;
  /** The tile in which a tile of the full surface lies. */
  coarseTile(fineTile: number): number;
}

/** From this size on a sheet is looked at with every eighth texel, below with every fourth. */
const LARGE = 4096;

/**
 * The coarse twin of a surface. Its texels are texels of the full one, so that what is reckoned for them is right, only rare.
 *
 * @returns null if a sheet is so small that nothing would be gained
 */
export function coarseSurface(full: SurfaceMap): CoarseSurface | null {
  const stride = full.sheets.some(({ size }) => size >= LARGE) ? 8 : 4;
  if (full.sheets.some(({ size }) => size < TILE * stride)) return null;
  const spans = sheetSpans(full.sheets.map(({ size }) => size / stride));
  const sheets = full.sheets.map((sheet, k) => ({
    ...sheet,
    ...spans[k]!,
    texelLength: sheet.texelLength * stride,
  }));
  const tiles = spannedTiles(sheets);
  const side = TILE / stride;
  // For every texel of a tile: the tile under it, of those that it covers row by row, and the texel in that one.
  const under = new Uint8Array(TILE_TEXELS);
  const texel = new Uint16Array(TILE_TEXELS);
  for (let i = 0; i < TILE_TEXELS; i++) {
    const [x, y] = texelPosition(TILE, i);
    under[i] = Math.floor(y / side) * stride + Math.floor(x / side);
    texel[i] = texelIndex(TILE, (x % side) * stride + stride / 2, (y % side) * stride + stride / 2);
  }
  const fineTiles = (tile: number): number[] => {
    const { sheet, x, y } = placeOfTile(sheets, tile);
    const [left, top] = [(x / TILE) * stride, (y / TILE) * stride];
    const fine = full.sheets[sheet]!;
    const layer = Math.floor(tile / tiles) * spannedTiles(full.sheets);
    return Array.from(
      { length: stride * stride },
      (_, n) =>
        layer +
        fine.firstTile +
        (top + Math.floor(n / stride)) * tilesAcross(fine.size) +
        left +
        (n % stride),
    );
  };
  const gather: CoarseSurface['gather'] = (tile, of, out) => {
    const parts = fineTiles(tile).map(of);
    if (parts.every((part) => part === null)) return false;
    for (let i = 0; i < TILE_TEXELS; i++) {
      const part = parts[under[i]!];
      if (part) out[i] = part[texel[i]!]!;
    }
    return true;
  };
  const slotOfTile = new Int32Array(tiles * placeLayers(full)).fill(-1);
  const filled: Int32Array[] = [];
  for (let tile = 0; tile < slotOfTile.length; tile++) {
    const codes = new Int32Array(TILE_TEXELS).fill(-1);
    const any = gather(tile, (fine) => codesOfTile(full, fine), codes);
    if (!any || codes.every((code) => code < 0)) continue;
    slotOfTile[tile] = filled.length;
    filled.push(codes);
  }
  const codes = new Int32Array(filled.length * TILE_TEXELS);
  filled.forEach((part, slot) => codes.set(part, slot * TILE_TEXELS));
  const coarseTile = (fineTile: number): number => {
    const { sheet, x, y } = placeOfTile(full.sheets, fineTile);
    const { firstTile, size } = sheets[sheet]!;
    return firstTile + Math.floor(y / TILE / stride) * tilesAcross(size) + Math.floor(x / TILE / stride);
  };
  return {
    map: { ...full, sheets, slotOfTile, codes, subBounds: new Float32Array() },
    full,
    stride,
    gather,
    coarseTile,
  };
}
