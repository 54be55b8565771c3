import type { Rgb } from '../../core/color';
import { sheetOfTile, SUB, TILE, TILE_BYTES, tilesAcross, type SheetSpan } from '../../core/surface';

export interface FreshTiles {
  readonly tiles: readonly number[];
  /** Which of a tile's four sub-tiles are fresh, bit k for sub-tile k. */
  readonly subs: readonly number[];
  readonly pixels: Uint8Array;
  /** Tiles still to come. */
  readonly left: number;
}

/** Tiles of the picture with few texels, which is shown while the full one is still to come. */
export interface CoarseTiles {
  /** Texels of the sheet a texel of these, each way. */
  readonly stride: number;
  readonly tiles: readonly number[];
  readonly pixels: Uint8Array;
}

/** Hears of a sheet's picture. */
export interface SheetListener {
  tiles(fresh: FreshTiles): void;
  coarse?(fresh: CoarseTiles): void;
}

/** The pictures of the sheets on the main thread: what the viewport shows and what colours are picked from. */
export class SheetCopy {
  readonly sheets: readonly SheetSpan[];
  /** RGBA a sheet, rows from the top. */
  readonly pictures: readonly Uint8Array[];
  private readonly listeners = new Set<SheetListener>();

  constructor(sheets: readonly SheetSpan[]) {
    this.sheets = sheets;
    this.pictures = sheets.map(({ size }) => new Uint8Array(size * size * 4));
  }

  take(fresh: FreshTiles): void {
    fresh.tiles.forEach((number, i) => {
      const sheet = sheetOfTile(this.sheets, number);
      const { size, firstTile } = this.sheets[sheet]!;
      const tile = number - firstTile;
      const across = tilesAcross(size);
      const x = (tile % across) * TILE;
      const y = Math.floor(tile / across) * TILE;
      const rgba = this.pictures[sheet]!;
      const subs = fresh.subs[i]!;
      for (let row = 0; row < TILE; row++) {
        for (let half = 0; half < 2; half++) {
          if (!(subs & (1 << ((row >> 5) * 2 + half)))) continue;
          const from = i * TILE_BYTES + (row * TILE + half * SUB) * 4;
          rgba.set(fresh.pixels.subarray(from, from + SUB * 4), ((y + row) * size + x + half * SUB) * 4);
        }
      }
    });
    for (const listener of this.listeners) listener.tiles(fresh);
  }

  /** Is only shown: colours are picked from the full picture. */
  takeCoarse(fresh: CoarseTiles): void {
    for (const listener of this.listeners) listener.coarse?.(fresh);
  }

  /** Calls back for all that is there now and for what comes. @returns stops it */
  subscribe(listener: SheetListener): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  /** The texel that nearest look-up finds at (u, v) of a sheet; null where nothing is painted. */
  colorAt(sheet: number, u: number, v: number): Rgb | null {
    const { size } = this.sheets[sheet]!;
    const rgba = this.pictures[sheet]!;
    const wrap = (x: number): number => x - Math.floor(x);
    const at = (x: number): number => Math.min(size - 1, Math.max(0, Math.floor(x * size)));
    const o = (at(1 - wrap(v)) * size + at(wrap(u))) * 4;
    if (rgba[o + 3] === 0) return null;
    return { r: rgba[o]!, g: rgba[o + 1]!, b: rgba[o + 2]! };
  }
}
