import { clamp } from '../math';
import { rgbToHex, type Rgb } from './rgb';
import { linearToSrgb, srgbToLinear } from './srgb';

/** OKLab (B. Ottosson, "A perceptual color space for image processing", 2020): L 0..1, a and b about -0.4..0.4. */
export interface Oklab {
  readonly L: number;
  readonly a: number;
  readonly b: number;
}

/** OKLab in polar form: chroma 0..about 0.4, hue in degrees 0..360 (0 where there is no chroma). */
export interface Oklch {
  readonly L: number;
  readonly C: number;
  readonly h: number;
}

/** @param r linear light, 0..1 as g and b */
export function linearSrgbToOklab(r: number, g: number, b: number): Oklab {
  const l = Math.cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
  const m = Math.cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
  const s = Math.cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
  return {
    L: 0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s,
    a: 1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s,
    b: 0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s,
  };
}

/** @returns linear-light sRGB, which may lie outside 0..1 where the colour is outside the gamut */
export function oklabToLinearSrgb({ L, a, b }: Oklab): [r: number, g: number, b: number] {
  const l = (L + 0.3963377774 * a + 0.2158037573 * b) ** 3;
  const m = (L - 0.1055613458 * a - 0.0638541728 * b) ** 3;
  const s = (L - 0.0894841775 * a - 1.291485548 * b) ** 3;
  return [
    4.0767416621 * l - 3.3077115913 * m + 0.2309699292 * s,
    -1.2684380046 * l + 2.6097574011 * m - 0.3413193965 * s,
    -0.0041960863 * l - 0.7034186147 * m + 1.707614701 * s,
  ];
}

/** An sRGB-encoded colour in OKLab. */
export function rgbToOklab({ r, g, b }: Rgb): Oklab {
  return linearSrgbToOklab(srgbToLinear(r / 255), srgbToLinear(g / 255), srgbToLinear(b / 255));
}

/** In polar form; hue in degrees. */
export function oklabToOklch({ L, a, b }: Oklab): Oklch {
  const C = Math.hypot(a, b);
  return { L, C, h: C < 1e-4 ? 0 : ((Math.atan2(b, a) * 180) / Math.PI + 360) % 360 };
}

/** From the polar form; hue in degrees. */
export function oklchToOklab({ L, C, h }: Oklch): Oklab {
  const angle = (h * Math.PI) / 180;
  return { L, a: C * Math.cos(angle), b: C * Math.sin(angle) };
}

function inGamut(linear: readonly number[]): boolean {
  // 1e-4 in linear light is under half a step of 8 bit everywhere above the darkest codes.
  return linear.every((c) => c >= -1e-4 && c <= 1 + 1e-4);
}

/** The nearest 8-bit colour of the same lightness and hue: chroma is lowered until it lies in the sRGB gamut. */
export function oklchToRgb(color: Oklch): Rgb {
  let linear = oklabToLinearSrgb(oklchToOklab(color));
  if (!inGamut(linear)) {
    let low = 0;
    let high = color.C;
    for (let i = 0; i < 20; i++) {
      const C = (low + high) / 2;
      if (inGamut(oklabToLinearSrgb(oklchToOklab({ ...color, C })))) low = C;
      else high = C;
    }
    linear = oklabToLinearSrgb(oklchToOklab({ ...color, C: low }));
  }
  const byte = (c: number): number => Math.round(linearToSrgb(clamp(c, 0, 1)) * 255);
  return { r: byte(linear[0]), g: byte(linear[1]), b: byte(linear[2]) };
}

export const rgbToOklch = (color: Rgb): Oklch => oklabToOklch(rgbToOklab(color));

/** The 8-bit colour; what leaves the gamut is cut off channel by channel. */
export function oklabToHex(color: Oklab): string {
  const byte = (c: number): number => Math.round(linearToSrgb(clamp(c, 0, 1)) * 255);
  const [r, g, b] = oklabToLinearSrgb(color);
  return rgbToHex({ r: byte(r), g: byte(g), b: byte(b) });
}
