import type { Rgb } from './rgb';
import { srgbToLinear } from './srgb';

/** CIE 1976 L*a*b* under D65, 2° observer: L 0..100. */
export interface Cielab {
  readonly L: number;
  readonly a: number;
  readonly b: number;
}

// White point of D65 from the chromaticity x 0.3127, y 0.3290 (IEC 61966-2-1), Y = 1.
const WHITE = { X: 0.3127 / 0.329, Z: (1 - 0.3127 - 0.329) / 0.329 };
const EPSILON = (6 / 29) ** 3;

function labCurve(t: number): number {
  return t > EPSILON ? Math.cbrt(t) : t / (3 * (6 / 29) ** 2) + 4 / 29;
}

/** An sRGB-encoded colour in CIELAB under D65 (CIE 15:2004), L 0..100. */
export function rgbToCielab({ r, g, b }: Rgb): Cielab {
  const R = srgbToLinear(r / 255);
  const G = srgbToLinear(g / 255);
  const B = srgbToLinear(b / 255);
  const x = labCurve((0.4123907993 * R + 0.3575843394 * G + 0.1804807884 * B) / WHITE.X);
  const y = labCurve(0.2126390059 * R + 0.7151686788 * G + 0.0721923154 * B);
  const z = labCurve((0.0193308187 * R + 0.1191947798 * G + 0.9505321522 * B) / WHITE.Z);
  return { L: 116 * y - 16, a: 500 * (x - y), b: 200 * (y - z) };
}
