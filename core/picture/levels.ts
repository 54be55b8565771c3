import { srgbToLinear, linearToSrgb } from '../color';
import type { Picture } from './picture';

/** In which numbers texels are averaged: those of light, or the sRGB-encoded ones as they stand. */
export type Halving = 'linear' | 'encoded';

/**
 * A picture and its halvings down to one texel, the largest first: each texel is the mean of the four under it (a box filter), weighted by
 * alpha. Nothing is rounded between one level and the next.
 *
 * @param light `linear` as a screen mixes light, what engines do with sRGB textures; `encoded` for values, or engines that don't
 */
export function mipLevels(picture: Picture, light: Halving): Picture[] {
  const levels = [picture];
  let { width, height } = picture;
  let values = decoded(picture, light);
  while (width > 1 || height > 1) {
    const next = { width: Math.max(1, width >> 1), height: Math.max(1, height >> 1) };
    values = halved(values, width, height, next);
    ({ width, height } = next);
    levels.push({ width, height, rgba: encoded(values, light) });
  }
  return levels;
}

/** How many levels a square picture has, down to one texel. */
export const levelCount = (size: number): number => Math.floor(Math.log2(size)) + 1;

/** Colours times alpha, and alpha, 0..1. */
function decoded({ rgba }: Picture, light: Halving): Float32Array {
  const table = Float32Array.from({ length: 256 }, (_, i) =>
    light === 'linear' ? srgbToLinear(i / 255) : i / 255,
  );
  const out = new Float32Array(rgba.length);
  for (let i = 0; i < rgba.length; i += 4) {
    const a = rgba[i + 3]! / 255;
    for (let k = 0; k < 3; k++) out[i + k] = table[rgba[i + k]!]! * a;
    out[i + 3] = a;
  }
  return out;
}

function halved(
  from: Float32Array,
  width: number,
  height: number,
  next: { readonly width: number; readonly height: number },
): Float32Array {
  const out = new Float32Array(next.width * next.height * 4);
  for (let y = 0; y < next.height; y++) {
    const upper = Math.min(height - 1, y * 2) * width;
    const lower = Math.min(height - 1, y * 2 + 1) * width;
    for (let x = 0; x < next.width; x++) {
      const left = Math.min(width - 1, x * 2);
      const right = Math.min(width - 1, x * 2 + 1);
      const o = (y * next.width + x) * 4;
      for (let k = 0; k < 4; k++) {
        out[o + k] =
          (from[(upper + left) * 4 + k]! +
            from[(upper + right) * 4 + k]! +
            from[(lower + left) * 4 + k]! +
            from[(lower + right) * 4 + k]!) /
          4;
      }
    }
  }
  return out;
}

/** Values of light that are told apart: a step is a twentieth of what one sRGB value is in the darkest. */
const FINE = 65_535;

/** sRGB-encoded bytes of light in even steps. */
let lightBytes: Uint8Array | null = null;
const bytesOfLight = (): Uint8Array =>
  (lightBytes ??= Uint8Array.from({ length: FINE + 1 }, (_, i) => Math.round(linearToSrgb(i / FINE) * 255)));

function encoded(values: Float32Array, light: Halving): Uint8Array {
  const out = new Uint8Array(values.length);
  const bytes = light === 'linear' ? bytesOfLight() : null;
  for (let i = 0; i < values.length; i += 4) {
    const a = values[i + 3]!;
    if (a <= 0) continue;
    for (let k = 0; k < 3; k++) {
      const v = Math.min(1, values[i + k]! / a);
      out[i + k] = bytes ? bytes[Math.round(v * FINE)]! : Math.round(v * 255);
    }
    out[i + 3] = Math.round(a * 255);
  }
  return out;
}
