import { z } from 'zod';

/** The sixteen blend modes of W3C Compositing and Blending Level 1, in the specification's order; kernels use the index. */
export const BLEND_MODES = [
  'normal',
  'multiply',
  'screen',
  'overlay',
  'darken',
  'lighten',
  'color-dodge',
  'color-burn',
  'hard-light',
  'soft-light',
  'difference',
  'exclusion',
  'hue',
  'saturation',
  'color',
  'luminosity',
] as const;

export type BlendMode = (typeof BLEND_MODES)[number];
export const blendMode = z.enum(BLEND_MODES);

type Color = [r: number, g: number, b: number];

/** B(cb, cs) of one channel (section 10.1), backdrop and source 0..1. */
function separable(mode: BlendMode, cb: number, cs: number): number {
  switch (mode) {
    case 'multiply':
      return cb * cs;
    case 'screen':
      return cb + cs - cb * cs;
    case 'overlay':
      return separable('hard-light', cs, cb);
    case 'darken':
      return Math.min(cb, cs);
    case 'lighten':
      return Math.max(cb, cs);
    case 'color-dodge':
      return cb <= NEAR ? 0 : cs >= 1 ? 1 : Math.min(1, cb / (1 - cs));
    case 'color-burn':
      return cb >= 1 - NEAR ? 1 : cs <= 0 ? 0 : 1 - Math.min(1, (1 - cb) / cs);
    case 'hard-light':
      return cs <= 0.5 ? cb * 2 * cs : separable('screen', cb, 2 * cs - 1);
    case 'soft-light': {
      if (cs <= 0.5) return cb - (1 - 2 * cs) * cb * (1 - cb);
      const d = cb <= 0.25 ? ((16 * cb - 12) * cb + 4) * cb : Math.sqrt(cb);
      return cb + (2 * cs - 1) * (d - cb);
    }
    case 'difference':
      return Math.abs(cb - cs);
    case 'exclusion':
      return cb + cs - 2 * cb * cs;
    default:
      return cs;
  }
}

/** A backdrop is premultiplied and divided again, so 0 and 1 are met within a few units in the last place of 32-bit floats. */
const NEAR = 1e-6;

const lum = ([r, g, b]: Color): number => 0.3 * r + 0.59 * g + 0.11 * b;
const sat = (c: Color): number => Math.max(...c) - Math.min(...c);

function setSat(c: Color, s: number): Color {
  const low = Math.min(...c);
  const range = Math.max(...c) - low;
  const k = range > 0 ? s / range : 0;
  return [(c[0] - low) * k, (c[1] - low) * k, (c[2] - low) * k];
}

function setLum(c: Color, l: number): Color {
  const d = l - lum(c);
  let out: Color = [c[0] + d, c[1] + d, c[2] + d];
  const low = Math.min(...out);
  const high = Math.max(...out);
  if (low < 0) out = out.map((x) => l + ((x - l) * l) / (l - low)) as Color;
  if (high > 1) out = out.map((x) => l + ((x - l) * (1 - l)) / (high - l)) as Color;
  return out;
}

/** B(cb, cs) of a whole colour (sections 10.1 and 10.2). */
export function blend(mode: BlendMode, cb: Color, cs: Color): Color {
  switch (mode) {
    case 'hue':
      return setLum(setSat(cs, sat(cb)), lum(cb));
    case 'saturation':
      return setLum(setSat(cb, sat(cs)), lum(cb));
    case 'color':
      return setLum(cs, lum(cb));
    case 'luminosity':
      return setLum(cb, lum(cs));
    default:
      return [separable(mode, cb[0], cs[0]), separable(mode, cb[1], cs[1]), separable(mode, cb[2], cs[2])];
  }
}
