import type { DeepPicture, Picture } from '../formats';

/** Texels a side of the ordered pattern. */
const SIDE = 16;

/**
 * Thresholds of ordered dither: Bayer's matrix, "An optimum method for two-level rendition of continuous-tone pictures" (1973), in steps of
 * 1/256 around one half, so that over a square of 16 texels a side the mean of what is rounded is what was there.
 */
const THRESHOLDS = Float32Array.from({ length: SIDE * SIDE }, (_, i) => {
  const x = i % SIDE;
  const y = Math.floor(i / SIDE);
  let rank = 0;
  for (let bit = 1; bit < SIDE; bit <<= 1) {
    const [bx, by] = [x & bit ? 1 : 0, y & bit ? 1 : 0];
    rank = rank * 4 + (bx ^ by) * 2 + by;
  }
  return (rank + 0.5) / (SIDE * SIDE);
});

/** Each channel begins elsewhere in the pattern, so that their grains don't add up to grey ones. */
const SHIFTS = [0, 5, 10] as const;

/**
 * 16 bit a channel brought down to 8, with what is lost spread as a fine grain: gentle slopes don't fall into steps. What is one of the 256
 * values stays exactly that. Alpha is rounded.
 */
export function dithered({ width, height, rgba }: DeepPicture): Picture {
  const out = new Uint8Array(rgba.length);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const o = (y * width + x) * 4;
      for (let k = 0; k < 3; k++) {
        const shift = SHIFTS[k]!;
        const value = rgba[o + k]! / 257;
        const whole = Math.floor(value);
        const at = ((y + shift) % SIDE) * SIDE + ((x + shift) % SIDE);
        out[o + k] = value - whole > THRESHOLDS[at]! ? whole + 1 : whole;
      }
      out[o + 3] = Math.round(rgba[o + 3]! / 257);
    }
  }
  return { width, height, rgba: out };
}

/** 16 bit a channel rounded to 8. */
export function rounded({ width, height, rgba }: DeepPicture): Picture {
  return { width, height, rgba: Uint8Array.from(rgba, (v) => Math.round(v / 257)) };
}
