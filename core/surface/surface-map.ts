import { backdropSheets, type UvMesh } from '../mesh';
import { TILE_TEXELS, texelIndex, texelPosition, tileCount } from './tiling';

/** Texels around every island that carry the position of the island's nearest border point. */
export const GUTTER = 8;

/** One sheet of a surface map. */
export interface SheetSpan {
  /** Texels a side. */
  readonly size: number;
  /** Where its tiles begin: the sheets' tiles are numbered one sheet after the other. */
  readonly firstTile: number;
}

/** A sheet and what was measured of it. */
export interface MeasuredSheet extends SheetSpan {
  readonly coveredTexels: number;
  /** Texels whose centre lies in more than one triangle. */
  readonly overlappedTexels: number;
  /** Mean length of a texel's side on the model, model units; 0 where nothing lies. */
  readonly texelLength: number;
}

/**
 * Every texel's place on the model. Made once for a mesh and the sizes of its sheets. Only tiles in which something lies are
 * held, and a texel takes four bytes: which triangle it belongs to, and how.
 *
 *     code = triangle * 4 + 3    its centre lies in the triangle
 *     code = triangle * 4 + k    gutter: it belongs to the nearest point of the triangle's edge k (0..2), a border of its island
 *     code = -1                  nothing lies there
 *
 * Positions and normals follow from the code and the texel's own place on the sheet: see places.ts.
 */
export interface SurfaceMap {
  readonly mesh: UvMesh;
  readonly sheets: readonly MeasuredSheet[];
  /** For each tile of all sheets where its codes begin in `codes`, in tiles; -1 where nothing lies in it. */
  readonly slotOfTile: Int32Array;
  /** The codes, 4096 a tile in tile order. */
  readonly codes: Int32Array;
  /** Box in space of each sub-tile of all tiles: min xyz, max xyz; inverted where it is empty. */
  readonly subBounds: Float32Array;
  /** Island number a triangle. */
  readonly islandOfFace: Uint32Array;
  readonly islands: number;
  /** Over all sheets. */
  readonly coveredTexels: number;
  readonly overlappedTexels: number;
}

/** What `code % 4` is where the texel's centre lies in the triangle. */
export const INSIDE = 3;

/** Sheets of these sizes, their tiles one after the other. */
export function sheetSpans(sizes: readonly number[]): SheetSpan[] {
  let firstTile = 0;
  return sizes.map((size) => {
    const span = { size, firstTile };
    firstTile += tileCount(size);
    return span;
  });
}

/** Tiles of all sheets together. */
export const spannedTiles = (sheets: readonly SheetSpan[]): number =>
  sheets.reduce((n, s) => n + tileCount(s.size), 0);

/** The number of the sheet that a tile belongs to. */
export function sheetOfTile(sheets: readonly SheetSpan[], tile: number): number {
  let sheet = sheets.length - 1;
  while (sheet > 0 && tile < sheets[sheet]!.firstTile) sheet--;
  return sheet;
}

/** Index of texel (x, y) of a sheet among all texels; x from the left, y from the top. */
export const texelOnSheet = ({ size, firstTile }: SheetSpan, x: number, y: number): number =>
  firstTile * TILE_TEXELS + texelIndex(size, x, y);

/** Where texel `index` of all texels lies: on which sheet, x from the left, y from the top. */
export function placeOfTexel(
  sheets: readonly SheetSpan[],
  index: number,
): { readonly sheet: number; readonly x: number; readonly y: number } {
  const sheet = sheetOfTile(sheets, Math.floor(index / TILE_TEXELS));
  const { size, firstTile } = sheets[sheet]!;
  const [x, y] = texelPosition(size, index - firstTile * TILE_TEXELS);
  return { sheet, x, y };
}

/** The sizes of a map's sheets, as a name under which what was measured of them is kept. */
export const sizesKey = (sheets: readonly { readonly size: number }[]): string =>
  sheets.map((s) => s.size).join('+');

