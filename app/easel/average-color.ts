import type { Rgb } from '../../core/color';

/**
 * Mean colour of a square of pixels, as painters squint: averaged as encoded, transparent pixels left out.
 *
 * @param side of the square, an odd number of pixels, around (x, y)
 * @returns null outside the picture
 */
export function averageColor(
  picture: { readonly width: number; readonly height: number; readonly data: ArrayLike<number> },
  x: number,
  y: number,
  side: number,
): Rgb | null {
  if (x < 0 || y < 0 || x >= picture.width || y >= picture.height) return null;
  const reach = (side - 1) / 2;
  const sum = [0, 0, 0];
  let count = 0;
  for (let j = Math.max(0, y - reach); j <= Math.min(picture.height - 1, y + reach); j++) {
    for (let i = Math.max(0, x - reach); i <= Math.min(picture.width - 1, x + reach); i++) {
      const o = (j * picture.width + i) * 4;
      if (picture.data[o + 3] === 0) continue;
      for (let k = 0; k < 3; k++) sum[k]! += picture.data[o + k]!;
      count++;
    }
  }
  if (count === 0) return null;
  const [r, g, b] = sum.map((s) => Math.round(s / count)) as [number, number, number];
  return { r, g, b };
}
