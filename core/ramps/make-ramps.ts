import {
  ciede2000,
  hexToRgb,
  oklabToOklch,
  oklchToRgb,
  rgbToCielab,
  rgbToHex,
  rgbToOklab,
  rgbToOklch,
  type Oklab,
  type PaletteColor,
} from '../color';
import type { PaintedPlace } from './fit-ramps';
import { MOST_RAMPS } from './ramp-sheet';

/** A ramp that isn't on a sheet yet. */
export interface NewRamp {
  readonly name: string;
  readonly colors: readonly string[];
}

/** How far the ends of a ramp that is made from one colour lie from it, OKLab lightness; hues turn toward blue in the shadow and toward yellow in the light, as painters do (common practice). */
const DARKER = 0.24;
const LIGHTER = 0.16;
const TURN = 14;

/** Hues of shadow and light, degrees of OKLCH. */
const COOL = 285;
const WARM = 95;

/** Shadow, local colour and light of one colour. */
export function shadesAround(color: string): string[] {
  const { L, C, h } = rgbToOklch(hexToRgb(color));
  const turned = (to: number, by: number): number => {
    const way = ((((to - h) % 360) + 540) % 360) - 180;
    return h + Math.sign(way) * Math.min(Math.abs(way), by);
  };
  const dark = oklchToRgb({ L: Math.max(0.1, L - DARKER), C: C * 0.95, h: turned(COOL, TURN) });
  const light = oklchToRgb({ L: Math.min(0.97, L + LIGHTER), C: C * 0.85, h: turned(WARM, TURN) });
  return [rgbToHex(dark), color, rgbToHex(light)];
}

/** A ramp for each colour of a palette, as many as a sheet holds. */
export const rampsFromSwatches = (
  swatches: readonly { readonly name: string; readonly color: string }[],
): NewRamp[] =>
  withNames(swatches.slice(0, MOST_RAMPS).map(({ name, color }) => ({ name, colors: shadesAround(color) })));

/** Colours of a ramp that is made from paint. */
const PAINT_COLORS = 5;

/** Parts whose ramps differ by less than this everywhere share one, CIEDE2000 (common practice: so much is hardly seen). */
const ALIKE = 4;

/**
 * Ramps out of what is painted on parts, from each part's darkest to its lightest colour: fifths of its places by lightness, each with its
 * mean colour. Parts that are painted alike share one.
 *
 * @param parts with the places that were looked at; those without any are left out
 * @param most how many ramps there may be
 */
export function rampsFromPaint(
  parts: readonly { readonly name: string; readonly places: readonly PaintedPlace[] }[],
  most: number,
): NewRamp[] {
  const out: NewRamp[] = [];
  for (const { name, places } of parts) {
    if (places.length === 0) continue;
    const sorted = places.map(({ rgb }) => rgbToOklab(rgb)).sort((a, b) => a.L - b.L);
    const colors = Array.from({ length: PAINT_COLORS }, (_, k) => {
      const from = Math.floor((k * sorted.length) / PAINT_COLORS);
      const to = Math.max(from + 1, Math.floor(((k + 1) * sorted.length) / PAINT_COLORS));
      return hexOf(meanOf(sorted.slice(from, to)));
    });
    const isKnown = out.some((ramp) => apartAtMost(ramp.colors, colors) < ALIKE);
    if (!isKnown && out.length < most) out.push({ name, colors });
  }
  return withNames(out);
}

const apartAtMost = (a: readonly string[], b: readonly string[]): number =>
  Math.max(...a.map((hex, i) => ciede2000(rgbToCielab(hexToRgb(hex)), rgbToCielab(hexToRgb(b[i]!))).deltaE));

function meanOf(labs: readonly Oklab[]): Oklab {
  const sum = labs.reduce((s, { L, a, b }) => ({ L: s.L + L, a: s.a + a, b: s.b + b }), { L: 0, a: 0, b: 0 });
  return { L: sum.L / labs.length, a: sum.a / labs.length, b: sum.b / labs.length };
}

