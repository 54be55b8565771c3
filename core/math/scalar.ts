/** x, but not below `low` nor above `high`. */
export const clamp = (x: number, low: number, high: number): number => (x < low ? low : x > high ? high : x);
/** x, but not below 0 nor above 1. */
export const clamp01 = (x: number): number => clamp(x, 0, 1);
/** From a at t = 0 to b at t = 1. */
export const mix = (a: number, b: number, t: number): number => a + (b - a) * t;

/** Cubic step: 0 below `low`, 1 above `high`. */
export function smoothstep(low: number, high: number, x: number): number {
  const t = clamp01((x - low) / (high - low));
  return t * t * (3 - 2 * t);
}

/** The middle one of some values, of two the higher; 0 of none. */
export const upperMedian = (values: Iterable<number>): number => {
  const sorted = Float64Array.from(values).sort();
  return sorted[sorted.length >> 1] ?? 0;
};

/** The middle of some values, of two their mean; 0 of none. */
export const median = (values: readonly number[]): number =>
  (upperMedian(values) - upperMedian(values.map((v) => -v))) / 2;
