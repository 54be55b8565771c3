import { hexToRgb, oklchToRgb, rgbToOklch, type Rgb } from '../color';
import type { BrushShape } from './brush';

/** Colours that the dabs of a brush may have: so many hues by so many lightnesses. */
const ACROSS = 16;
export const SHADES = ACROSS * ACROSS;

/** The furthest that a dab's lightness may be off, where all of it is jittered. */
const MOST_LIGHT = 0.5;

/** The colours of a brush's dabs, around the one that it paints with. */
export function shadesOf(color: string, { jitter }: BrushShape): readonly Rgb[] {
  const { L, C, h } = rgbToOklch(hexToRgb(color));
  return Array.from({ length: SHADES }, (_, i) => {
    const off = (n: number): number => (n + 0.5) / ACROSS - 0.5;
    const lightness = L + off(Math.floor(i / ACROSS)) * MOST_LIGHT * 2 * jitter.light;
    return oklchToRgb({
      L: Math.min(1, Math.max(0, lightness)),
      C,
      h: h + off(i % ACROSS) * 360 * jitter.hue,
    });
  });
}
