import { THRESHOLDS } from '../math';
import { SUB_TEXELS, TILE_TEXELS } from '../surface';
import type { StrokePaint } from './stroke-tile';

/** A colour of its own for each texel, straight-alpha RGBA8. */
export interface TexelColors {
  /** They change as the stroke goes on; if not, they are asked for once. */
  readonly changes?: boolean;
  /** They take the place of what was there, also where they are nothing, instead of being laid over it. */
  readonly replaces?: boolean;
  /**
   * @param tile of the layer of places that is painted from
   * @param before the tile as it was before the stroke
   * @param out receives four numbers at `at`
   */
  write(tile: number, texel: number, before: Uint8Array, out: Uint8Array, at: number): void;
}

interface Known {
  readonly rgba: Uint8Array;
  readonly has: Uint8Array;
}

/** Lays colours that differ from texel to texel through a stroke's coverage, as `strokeTile` lays one. */
export class ThroughCoverage {
  private readonly colors: TexelColors;
  private readonly how: Pick<StrokePaint, 'opacity' | 'keepAlpha'>;
  private readonly known = new Map<number, Known>();

  constructor(colors: TexelColors, how: Pick<StrokePaint, 'opacity' | 'keepAlpha'>) {
    this.colors = colors;
    this.how = how;
  }

  /**
   * @param coverage of the tile's four sub-tiles, 0..1 a texel; null where the stroke hasn't come
   * @param placeOf the tile of the layer of places from which a texel is painted; null: there is one only
   */
  paint(
    tile: number,
    before: Uint8Array,
    coverage: readonly (Float32Array | null)[],
    out: Uint8Array,
    placeOf: ((texel: number) => number) | null,
  ): void {
    out.set(before);
    let known = this.known.get(tile);
    if (!known) {
      known = { rgba: new Uint8Array(TILE_TEXELS * 4), has: new Uint8Array(TILE_TEXELS) };
      this.known.set(tile, known);
    }
    const { rgba, has } = known;
    const { opacity, keepAlpha } = this.how;
    for (let i = 0; i < TILE_TEXELS; i++) {
      const covers = coverage[i >> 10]?.[i & 1023];
      if (!covers) continue;
      const o = i * 4;
      if (!has[i] || this.colors.changes || placeOf) {
        has[i] = 1;
        this.colors.write(placeOf ? placeOf(i) : tile, i, before, rgba, o);
      }
      const a0 = before[o + 3]! / 255;
      if (this.colors.replaces && !keepAlpha) {
        replace(before, rgba, covers * opacity, out, o);
        continue;
      }
      const w = (covers * opacity * rgba[o + 3]!) / 255;
      if (w <= 0 || (keepAlpha && a0 === 0)) continue;
      const a = keepAlpha ? a0 : w + a0 * (1 - w);
      const share = keepAlpha ? w : w / a;
      const up = covers < 1 ? THRESHOLDS[i & (SUB_TEXELS - 1)]! : 0.5;
      for (let k = 0; k < 3; k++) {
        out[o + k] = Math.floor(before[o + k]! + (rgba[o + k]! - before[o + k]!) * share + up);
      }
      out[o + 3] = Math.floor(a * 255 + 0.5);
    }
  }
}

/** So much of the one colour and the rest of the other, straight-alpha. */
function replace(before: Uint8Array, by: Uint8Array, w: number, out: Uint8Array, o: number): void {
  const [a0, a1] = [before[o + 3]! * (1 - w), by[o + 3]! * w];
  const alpha = a0 + a1;
  for (let k = 0; k < 3; k++) {
    out[o + k] = alpha > 0 ? Math.floor((before[o + k]! * a0 + by[o + k]! * a1) / alpha + 0.5) : 0;
  }
  out[o + 3] = Math.floor(alpha + 0.5);
}
