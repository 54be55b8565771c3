import { upperMedian } from '../../math';
import { compareColors, type Rgb } from '../../color';
import { lightnessRank } from './rank';

export const TONES = ['light', 'mid', 'shadow'] as const;
export type ToneName = (typeof TONES)[number];

/** A colour wanted and a colour painted. */
export interface ColorPairMatch {
  readonly reference: Rgb;
  readonly model: Rgb;
  /** CIEDE2000. */
  readonly deltaE: number;
  /** The paint against the picture: “too warm and dark”. */
  readonly words: string;
}

/** How a part's or a region's colours in the picture and on the model differ. */
export interface AreaMatch extends ColorPairMatch {
  /** Pixels that both show. */
  readonly pixels: number;
  /** Light, mid and shadow, each as it is in either picture by itself. */
  readonly tones: Readonly<Record<ToneName, ColorPairMatch>>;
  /** The mean of the pixels' own differences, CIEDE2000. */
  readonly apart: number;
  /** Where it is farthest off: the middle of its worst pixels, pixels of the picture. */
  readonly at: readonly [x: number, y: number];
}

/** Between these parts of an area's pixels, by how light they are, lie its tones; the darkest are left to lines. */
const BANDS: Readonly<Record<ToneName, readonly [from: number, to: number]>> = {
  shadow: [0.08, 0.33],
  mid: [0.38, 0.62],
  light: [0.67, 0.97],
};

/** Areas of fewer pixels tell nothing. */
export const LEAST_PIXELS = 24;

/**
 * Compares an area's colours in two pictures.
 *
 * @param pixels of the painted picture @param aligned the pixel of the reference for each
 * @param field CIEDE2000 a pixel
 * @returns null where there are too few pixels
 */
export function compareArea(
  reference: Uint8Array,
  painted: Uint8Array,
  pixels: Int32Array,
  aligned: Int32Array,
  field: Float32Array,
  width: number,
): AreaMatch | null {
  if (pixels.length < LEAST_PIXELS) return null;
  const theirs = pixels.map((i) => aligned[i]!);
  const [wanted, own] = [lightnessRank(reference, theirs), lightnessRank(painted, pixels)];
  const between = ([from, to]: readonly [number, number]): ColorPairMatch =>
    pairOf(meanColor(reference, wanted, from, to), meanColor(painted, own, from, to));
  const tones = { light: between(BANDS.light), mid: between(BANDS.mid), shadow: between(BANDS.shadow) };
  let apart = 0;
  for (const i of pixels) apart += field[i]!;
  return {
    ...between([0, 1]),
    pixels: pixels.length,
    tones,
    apart: apart / pixels.length,
    at: worstPlace(pixels, field, width),
  };
}

export function pairOf(reference: Rgb, model: Rgb): ColorPairMatch {
  const { deltaE, words } = compareColors(model, reference);
  return { reference, model, deltaE, words };
}

/** The mean of some pixels, from one part of them to another. */
export function meanColor(rgba: Uint8Array, pixels: Int32Array, from: number, to: number): Rgb {
  const [first, last] = [Math.floor(pixels.length * from), Math.max(1, Math.ceil(pixels.length * to))];
  const sum = [0, 0, 0];
  for (let k = first; k < last; k++) for (let c = 0; c < 3; c++) sum[c]! += rgba[pixels[k]! * 4 + c]!;
  const count = Math.max(1, last - first);
  return {
    r: Math.round(sum[0]! / count),
    g: Math.round(sum[1]! / count),
    b: Math.round(sum[2]! / count),
  };
}

/** The middle of the tenth that is farthest off. */
function worstPlace(pixels: Int32Array, field: Float32Array, width: number): readonly [number, number] {
  const sorted = pixels.slice().sort((a, b) => field[b]! - field[a]! || a - b);
  const most = sorted.subarray(0, Math.max(1, Math.round(sorted.length / 10)));
  // The middle one of them, which lies on the area; a mean may lie beside it.
  const mx = upperMedian(most.map((i) => i % width));
  const my = upperMedian(most.map((i) => Math.floor(i / width)));
  let best = most[0]!;
  const far = (i: number): number => ((i % width) - mx) ** 2 + (Math.floor(i / width) - my) ** 2;
  for (const i of most) if (far(i) < far(best)) best = i;
  return [(best % width) + 0.5, Math.floor(best / width) + 0.5];
}
