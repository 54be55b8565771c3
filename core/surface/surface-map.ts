import { backdropSheets, type UvMesh } from '../mesh';
import { TILE, TILE_TEXELS, texelIndex, texelPosition, tileCount, tilesAcross } from './tiling';

/** Texels around every island that carry the position of the island's nearest border point. */
export const GUTTER = 8;

/**
 * The most places that one texel is known to have. What is stacked higher shows the texels, but isn't painted on from there: a sheet's
 * worth of codes takes four bytes a texel for each of them.
 */
export const MOST_PLACES = 16;

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
 *
 * Where several places of the model share texels (twins: mirrored halves, stacked pieces), the texel's own code is that of the side of an
 * island that comes first in the model. The other places stand in further layers: tile `t + k * spannedTiles(sheets)` is the k-th further
 * layer of tile t. Whatever goes by places (dabs, cues, guards) can be asked for such a tile as for any other; pixels have no layers.
 */
export interface SurfaceMap {
  readonly mesh: UvMesh;
  readonly sheets: readonly MeasuredSheet[];
  /** For each tile of all sheets, layer by layer, where its codes begin in `codes`, in tiles; -1 where nothing lies in it. */
  readonly slotOfTile: Int32Array;
  /** The codes, 4096 a tile in tile order. */
  readonly codes: Int32Array;
  /** Box in space of each sub-tile of all tiles and layers: min xyz, max xyz; inverted where it is empty. */
  readonly subBounds: Float32Array;
  /** Side of an island a triangle: an island that is folded onto itself has two. */
  readonly islandOfFace: Uint32Array;
  /** Of each side the first that has the very same texels, whichever way round: they are twins. Itself where there is none before it. */
  readonly twinOf: Uint32Array;
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

/** The tile whose pixels a tile of any layer of places shares. */
export function pixelTile(sheets: readonly SheetSpan[], tile: number): number {
  const last = sheets[sheets.length - 1]!;
  const tiles = last.firstTile + tileCount(last.size);
  return tile < tiles ? tile : tile % tiles;
}

/** The number of the sheet that a tile of any layer belongs to. */
export function sheetOfTile(sheets: readonly SheetSpan[], tile: number): number {
  let sheet = sheets.length - 1;
  const own = pixelTile(sheets, tile);
  while (sheet > 0 && own < sheets[sheet]!.firstTile) sheet--;
  return sheet;
}

/** Where a tile of any layer lies: its sheet, and its upper left texel there. */
export function placeOfTile(
  sheets: readonly SheetSpan[],
  tile: number,
): { readonly sheet: number; readonly size: number; readonly x: number; readonly y: number } {
  const sheet = sheetOfTile(sheets, tile);
  const { size, firstTile } = sheets[sheet]!;
  const own = pixelTile(sheets, tile) - firstTile;
  const across = tilesAcross(size);
  return { sheet, size, x: (own % across) * TILE, y: Math.floor(own / across) * TILE };
}

/** Layers of places: 1 where no texel has several. */
export const placeLayers = ({ sheets, slotOfTile }: Pick<SurfaceMap, 'sheets' | 'slotOfTile'>): number =>
  slotOfTile.length / spannedTiles(sheets);

/** The layers of a tile in which something lies, as tiles; the tile itself first. */
export function layersOfTile(
  { sheets, slotOfTile }: Pick<SurfaceMap, 'sheets' | 'slotOfTile'>,
  tile: number,
): number[] {
  const out: number[] = [];
  const step = spannedTiles(sheets);
  for (let t = pixelTile(sheets, tile); t < slotOfTile.length; t += step)
    if (slotOfTile[t]! >= 0) out.push(t);
  return out;
}

/** Index of texel (x, y) of a sheet among all texels; x from the left, y from the top. */
export const texelOnSheet = ({ size, firstTile }: SheetSpan, x: number, y: number): number =>
  firstTile * TILE_TEXELS + texelIndex(size, x, y);

/** Where texel `index` of all texels lies: on which sheet, x from the left, y from the top. */
export function placeOfTexel(
  sheets: readonly SheetSpan[],
  index: number,
): { readonly sheet: number; readonly x: number; readonly y: number } {
  const at = placeOfTile(sheets, Math.floor(index / TILE_TEXELS));
  const [x, y] = texelPosition(TILE, index % TILE_TEXELS);
  return { sheet: at.sheet, x: at.x + x, y: at.y + y };
}

/** The sizes of a map's sheets, as a name under which what was measured of them is kept. */
export const sizesKey = (sheets: readonly { readonly size: number }[]): string =>
  sheets.map((s) => s.size).join('+');

/** Tiles of all layers that lie on the model alone, without its backdrops: where form is measured. */
export function formTiles(map: Pick<SurfaceMap, 'slotOfTile' | 'sheets' | 'mesh'>): number[] {
  const flat = backdropSheets(map.mesh);
  const tiles = placedTiles(map);
  return flat.size === 0 ? tiles : tiles.filter((tile) => !flat.has(sheetOfTile(map.sheets, tile)));
}

/** The codes of a tile; null where nothing lies in it. */
export function codesOfTile({ slotOfTile, codes }: SurfaceMap, tile: number): Int32Array | null {
  const slot = slotOfTile[tile]!;
  return slot < 0 ? null : codes.subarray(slot * TILE_TEXELS, (slot + 1) * TILE_TEXELS);
}

/** Numbers of the tiles in which something lies, layer by layer, in order. */
export function placedTiles({ slotOfTile }: Pick<SurfaceMap, 'slotOfTile'>): number[] {
  const out: number[] = [];
  slotOfTile.forEach((slot, tile) => {
    if (slot >= 0) out.push(tile);
  });
  return out;
}

/** Numbers of the tiles of pixels in which something lies, in order. */
export function filledTiles(map: Pick<SurfaceMap, 'slotOfTile' | 'sheets'>): number[] {
  const tiles = spannedTiles(map.sheets);
  return placedTiles({ slotOfTile: map.slotOfTile.subarray(0, tiles) });
}

/** The code of one texel of all texels of all layers; see `SurfaceMap`. */
export function codeAt({ slotOfTile, codes }: SurfaceMap, texel: number): number {
  const slot = slotOfTile[Math.floor(texel / TILE_TEXELS)]!;
  return slot < 0 ? -1 : codes[slot * TILE_TEXELS + (texel % TILE_TEXELS)]!;
}

/** The triangle that a texel belongs to, -1 where nothing lies. */
export const faceAt = (map: SurfaceMap, texel: number): number => codeAt(map, texel) >> 2;

/** The code by which a texel belongs to a side of an island, in whichever layer; -1 where it doesn't. */
export function codeOnIsland(map: SurfaceMap, texel: number, island: number): number {
  const step = spannedTiles(map.sheets) * TILE_TEXELS;
  for (let at = texel; at < map.slotOfTile.length * TILE_TEXELS; at += step) {
    const code = codeAt(map, at);
    if (code >= 0 && map.islandOfFace[code >> 2] === island) return code;
  }
  return -1;
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
