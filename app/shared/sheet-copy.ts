import type { Rgb } from '../../core/color';
import { TILE, TILE_BYTES, tilesAcross } from '../../core/surface';

export interface FreshTiles {
  readonly tiles: readonly number[];
  readonly pixels: Uint8Array;
}

/** The picture of the sheet on the main thread: what the viewport shows and what colours are picked from. */
export class SheetCopy {
  readonly size: number;
  /** RGBA, rows from the top. */
  readonly rgba: Uint8Array;
  private readonly listeners = new Set<(fresh: FreshTiles) => void>();

  constructor(size: number) {
    this.size = size;
    this.rgba = new Uint8Array(size * size * 4);
  }

  take(fresh: FreshTiles): void {
    const across = tilesAcross(this.size);
    fresh.tiles.forEach((tile, i) => {
      const x = (tile % across) * TILE;
      const y = Math.floor(tile / across) * TILE;
      for (let row = 0; row < TILE; row++) {
        const from = i * TILE_BYTES + row * TILE * 4;
        this.rgba.set(fresh.pixels.subarray(from, from + TILE * 4), ((y + row) * this.size + x) * 4);
      }
    });
    for (const listener of this.listeners) listener(fresh);
  }

  /** Calls back for all that is there now and for what comes. @returns stops it */
  subscribe(listener: (fresh: FreshTiles) => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  /** The texel that nearest look-up finds at (u, v); null where nothing is painted. */
  colorAt(u: number, v: number): Rgb | null {
    const wrap = (x: number): number => x - Math.floor(x);
    const at = (x: number): number => Math.min(this.size - 1, Math.max(0, Math.floor(x * this.size)));
    const o = (at(1 - wrap(v)) * this.size + at(wrap(u))) * 4;
    if (this.rgba[o + 3] === 0) return null;
    return { r: this.rgba[o]!, g: this.rgba[o + 1]!, b: this.rgba[o + 2]! };
  }
}
