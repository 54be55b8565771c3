import type { UvMesh } from '../mesh';
import { SUB_TEXELS, texelIndex, texelPosition, TILE_TEXELS, tileCount } from './tiling';

/** Texels around every island that carry the position of the island's nearest border point. */
export const GUTTER = 8;

/** Value of `part` where nothing lies. */
export const NO_PART = 0xffff;

/** A coordinate no dab can reach; it stands where nothing lies. */
export const NOWHERE = 1e18;

/** One sheet of a surface map. */
export interface SheetSpan {
  /** Texels a side. */
  readonly size: number;
  /** Where its tiles begin: the sheets' tiles lie in memory one sheet after the other. */
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

/** Every texel's place on the model, in tiled order, sheet after sheet. Made once for a mesh and the sizes of its sheets. */
export interface SurfaceMap {
  readonly sheets: readonly MeasuredSheet[];
  /** Position, model units; NOWHERE outside islands and gutter. */
  readonly px: Float32Array;
  readonly py: Float32Array;
  readonly pz: Float32Array;
  /** Unit normal, each axis times 32767. */
  readonly nx: Int16Array;
  readonly ny: Int16Array;
  readonly nz: Int16Array;
  /** Triangle, -1 where nothing lies. */
  readonly face: Int32Array;
  /** Part, NO_PART where nothing lies. */
  readonly part: Uint16Array;
  /** 1 where the texel's centre lies in a triangle, 0 in the gutter and outside. */
  readonly covered: Uint8Array;
  /** Box in space of each sub-tile: min xyz, max xyz; inverted where it is empty. */
  readonly subBounds: Float32Array;
  /** Island number a triangle. */
  readonly islandOfFace: Uint32Array;
  readonly islands: number;
  /** Over all sheets. */
  readonly coveredTexels: number;
  readonly overlappedTexels: number;
  readonly texelLength: number;
}

/** Sheets of these sizes, one after the other in memory. */
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

/** Texels of all sheets together. */
export const texelCount = (map: Pick<SurfaceMap, 'sheets'>): number => spannedTiles(map.sheets) * TILE_TEXELS;

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

export const islandAt = (map: SurfaceMap, texel: number): number => {
  const face = map.face[texel]!;
  return face < 0 ? -1 : map.islandOfFace[face]!;
};

/** The space each sub-tile takes up, so that a dab looks only at those it can touch. */
export function subTileBounds(px: Float32Array, py: Float32Array, pz: Float32Array): Float32Array {
  const subs = px.length / SUB_TEXELS;
  const out = new Float32Array(subs * 6);
  const axes = [px, py, pz] as const;
  for (let s = 0; s < subs; s++) {
    for (let axis = 0; axis < 3; axis++) {
      let min = NOWHERE;
      let max = -NOWHERE;
      const values = axes[axis]!;
      for (let i = s * SUB_TEXELS; i < (s + 1) * SUB_TEXELS; i++) {
        const x = values[i]!;
        if (x >= NOWHERE) continue;
        if (x < min) min = x;
        if (x > max) max = x;
      }
      out[s * 6 + axis] = min;
      out[s * 6 + 3 + axis] = max;
    }
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
