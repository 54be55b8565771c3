/**
 * How a sheet lies in memory. Everything that is kept a texel (surface map, layers, cues, stroke coverage) shares one order:
 *
 *     sheet  = tiles of 64 x 64 texels, row by row from the upper left
 *     tile   = four sub-tiles of 32 x 32: upper left, upper right, lower left, lower right
 *     sub    = 1024 texels, row by row
 *
 * so that a tile is 4096 texels in a row and a sub-tile, the unit by which dabs are culled, is 1024. Row 0 is the top of the
 * sheet (v = 1).
 */
export const TILE = 64;
export const SUB = 32;
export const TILE_TEXELS = TILE * TILE;
export const SUB_TEXELS = SUB * SUB;
export const TILE_BYTES = TILE_TEXELS * 4;

export const SHEET_SIZES = [64, 128, 256, 512, 1024, 2048, 4096, 8192] as const;
export type SheetSize = (typeof SHEET_SIZES)[number];

/** Whether a sheet can be of this size, texels a side. */
export const isSheetSize = (n: number): n is SheetSize => (SHEET_SIZES as readonly number[]).includes(n);

/** Tiles a side of a sheet of this size. */
export const tilesAcross = (size: number): number => size / TILE;
/** Tiles of a sheet of this size. */
export const tileCount = (size: number): number => (size / TILE) ** 2;

/** Index of texel (x, y) in the order above; x from the left, y from the top. */
export function texelIndex(size: number, x: number, y: number): number {
  const tile = (y >> 6) * (size >> 6) + (x >> 6);
  const sub = ((y >> 5) & 1) * 2 + ((x >> 5) & 1);
  return tile * TILE_TEXELS + sub * SUB_TEXELS + (y & 31) * SUB + (x & 31);
}

/** Where texel `index` lies: x from the left, y from the top. */
export function texelPosition(size: number, index: number): [x: number, y: number] {
  const tile = Math.floor(index / TILE_TEXELS);
  const sub = (index >> 10) & 3;
  const across = size >> 6;
  const x = (tile % across) * TILE + (sub & 1) * SUB + (index & 31);
  const y = Math.floor(tile / across) * TILE + (sub >> 1) * SUB + ((index >> 5) & 31);
  return [x, y];
}

/** Order within one tile: for texel (x, y) of the tile row by row, its place in the tile. Filled once. */
const TILE_ORDER = Uint16Array.from({ length: TILE_TEXELS }, (_, i) =>
  texelIndex(TILE, i % TILE, Math.floor(i / TILE)),
);

/** One tile of pixels (four channels of 8 or 16 bit a texel) from tile order to rows of 64. */
export function tileToRows<T extends Uint8Array | Uint16Array>(tile: T, rows: T): void {
  const words = tile.BYTES_PER_ELEMENT;
  const from = new Uint32Array(tile.buffer, tile.byteOffset, TILE_TEXELS * words);
  const to = new Uint32Array(rows.buffer, rows.byteOffset, TILE_TEXELS * words);
  for (let i = 0; i < TILE_TEXELS; i++) {
    for (let k = 0; k < words; k++) to[i * words + k] = from[TILE_ORDER[i]! * words + k]!;
  }
}

/** Whole-sheet data from the tiled order to rows from the top. */
export function toRows<T extends Uint8Array | Uint16Array | Uint32Array | Float32Array>(
  size: number,
  tiled: T,
  rows: T,
): T {
  for (let y = 0; y < size; y++) {
    for (let x = 0; x < size; x += SUB) {
      const from = texelIndex(size, x, y);
      rows.set(tiled.subarray(from, from + SUB) as never, y * size + x);
    }
  }
  return rows;
}

/** Whole-sheet data from rows from the top to the tiled order. */
export function fromRows<T extends Uint8Array | Uint16Array | Uint32Array | Float32Array>(
  size: number,
  rows: T,
  tiled: T,
): T {
  for (let y = 0; y < size; y++) {
    for (let x = 0; x < size; x += SUB) {
      const o = y * size + x;
      tiled.set(rows.subarray(o, o + SUB) as never, texelIndex(size, x, y));
    }
  }
  return tiled;
}
