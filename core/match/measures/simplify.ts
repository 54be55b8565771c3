import {
  hexToRgb,
  linearToSrgb,
  paletteOf,
  rgbToOklab,
  seenWith,
  srgbToLinear,
  type ColorVision,
} from '../../color';
import { blurred } from './blur';
import type { Rows } from '../mask/ground-mask';
import { labRows } from './lab-rows';

/** How both pictures are looked at. */
export type Simplified =
  | { readonly as: 'colors' }
  /** Only how light or dark they are. */
  | { readonly as: 'values' }
  /** Evened out, so that only large shapes are left. @see SHAPES */
  | { readonly as: 'shapes' }
  /** In so many values. */
  | { readonly as: 'tones'; readonly count: number }
  /** In so many colours, those that the picture has most of. */
  | { readonly as: 'palette'; readonly count: number }
  /** As through the eyes of someone who lacks a kind of cone. */
  | { readonly as: 'vision'; readonly vision: ColorVision };

/** Size of what is left of big shapes, parts of the height. */
const SHAPES = 1 / 40;

/** A picture simplified; transparent places stay so. */
export function simplified(picture: Rows, how: Simplified): Uint8Array {
  const { rgba, width, height } = picture;
  switch (how.as) {
    case 'colors':
      return rgba;
    case 'values':
      return inValues(rgba, (L) => L);
    case 'tones':
      return inValues(
        rgba,
        (L) => (Math.min(how.count - 1, Math.floor((L / 100) * how.count)) / (how.count - 1)) * 100,
      );
    case 'palette':
      return inColors(rgba, how.count);
    case 'shapes':
      return evened(rgba, width, height);
    case 'vision':
      return seenWith(how.vision, rgba);
  }
}

/** The grey of a CIELAB lightness, 8 bit. */
const GREY = /* @__PURE__ */ Uint8Array.from({ length: 1001 }, (_, k) => {
  const t = (k / 10 + 16) / 116;
  const y = t > 6 / 29 ? t ** 3 : 3 * (6 / 29) ** 2 * (t - 4 / 29);
  return Math.round(linearToSrgb(Math.min(1, Math.max(0, y))) * 255);
});

function inValues(rgba: Uint8Array, tone: (L: number) => number): Uint8Array {
  const out = rgba.slice();
  const lab = labRows(rgba);
  for (let i = 0, o = 0; i < rgba.length; i += 4, o += 3) {
    if (Number.isNaN(lab[o]!)) continue;
    const L = tone(Math.min(100, Math.max(0, lab[o]!)));
    out[i] = out[i + 1] = out[i + 2] = GREY[Math.round(L * 10)]!;
  }
  return out;
}

/** Each pixel in the nearest of the picture's own main colours. */
function inColors(rgba: Uint8Array, count: number): Uint8Array {
  const colors = paletteOf(rgba, count).map(({ hex }) => {
    const rgb = hexToRgb(hex);
    return { rgb, lab: rgbToOklab(rgb) };
  });
  const out = rgba.slice();
  const known = new Map<number, number>();
  for (let i = 0; i < rgba.length; i += 4) {
    if (rgba[i + 3] === 0) continue;
    const key = (rgba[i]! << 16) | (rgba[i + 1]! << 8) | rgba[i + 2]!;
    let best = known.get(key);
    if (best === undefined) {
      const p = rgbToOklab({ r: rgba[i]!, g: rgba[i + 1]!, b: rgba[i + 2]! });
      let least = Infinity;
      best = 0;
      for (let k = 0; k < colors.length; k++) {
        const { lab } = colors[k]!;
        const far = (lab.L - p.L) ** 2 + (lab.a - p.a) ** 2 + (lab.b - p.b) ** 2;
        if (far < least) [least, best] = [far, k];
      }
      known.set(key, best);
    }
    const { rgb } = colors[best]!;
    out[i] = rgb.r;
    out[i + 1] = rgb.g;
    out[i + 2] = rgb.b;
  }
  return out;
}

/** In linear light, as what is far off mixes in the eye. */
function evened(rgba: Uint8Array, width: number, height: number): Uint8Array {
  const out = rgba.slice();
  for (let c = 0; c < 3; c++) {
    const plane = Float32Array.from({ length: width * height }, (_, i) =>
      rgba[i * 4 + 3] === 0 ? NaN : srgbToLinear(rgba[i * 4 + c]! / 255),
    );
    const even = blurred(plane, width, height, height * SHAPES);
    for (let i = 0; i < even.length; i++) {
      if (!Number.isNaN(even[i]!))
        out[i * 4 + c] = Math.round(linearToSrgb(Math.min(1, Math.max(0, even[i]!))) * 255);
    }
  }
  return out;
}
