import { hexToRgb } from '../color';
import { encodePng } from './png';

/** A named colour, `#rrggbb`. */
export interface NamedColor {
  readonly name: string;
  readonly color: string;
}

const SWATCH_PIXELS = 32;

/** The palette as a strip of squares of 32 x 32 pixels, left to right. @param colors at least one */
export function paletteStrip(colors: readonly NamedColor[]): Uint8Array {
  const width = colors.length * SWATCH_PIXELS;
  const rgba = new Uint8Array(width * SWATCH_PIXELS * 4);
  colors.forEach(({ color }, k) => {
    const { r, g, b } = hexToRgb(color);
    for (let y = 0; y < SWATCH_PIXELS; y++) {
      for (let x = 0; x < SWATCH_PIXELS; x++) {
        rgba.set([r, g, b, 255], (y * width + k * SWATCH_PIXELS + x) * 4);
      }
    }
  });
  return encodePng({ width, height: SWATCH_PIXELS, rgba });
}

/**
 * The palette as design tokens (W3C Design Tokens Community Group, Format and Color Module 2025.10: `$type` color, sRGB
 * components 0..1 and the hexadecimal form).
 */
export function paletteTokens(name: string, colors: readonly NamedColor[]): string {
  const tokens: Record<string, unknown> = { $description: `Palette of ${name}`, $type: 'color' };
  colors.forEach(({ name: colorName, color }, i) => {
    const { r, g, b } = hexToRgb(color);
    tokens[tokenName(colorName, i, tokens)] = {
      $value: {
        colorSpace: 'srgb',
        components: [r, g, b].map((c) => Number((c / 255).toFixed(6))),
        hex: color,
      },
    };
  });
  return JSON.stringify({ palette: tokens }, null, 2);
}

/** A token's name may not begin with $ nor hold { } or a dot, and must be its group's only one of that name. */
function tokenName(wanted: string, index: number, taken: Record<string, unknown>): string {
  const base =
    wanted.replace(/[{}.]/g, ' ').replace(/^\$+/, '').replace(/\s+/g, ' ').trim() || `colour ${index + 1}`;
  let name = base;
  for (let n = 2; name in taken; n++) name = `${base} ${n}`;
  return name;
}
