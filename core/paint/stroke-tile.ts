import type { Rgb } from '../color';
import { THRESHOLDS } from '../math';

/** What a stroke does to the texels that it covers. */
export interface StrokePaint {
  readonly color: Rgb;
  /** 0..1: the alpha of the paint where coverage is full. */
  readonly opacity: number;
  /** Paint is taken away instead. */
  readonly erase: boolean;
  /** Alpha stays as it was: only the colour of what is there changes. */
  readonly keepAlpha: boolean;
}

/**
 * Lays (or with `erase` takes away) a colour through coverage. The plain twin of the kernel `strokeTile`.
 *
 * In the soft part of a stroke colours are rounded texel by texel at other places, so that it has no bands; where it covers fully a flat
 * colour stays flat.
 *
 * @param before straight-alpha RGBA8 before the stroke
 * @param mask coverage 0..1 a texel
 * @param out straight-alpha RGBA8, as long as `before`
 */
export function strokeTile(
  before: Uint8Array,
  mask: Float32Array,
  out: Uint8Array,
  { color, opacity, erase, keepAlpha }: StrokePaint,
): void {
  const rgb = [color.r, color.g, color.b];
  for (let i = 0; i < mask.length; i++) {
    const o = i * 4;
    const w = mask[i]! * opacity;
    const a0 = before[o + 3]! / 255;
    const untouched = w <= 0 || (keepAlpha && (erase || a0 === 0));
    const a = keepAlpha ? a0 : erase ? a0 * (1 - w) : w + a0 * (1 - w);
    const alpha = Math.floor(a * 255 + 0.5);
    const up = mask[i]! < 1 ? THRESHOLDS[i]! : 0.5;
    // How far the colour goes over to the new one: with alpha kept, what is there counts as opaque.
    const share = keepAlpha ? w : w / a;
    for (let k = 0; k < 3; k++) {
      const old = before[o + k]!;
      if (untouched) out[o + k] = old;
      else if (erase) out[o + k] = alpha === 0 ? 0 : old;
      else out[o + k] = Math.floor(old + (rgb[k]! - old) * share + up);
    }
    out[o + 3] = untouched ? before[o + 3]! : alpha;
  }
}