const hexOf = (lab: Oklab): string => rgbToHex(oklchToRgb(oklabToOklch(lab)));

/** How much of a difference of lightness counts when colours are told to be one thing in light and shadow. */
const LIGHTNESS_SHARE = 0.12;

/**
 * Ramps out of a picture's main colours: those that differ in lightness more than in hue and chroma are one thing in light and shadow.
 * The nearest are put together until so many are left.
 *
 * @param colors with their shares, as `paletteOf` gives them
 * @param count how many are wanted, 1 or more
 * @returns the largest share first, each from dark to light
 */
export function rampsFromColors(colors: readonly PaletteColor[], count: number): NewRamp[] {
  const groups = colors.map((color) => ({ colors: [color], share: color.share }));
  const labs = new Map(colors.map(({ hex }) => [hex, rgbToOklab(hexToRgb(hex))]));
  while (groups.length > count) {
    let best: readonly [number, number] = [0, 1];
    let least = Infinity;
    for (let i = 0; i < groups.length; i++) {
      for (let k = i + 1; k < groups.length; k++) {
        const apart = distance(middle(groups[i]!.colors, labs), middle(groups[k]!.colors, labs));
        if (apart < least) [least, best] = [apart, [i, k]];
      }
    }
    const [a, b] = best;
    groups[a] = {
      colors: [...groups[a]!.colors, ...groups[b]!.colors],
      share: groups[a]!.share + groups[b]!.share,
    };
    groups.splice(b, 1);
  }
  const ramps = groups
    .sort((a, b) => b.share - a.share)
    .map(({ colors: list }) => {
      const sorted = list.map((c) => c.hex).sort((a, b) => labs.get(a)!.L - labs.get(b)!.L);
      const few =
        sorted.length > 5
          ? [0, 1, 2, 3, 4].map((k) => sorted[Math.round((k * (sorted.length - 1)) / 4)]!)
          : sorted;
      return { name: nameOf(few), colors: few.length > 1 ? few : shadesAround(few[0]!) };
    });
  return withNames(ramps);
}

const distance = (p: Oklab, q: Oklab): number =>
  Math.hypot((p.L - q.L) * LIGHTNESS_SHARE, p.a - q.a, p.b - q.b);

function middle(list: readonly PaletteColor[], labs: ReadonlyMap<string, Oklab>): Oklab {
  let [L, a, b, whole] = [0, 0, 0, 0];
  for (const { hex, share } of list) {
    const lab = labs.get(hex)!;
    L += lab.L * share;
    a += lab.a * share;
    b += lab.b * share;
    whole += share;
  }
  return { L: L / whole, a: a / whole, b: b / whole };
}

/** Hues of OKLCH and what they are called, each from its number on (from memory: where the sRGB primaries and their mixtures lie). */
const HUES = [
  [0, 'Rose'],
  [20, 'Red'],
  [45, 'Orange'],
  [80, 'Yellow'],
  [125, 'Green'],
  [170, 'Teal'],
  [220, 'Blue'],
  [290, 'Violet'],
  [330, 'Pink'],
] as const;

/** Less chroma than this is called grey. */
const GREY = 0.03;

function nameOf(colors: readonly string[]): string {
  const { C, h, L } = rgbToOklch(hexToRgb(colors[Math.floor(colors.length / 2)]!));
  if (C < GREY) return L > 0.8 ? 'White' : L < 0.35 ? 'Black' : 'Grey';
  return HUES.findLast(([from]) => h >= from)![1];
}

/** No two of one name. */
function withNames(ramps: readonly NewRamp[]): NewRamp[] {
  const taken = new Set<string>();
  return ramps.map(({ name, colors }) => {
    let free = name.trim().slice(0, 56) || 'Ramp';
    for (let n = 2; taken.has(free); n++) free = `${name.trim().slice(0, 52) || 'Ramp'} ${n}`;
    taken.add(free);
    return { name: free, colors };
  });
}