/** The same of the model alone, without its backdrops: where form is measured. */
export function formTiles(map: Pick<SurfaceMap, 'slotOfTile' | 'sheets' | 'mesh'>): number[] {
  const flat = backdropSheets(map.mesh);
  const tiles = filledTiles(map);
  return flat.size === 0 ? tiles : tiles.filter((tile) => !flat.has(sheetOfTile(map.sheets, tile)));
}

/** The codes of a tile; null where nothing lies in it. */
export function codesOfTile({ slotOfTile, codes }: SurfaceMap, tile: number): Int32Array | null {
  const slot = slotOfTile[tile]!;
  return slot < 0 ? null : codes.subarray(slot * TILE_TEXELS, (slot + 1) * TILE_TEXELS);
}

/** Numbers of the tiles in which something lies, in order. */
export function filledTiles({ slotOfTile }: Pick<SurfaceMap, 'slotOfTile'>): number[] {
  const out: number[] = [];
  slotOfTile.forEach((slot, tile) => {
    if (slot >= 0) out.push(tile);
  });
  return out;
}

/** The code of one texel of all texels; see `SurfaceMap`. */
export function codeAt({ slotOfTile, codes }: SurfaceMap, texel: number): number {
  const slot = slotOfTile[Math.floor(texel / TILE_TEXELS)]!;
  return slot < 0 ? -1 : codes[slot * TILE_TEXELS + (texel % TILE_TEXELS)]!;
}

/** The triangle that a texel belongs to, -1 where nothing lies. */
export const faceAt = (map: SurfaceMap, texel: number): number => codeAt(map, texel) >> 2;

/** The part that a texel belongs to, -1 where nothing lies. */
export function partAt(map: SurfaceMap, texel: number): number {
  const face = faceAt(map, texel);
  return face < 0 ? -1 : map.mesh.faceParts[face]!;
}

/** Whether a texel's centre lies in a triangle: neither gutter nor nothing. */
export function isCovered(map: SurfaceMap, texel: number): boolean {
  const code = codeAt(map, texel);
  return code >= 0 && (code & 3) === INSIDE;
}

/** The island that a texel belongs to, -1 where nothing lies. */
export function islandAt(map: SurfaceMap, texel: number): number {
  const face = faceAt(map, texel);
  return face < 0 ? -1 : map.islandOfFace[face]!;
}

/** Values in the order of the codes as those of a whole sheet in tiled order; 0 where nothing lies. */
export function sheetValues(map: SurfaceMap, sheet: number, values: Uint16Array): Uint16Array {
  const { size, firstTile } = map.sheets[sheet]!;
  const out = new Uint16Array(size * size);
  for (let tile = 0; tile < tileCount(size); tile++) {
    const slot = map.slotOfTile[firstTile + tile]!;
    if (slot < 0) continue;
    out.set(values.subarray(slot * TILE_TEXELS, (slot + 1) * TILE_TEXELS), tile * TILE_TEXELS);
  }
  return out;
}

/** Figures of a UV layout that need no sheet. */
export interface UvFigures {
  /** Triangles that reach outside 0..1. */
  readonly outOfRange: number;
  /** Triangles that lie face down (clockwise) in the layout. */
  readonly flipped: number;
}

/** How many triangles have UVs outside 0..1, and how many lie face down. */
export function uvFigures(mesh: UvMesh): UvFigures {
  // UVs are 32-bit floats: an error of 1e-6 is a few units in the last place at 1.
  const EPSILON = 1e-6;
  let outOfRange = 0;
  let flipped = 0;
  for (let c = 0; c < mesh.indices.length; c += 3) {
    const [a, b, d] = [0, 1, 2].map((k) => {
      const v = mesh.indices[c + k]! * 2;
      return [mesh.uvs[v]!, mesh.uvs[v + 1]!] as const;
    }) as [readonly [number, number], readonly [number, number], readonly [number, number]];
    if ([...a, ...b, ...d].some((x) => x < -EPSILON || x > 1 + EPSILON)) outOfRange++;
    if ((b[0] - a[0]) * (d[1] - a[1]) - (b[1] - a[1]) * (d[0] - a[0]) < 0) flipped++;
  }
  return { outOfRange, flipped };
}
