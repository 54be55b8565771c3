import type { DeepPicture, Picture } from '../../formats';
import {
  bleed,
  codesOfTile,
  GUTTER,
  INSIDE,
  texelIndex,
  TILE,
  TILE_BYTES,
  TILE_TEXELS,
  tileCount,
  tilesAcross,
  tileToRows,
  type SurfaceMap,
} from '../../surface';
import { DETAILS } from '../../document';
import { backdropSheets } from '../../mesh';
import { putChannel } from '../../compositor';
import type { Engine } from '../engine';
import { alike, resamplePicture } from '../../picture';

/** `opaque`: every texel that has colour is delivered with full alpha; `painted`: alpha is delivered as it was painted. */
export type DeliveredAlpha = 'opaque' | 'painted';

export interface FlattenOptions {
  /** Texels a side of the result. */
  readonly size: number;
  /** How far colour reaches past the islands, in texels of the result; Infinity for the whole sheet. */
  readonly bleed: number;
  /** `opaque` where left out. */
  readonly alpha?: DeliveredAlpha;
  readonly onProgress?: (done: number) => void;
}

/** One sheet of a surface map, as flattening reads it. */
export interface FlattenSurface {
  readonly size: number;
  /** Of the sheet's own tiles; see `SurfaceMap`. */
  readonly slotOfTile: Int32Array;
  readonly codes: Int32Array;
  /** Backdrops lie on it: alpha leaves as it was painted, and what is bare stays so, as one looks through it. */
  readonly isBackdrop: boolean;
}

/** What finishing one sheet needs to know of the surface. */
export function flattenSurface(
  { mesh, sheets, slotOfTile, codes }: SurfaceMap,
  sheet: number,
): FlattenSurface {
  const { size, firstTile } = sheets[sheet]!;
  return {
    size,
    slotOfTile: slotOfTile.subarray(firstTile, firstTile + tileCount(size)),
    codes,
    isBackdrop: backdropSheets(mesh).has(sheet),
  };
}

/**
 * The albedo as it is delivered: the whole build-up, flattened, bled past the island borders. At the sheet's own size every
 * texel is the stored one; at another size colours are averaged or interpolated over the painted texels only.
 */
export function flattenAlbedo(engine: Engine, options: FlattenOptions, sheet = 0): Picture {
  return finishAlbedo(flattenSurface(engine.surface, sheet), compositeSheet(engine, sheet), options);
}

/** All of the albedo at a sheet's own size, rows from the top, transparent where nothing lies. */
export function compositeSheet(engine: Engine, sheet = 0): Uint8Array {
  return sheetRows(engine, sheet, (tile, out) => engine.compositeTile(tile, out));
}

/** The same with 16 bit a channel, as the layers come to before they are rounded for the screen. */
export function compositeSheetDeep(engine: Engine, sheet = 0): Uint16Array {
  return rowsOfTiles(engine, sheet, new Uint16Array(TILE_BYTES), (tile, out) =>
    engine.compositeTile(tile, out),
  );
}

/**
 * The detail sheet at a sheet's own size: red what darkens first, green the outline's width, blue what keeps a highlight; alpha 255
 * where something lies.
 */
export function compositeDetail(engine: Engine, sheet = 0): Uint8Array {
  const mask = new Uint8Array(TILE_BYTES);
  return sheetRows(engine, sheet, (tile, out) => {
    const codes = codesOfTile(engine.surface, tile);
    DETAILS.forEach((detail, channel) => {
      engine.compositeTile(tile, mask, detail);
      putChannel(mask, detail, out, channel);
    });
    for (let i = 0; i < TILE_TEXELS; i++) out[i * 4 + 3] = codes && codes[i]! >= 0 ? 255 : 0;
  });
}

/** A sheet's tiles as rows from the top, transparent where nothing is made. */
export function sheetRows(
  engine: Engine,
  sheet: number,
  make: (tile: number, out: Uint8Array) => void,
): Uint8Array {
  return rowsOfTiles(engine, sheet, new Uint8Array(TILE_BYTES), make);
}

/** @param tile room for one tile, of the kind that is wanted */
function rowsOfTiles<T extends Uint8Array | Uint16Array>(
  engine: Engine,
  sheet: number,
  tile: T,
  make: (tile: number, out: T) => void,
): T {
  const { size, firstTile } = engine.surface.sheets[sheet]!;
  const rows = alike(tile, size * size * 4);
  const tileRows = alike(tile, TILE_BYTES);
  for (let t = 0; t < tileCount(size); t++) {
    if (engine.surface.slotOfTile[firstTile + t]! < 0) continue;
    make(firstTile + t, tile);
    tileToRows(tile, tileRows);
    const x = (t % tilesAcross(size)) * TILE;
    const y = Math.floor(t / tilesAcross(size)) * TILE;
    for (let row = 0; row < TILE; row++) {
      rows.set(tileRows.subarray(row * TILE * 4, (row + 1) * TILE * 4), ((y + row) * size + x) * 4);
    }
  }
  return rows;
}

