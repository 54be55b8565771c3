import type { Picture } from '../formats';
import {
  bleed,
  GUTTER,
  texelIndex,
  TILE_BYTES,
  TILE_TEXELS,
  tileCount,
  toRows,
  type SurfaceMap,
} from '../surface';
import type { Engine } from './engine';
import { resamplePicture } from './resample';

export interface FlattenOptions {
  /** Texels a side of the result. */
  readonly size: number;
  /** How far colour reaches past the islands, in texels of the result; Infinity for the whole sheet. */
  readonly bleed: number;
  readonly onProgress?: (done: number) => void;
}

/** One sheet of a surface map, as flattening reads it. */
export interface FlattenSurface {
  readonly size: number;
  /** The sheet's own texels only. */
  readonly face: Int32Array;
  readonly covered: Uint8Array;
}

export function flattenSurface({ sheets, face, covered }: SurfaceMap, sheet: number): FlattenSurface {
  const { size, firstTile } = sheets[sheet]!;
  const [from, to] = [firstTile * TILE_TEXELS, (firstTile + tileCount(size)) * TILE_TEXELS];
  return { size, face: face.subarray(from, to), covered: covered.subarray(from, to) };
}

/**
 * The albedo as it is delivered: the whole build-up, flattened, bled past the island borders. At the sheet's own size every
 * texel is the stored one; at another size colours are averaged or interpolated over the painted texels only.
 */
export function flattenAlbedo(engine: Engine, options: FlattenOptions, sheet = 0): Picture {
  return finishAlbedo(flattenSurface(engine.surface, sheet), compositeSheet(engine, sheet), options);
}

/** The whole build-up at a sheet's own size, rows from the top, transparent where nothing lies. */
export function compositeSheet(engine: Engine, sheet = 0): Uint8Array {
  const { size, firstTile } = engine.surface.sheets[sheet]!;
  const tiled = new Uint8Array(size * size * 4);
  for (let t = 0; t < tileCount(size); t++) {
    engine.compositeTile(firstTile + t, tiled.subarray(t * TILE_BYTES, (t + 1) * TILE_BYTES));
  }
  const rows = new Uint8Array(tiled.length);
  toRows(size, new Uint32Array(tiled.buffer), new Uint32Array(rows.buffer));
  return rows;
}

/** Bleeds and resamples. @param rows from `compositeSheet`; changed in place */
export function finishAlbedo(surface: FlattenSurface, rows: Uint8Array, options: FlattenOptions): Picture {
  const { size } = surface;
  const known = new Uint8Array(size * size);
  const reach = (options.bleed * size) / options.size;
  for (let y = 0; y < size; y++) {
    for (let x = 0; x < size; x++) {
      const i = texelIndex(size, x, y);
      const o = y * size + x;
      // The gutter holds painted texels of its own, but a bleed that is asked to be short must end where it is told.
      const counts = reach >= GUTTER ? surface.face[i]! >= 0 : surface.covered[i] === 1;
      known[o] = counts && rows[o * 4 + 3]! > 0 ? 1 : 0;
      if (!known[o]) rows.fill(0, o * 4, o * 4 + 4);
    }
  }
  options.onProgress?.(0.3);
  if (size === options.size) {
    bleed(rows, known, size, size, reach);
    return { width: size, height: size, rgba: rows };
  }
  // Resampling needs neighbours everywhere, so the whole sheet is filled first and cut back to the wanted bleed after.
  bleed(rows, known, size, size, Infinity);
  options.onProgress?.(0.6);
  const picture = resamplePicture({ width: size, height: size, rgba: rows }, options.size);
  if (Number.isFinite(options.bleed)) cutBleed(picture, known, size, options.bleed);
  return picture;
}

function cutBleed(picture: Picture, known: Uint8Array, size: number, reach: number): void {
  const small = picture.width;
  const inside = new Uint8Array(small * small);
  for (let y = 0; y < small; y++) {
    for (let x = 0; x < small; x++) {
      const sx = Math.min(size - 1, Math.floor(((x + 0.5) / small) * size));
      const sy = Math.min(size - 1, Math.floor(((y + 0.5) / small) * size));
      inside[y * small + x] = known[sy * size + sx]!;
    }
  }
  const kept = new Uint8Array(picture.rgba.length);
  for (let i = 0; i < inside.length; i++) if (inside[i]) kept.fill(255, i * 4, i * 4 + 4);
  bleed(kept, inside, small, small, reach);
  for (let i = 0; i < inside.length; i++) {
    if (kept[i * 4 + 3] === 0) picture.rgba.fill(0, i * 4, i * 4 + 4);
  }
}
