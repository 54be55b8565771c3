import { TILE_TEXELS } from '../surface';

/** What covers some texels of a tile: their places in it, and how much of each, 0..65535. */
export interface Covered {
  readonly index: Uint16Array;
  readonly cover: Uint16Array;
}

/** Coverage of tiles that are being drawn. */
export class Drawing {
  private readonly tiles = new Map<number, { readonly values: Float32Array; readonly touched: number[] }>();
  private readonly spare: Float32Array[] = [];
  private last: { readonly values: Float32Array; readonly touched: number[] } | null = null;
  private lastTile = -1;

  raise(tile: number, i: number, cover: number): void {
    const { values, touched } = this.lastTile === tile && this.last ? this.last : this.open(tile);
    const before = values[i]!;
    if (cover <= before) return;
    if (before === 0) touched.push(i);
    values[i] = cover;
  }

  private open(tile: number): { readonly values: Float32Array; readonly touched: number[] } {
    let known = this.tiles.get(tile);
    if (!known) {
      known = { values: this.spare.pop() ?? new Float32Array(TILE_TEXELS), touched: [] };
      this.tiles.set(tile, known);
    }
    this.last = known;
    this.lastTile = tile;
    return known;
  }

  /** What was drawn; the next drawing begins empty. */
  take(): Map<number, Covered> {
    const out = new Map<number, Covered>();
    for (const [tile, { values, touched }] of this.tiles) {
      const [index, cover] = [new Uint16Array(touched.length), new Uint16Array(touched.length)];
      for (let k = 0; k < touched.length; k++) {
        const i = touched[k]!;
        index[k] = i;
        cover[k] = Math.round(values[i]! * 65535);
        values[i] = 0;
      }
      out.set(tile, { index, cover });
      this.spare.push(values);
    }
    this.tiles.clear();
    this.last = null;
    this.lastTile = -1;
    return out;
  }
}
