import type { Rgb } from '../color';

/** What a stroke does to the texels that it covers. */
export interface StrokePaint {
  readonly color: Rgb;
  /** 0..1: the alpha of the paint where coverage is full. */
  readonly opacity: number;
  readonly erase: boolean;
}

/**
 * Lays (or with `erase` takes away) a colour through coverage. The plain twin of the kernel `strokeTile`.
 *
 * @param before straight-alpha RGBA8 before the stroke
 * @param mask coverage 0..1 a texel
 * @param out straight-alpha RGBA8, as long as `before`
 */
export function strokeTile(
  before: Uint8Array,
  mask: Float32Array,
  out: Uint8Array,
  { color, opacity, erase }: StrokePaint,
): void {
  const rgb = [color.r, color.g, color.b];
  for (let i = 0; i < mask.length; i++) {
    const o = i * 4;
    const w = mask[i]! * opacity;
    const a0 = before[o + 3]! / 255;
    const a = erase ? a0 * (1 - w) : w + a0 * (1 - w);
    const alpha = Math.floor(a * 255 + 0.5);
    for (let k = 0; k < 3; k++) {
      const old = before[o + k]!;
      if (w <= 0) out[o + k] = old;
      else if (erase) out[o + k] = alpha === 0 ? 0 : old;
      else out[o + k] = Math.floor(old + ((rgb[k]! - old) * w) / a + 0.5);
    }
    out[o + 3] = w <= 0 ? before[o + 3]! : alpha;
  }
}
