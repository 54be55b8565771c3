import { z } from 'zod';
import { CoreError } from '../errors';

/** An sRGB-encoded colour, each channel a whole number 0..255. */
export interface Rgb {
  readonly r: number;
  readonly g: number;
  readonly b: number;
}

/** `#rrggbb`, lower case. */
export const hexColor = z
  .string()
  .regex(/^#[0-9a-f]{6}$/, 'a colour is written as # and six hexadecimal digits, lower case');

/**
 * @param hex `#rrggbb`
 * @throws CoreError `bad-argument` if it is written another way
 */
export function hexToRgb(hex: string): Rgb {
  if (!/^#[0-9a-f]{6}$/i.test(hex)) {
    throw new CoreError('bad-argument', `“${hex}” is not a colour; write it as #rrggbb.`);
  }
  const n = Number.parseInt(hex.slice(1), 16);
  return { r: n >> 16, g: (n >> 8) & 255, b: n & 255 };
}

/** As `#rrggbb`, lower case. */
export function rgbToHex({ r, g, b }: Rgb): string {
  return `#${((1 << 24) | (r << 16) | (g << 8) | b).toString(16).slice(1)}`;
}
