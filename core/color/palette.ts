import { seededRandom } from '../math';
import { oklabToHex, rgbToOklab, type Oklab } from './oklab';
import { rgbToHex, type Rgb } from './rgb';

/** A colour of a picture and which part of it it covers, 0..1. */
export interface PaletteColor {
  readonly hex: string;
  readonly share: number;
}

export const PALETTE_LEAST = 2;
export const PALETTE_MOST = 24;

/** Rounds until nothing moves; a picture of a million colours settled in 30. */
const MOST_ROUNDS = 60;

interface Bin {
  readonly lab: Oklab;
  readonly weight: number;
}

/**
 * The main colours of a picture: k-means in OKLab, begun with places far from one another (D. Arthur and S. Vassilvitskii, "k-means++",
 * 2007). A picture of no more colours than asked for gives just those.
 *
 * @param rgba straight alpha, one pixel after the other; each counts as much as it covers
 * @param count how many are wanted at the most
 * @returns the largest share first; empty where nothing covers
 */
export function paletteOf(rgba: Uint8Array | Uint8ClampedArray, count: number): PaletteColor[] {
  const weights = new Map<number, number>();
  let whole = 0;
  for (let i = 0; i + 3 < rgba.length; i += 4) {
    const a = rgba[i + 3]!;
    if (a === 0) continue;
    const key = (rgba[i]! << 16) | (rgba[i + 1]! << 8) | rgba[i + 2]!;
    weights.set(key, (weights.get(key) ?? 0) + a);
    whole += a;
  }
  if (weights.size <= count) {
    return [...weights]
      .map(([key, weight]) => ({ hex: rgbToHex(rgbOf(key)), share: weight / whole }))
      .sort(byShare);
  }
  const bins = binned(weights);
  const centres = farApart(bins, count);
  const owner = new Int32Array(bins.length).fill(-1);
  const mass = new Float64Array(count);
  for (let round = 0; round < MOST_ROUNDS; round++) {
    let moved = false;
    bins.forEach(({ lab }, i) => {
      const best = nearest(centres, lab);
      if (owner[i] !== best) {
        owner[i] = best;
        moved = true;
      }
    });
    if (!moved) break;
    const sums = centres.map(() => [0, 0, 0]);
    mass.fill(0);
    bins.forEach(({ lab, weight }, i) => {
      const k = owner[i]!;
      mass[k]! += weight;
      sums[k]![0]! += lab.L * weight;
      sums[k]![1]! += lab.a * weight;
      sums[k]![2]! += lab.b * weight;
    });
    centres.forEach((_, k) => {
      const m = mass[k]!;
      if (m > 0) centres[k] = { L: sums[k]![0]! / m, a: sums[k]![1]! / m, b: sums[k]![2]! / m };
    });
  }
  return centres
    .map((lab, k) => ({ hex: oklabToHex(lab), share: mass[k]! / whole }))
    .filter(({ share }) => share > 0)
    .sort(byShare);
}

const byShare = (a: PaletteColor, b: PaletteColor): number => b.share - a.share || (a.hex < b.hex ? -1 : 1);

const rgbOf = (key: number): Rgb => ({ r: key >> 16, g: (key >> 8) & 255, b: key & 255 });

/** Colours a photograph has more of are put together with their neighbours, five bits a channel. */
const MOST_BINS = 20_000;

function binned(weights: ReadonlyMap<number, number>): Bin[] {
  const out = new Map<number, { L: number; a: number; b: number; weight: number }>();
  const mask = weights.size > MOST_BINS ? 0xf8f8f8 : 0xffffff;
  for (const [key, weight] of weights) {
    const lab = rgbToOklab(rgbOf(key));
    const bin = out.get(key & mask) ?? { L: 0, a: 0, b: 0, weight: 0 };
    bin.L += lab.L * weight;
    bin.a += lab.a * weight;
    bin.b += lab.b * weight;
    bin.weight += weight;
    out.set(key & mask, bin);
  }
  return [...out.values()].map(({ L, a, b, weight }) => ({
    lab: { L: L / weight, a: a / weight, b: b / weight },
    weight,
  }));
}

const apart2 = (x: Oklab, y: Oklab): number => (x.L - y.L) ** 2 + (x.a - y.a) ** 2 + (x.b - y.b) ** 2;

function nearest(centres: readonly Oklab[], lab: Oklab): number {
  let best = 0;
  let least = Infinity;
  centres.forEach((c, k) => {
    const d = apart2(c, lab);
    if (d < least) {
      least = d;
      best = k;
    }
  });
  return best;
}

/** The most common colour, then each time one by chance in proportion to its weight and its squared distance from those before. */
function farApart(bins: readonly Bin[], count: number): Oklab[] {
  const random = seededRandom(1);
  const first = bins.reduce((a, b) => (b.weight > a.weight ? b : a));
  const centres = [first.lab];
  const distance = bins.map(({ lab }) => apart2(lab, first.lab));
  while (centres.length < count) {
    let at = random() * bins.reduce((sum, { weight }, i) => sum + weight * distance[i]!, 0);
    let chosen = bins.length - 1;
    for (let i = 0; i < bins.length; i++) {
      at -= bins[i]!.weight * distance[i]!;
      if (at <= 0) {
        chosen = i;
        break;
      }
    }
    const { lab } = bins[chosen]!;
    centres.push(lab);
    bins.forEach((bin, i) => (distance[i] = Math.min(distance[i]!, apart2(bin.lab, lab))));
  }
  return centres;
}
