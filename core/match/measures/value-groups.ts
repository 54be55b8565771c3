import type { LabRows } from './lab-rows';

/** Steps of lightness that values are told in. */
export const VALUE_STEPS = 20;

/** Some of a picture that is about as light. */
export interface ValueGroup {
  /** CIELAB lightness of its middle, 0..100. */
  readonly L: number;
  /** Part of the picture, 0..1. */
  readonly share: number;
}

/** Shares of what a picture shows by its lightness, in steps of 5, the darkest first. */
export function valuesOf(rows: LabRows): number[] {
  const out = new Array<number>(VALUE_STEPS).fill(0);
  let whole = 0;
  for (let o = 0; o < rows.length; o += 3) {
    const L = rows[o]!;
    if (Number.isNaN(L)) continue;
    out[Math.min(VALUE_STEPS - 1, Math.max(0, Math.floor((L / 100) * VALUE_STEPS)))]!++;
    whole++;
  }
  return whole > 0 ? out.map((n) => n / whole) : out;
}

/** Lightnesses are counted in steps of 1 and evened out over so many. */
const EVEN = 4;

/** A group is divided from the next by a valley at least so much lower than the lower of the two, in parts of it. */
const VALLEY = 0.25;

/** Smaller groups are none. */
const LEAST_SHARE = 0.03;

/** The groups of values of a picture: the hills of its evened histogram, the darkest first. */
export function valueGroups(rows: LabRows): ValueGroup[] {
  const counts = new Float64Array(101);
  let whole = 0;
  for (let o = 0; o < rows.length; o += 3) {
    if (Number.isNaN(rows[o]!)) continue;
    counts[Math.min(100, Math.max(0, Math.round(rows[o]!)))]!++;
    whole++;
  }
  if (whole === 0) return [];
  const even = counts.map((_, v) => {
    let sum = 0;
    for (let k = 0; k <= 100; k++) sum += counts[k]! * Math.exp(-((k - v) ** 2) / (2 * EVEN * EVEN));
    return sum;
  });
  const peaks: number[] = [];
  for (let v = 0; v <= 100; v++) {
    if (even[v]! > (even[v - 1] ?? -1) && even[v]! >= (even[v + 1] ?? -1)) peaks.push(v);
  }
  // The shallowest valley is filled until all that are left are deep.
  const valleyOf = (k: number): number => Math.min(...even.subarray(peaks[k]!, peaks[k + 1]! + 1));
  for (;;) {
    let [shallowest, at] = [VALLEY, -1];
    for (let k = 0; k + 1 < peaks.length; k++) {
      const lower = Math.min(even[peaks[k]!]!, even[peaks[k + 1]!]!);
      const depth = 1 - valleyOf(k) / lower;
      if (depth < shallowest) [shallowest, at] = [depth, k];
    }
    if (at < 0) break;
    peaks.splice(even[peaks[at]!]! < even[peaks[at + 1]!]! ? at : at + 1, 1);
  }
  const borders = peaks.map((p, k) => {
    const next = peaks[k + 1];
    if (next === undefined) return 101;
    let low = p;
    for (let v = p; v <= next; v++) if (even[v]! < even[low]!) low = v;
    return low;
  });
  return peaks
    .map((_, k) => {
      let [sum, count] = [0, 0];
      for (let v = borders[k - 1] ?? 0; v < borders[k]!; v++) {
        sum += v * counts[v]!;
        count += counts[v]!;
      }
      return { L: count > 0 ? sum / count : 0, share: count / whole };
    })
    .filter(({ share }) => share >= LEAST_SHARE);
}

/** Two parts that lie beside one another and look equally light from afar. */
export interface Merging {
  readonly parts: readonly [number, number];
  /** How far their values are apart on the model and in the reference, CIELAB lightness. */
  readonly apart: number;
  readonly wanted: number;
}

/** Values nearer than this run together from afar (common practice: about five steps of a hundred). */
const MERGED = 5;

/** Borders shorter than this part of the picture's height don't matter. */
const LEAST_BORDER = 0.03;

/**
 * Parts that merge at game size though they don't in the reference: neighbours in the picture whose mean values are near.
 *
 * @param partOf a pixel's part; negative where there is none
 */
export function mergingParts(
  partOf: Int32Array,
  width: number,
  height: number,
  reference: ReadonlyMap<number, number>,
  model: ReadonlyMap<number, number>,
): Merging[] {
  const borders = new Map<string, { readonly parts: readonly [number, number]; length: number }>();
  const meet = (a: number, b: number): void => {
    if (a < 0 || b < 0 || a === b) return;
    const parts = a < b ? ([a, b] as const) : ([b, a] as const);
    const border = borders.get(parts.join(' ')) ?? { parts, length: 0 };
    border.length++;
    borders.set(parts.join(' '), border);
  };
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (x + 1 < width) meet(partOf[i]!, partOf[i + 1]!);
      if (y + 1 < height) meet(partOf[i]!, partOf[i + width]!);
    }
  }
  return [...borders.values()].flatMap(({ parts, length }): Merging[] => {
    const [a, b] = parts;
    const values = [model.get(a), model.get(b), reference.get(a), reference.get(b)];
    if (length < height * LEAST_BORDER || values.includes(undefined)) return [];
    const [apart, wanted] = [Math.abs(values[0]! - values[1]!), Math.abs(values[2]! - values[3]!)];
    return apart < MERGED && wanted >= MERGED && wanted - apart >= MERGED / 2
      ? [{ parts, apart, wanted }]
      : [];
  });
}