/** Bleeds and resamples. @param rows from `compositeSheet` or `compositeSheetDeep`; changed in place */
export function finishAlbedo(surface: FlattenSurface, rows: Uint8Array, options: FlattenOptions): Picture;
export function finishAlbedo(
  surface: FlattenSurface,
  rows: Uint16Array,
  options: FlattenOptions,
): DeepPicture;
export function finishAlbedo(
  surface: FlattenSurface,
  rows: Uint8Array | Uint16Array,
  options: FlattenOptions,
): Picture | DeepPicture {
  const { size } = surface;
  const full = 256 ** rows.BYTES_PER_ELEMENT - 1;
  const pictureOf = (): Picture | DeepPicture =>
    rows instanceof Uint16Array
      ? { width: size, height: size, rgba: rows }
      : { width: size, height: size, rgba: rows };
  const known = new Uint8Array(size * size);
  const reach = (options.bleed * size) / options.size;
  for (let y = 0; y < size; y++) {
    for (let x = 0; x < size; x++) {
      const code = codeOf(surface, x, y);
      const o = y * size + x;
      // The gutter holds painted texels of its own, but a bleed that is asked to be short must end where it is told.
      const counts = code >= 0 && (reach >= GUTTER || (code & 3) === INSIDE);
      known[o] = counts && rows[o * 4 + 3]! > 0 ? 1 : 0;
      if (!known[o]) rows.fill(0, o * 4, o * 4 + 4);
      else if (!surface.isBackdrop && options.alpha !== 'painted') rows[o * 4 + 3] = full;
    }
  }
  options.onProgress?.(0.3);
  const alpha = surface.isBackdrop ? alphaOf(surface, rows, size === options.size ? reach : Infinity) : null;
  if (size === options.size) {
    bleed(rows, known, size, size, reach);
    putAlpha(rows, alpha);
    return pictureOf();
  }
  // Resampling needs neighbours everywhere, so the whole sheet is filled first and cut back to the wanted bleed after.
  bleed(rows, known, size, size, Infinity);
  putAlpha(rows, alpha);
  options.onProgress?.(0.6);
  const picture = resamplePicture(pictureOf(), options.size);
  if (Number.isFinite(options.bleed)) cutBleed(picture, known, size, options.bleed);
  return picture;
}

/** How much of a backdrop is there: as it was painted, and past its border as at its border. RGBA rows, of which alpha alone is asked for. */
function alphaOf(surface: FlattenSurface, rows: Uint8Array | Uint16Array, reach: number): typeof rows {
  const { size } = surface;
  const there = new Uint8Array(size * size);
  for (let o = 0; o < there.length; o++)
    there[o] = codeOf(surface, o % size, Math.floor(o / size)) >= 0 ? 1 : 0;
  const out = rows.slice();
  bleed(out, there, size, size, reach);
  return out;
}

function putAlpha(rows: Uint8Array | Uint16Array, alpha: typeof rows | null): void {
  if (alpha) for (let i = 3; i < rows.length; i += 4) rows[i] = alpha[i]!;
}

function cutBleed(picture: Picture | DeepPicture, known: Uint8Array, size: number, reach: number): void {
  const small = picture.width;
  const inside = new Uint8Array(small * small);
  for (let y = 0; y < small; y++) {
    for (let x = 0; x < small; x++) {
      const sx = Math.min(size - 1, Math.floor(((x + 0.5) / small) * size));
      const sy = Math.min(size - 1, Math.floor(((y + 0.5) / small) * size));
      inside[y * small + x] = known[sy * size + sx]!;
    }
  }
  const kept = new Uint8Array(small * small * 4);
  for (let i = 0; i < inside.length; i++) if (inside[i]) kept.fill(255, i * 4, i * 4 + 4);
  bleed(kept, inside, small, small, reach);
  for (let i = 0; i < inside.length; i++) {
    if (kept[i * 4 + 3] === 0) picture.rgba.fill(0, i * 4, i * 4 + 4);
  }
}

function codeOf({ size, slotOfTile, codes }: FlattenSurface, x: number, y: number): number {
  const i = texelIndex(size, x, y);
  const slot = slotOfTile[Math.floor(i / TILE_TEXELS)]!;
  return slot < 0 ? -1 : codes[slot * TILE_TEXELS + (i % TILE_TEXELS)]!;
}
