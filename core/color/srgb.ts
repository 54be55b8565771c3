/** sRGB to linear light and back, one channel, 0..1 (IEC 61966-2-1:1999, with the continuous break at 0.04045). */
export function srgbToLinear(c: number): number {
  return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
}

/** Linear light 0..1 to sRGB-encoded 0..1 (IEC 61966-2-1). */
export function linearToSrgb(c: number): number {
  return c <= 0.0031308 ? c * 12.92 : 1.055 * c ** (1 / 2.4) - 0.055;
}
