import type { Picture } from './picture';

/**
 * The four texels around a place with their weights, which add up to 1; those without weight are left out.
 *
 * @param x, y in texels from the upper left corner: the middle of the first lies at 0.5
 */
export function forTaps(x: number, y: number, tap: (x: number, y: number, weight: number) => void): void {
  const [left, top] = [Math.floor(x - 0.5), Math.floor(y - 0.5)];
  const [fx, fy] = [x - 0.5 - left, y - 0.5 - top];
  for (let k = 0; k < 4; k++) {
    const weight = (k & 1 ? fx : 1 - fx) * (k & 2 ? fy : 1 - fy);
    if (weight > 0) tap(left + (k & 1), top + (k >> 1), weight);
  }
}

/** Beyond the edge the last texels stand for the rest. */
export const clamped = (v: number, side: number): number => Math.min(side - 1, Math.max(0, v));

/** Beyond the edge it begins anew. */
export const repeated = (v: number, side: number): number => ((v % side) + side) % side;

/**
 * Reads a picture between its texels, colours weighted by alpha.
 *
 * @param beyond what lies beyond its edges
 * @param out RGBA at `o`; left as it is where all is transparent
 */
export function samplePicture(
  { width, height, rgba }: Picture,
  x: number,
  y: number,
  beyond: (v: number, side: number) => number,
  out: Uint8Array,
  o: number,
): void {
  let [r, g, b, a] = [0, 0, 0, 0];
  forTaps(x, y, (tx, ty, weight) => {
    const i = (beyond(ty, height) * width + beyond(tx, width)) * 4;
    const w = weight * rgba[i + 3]!;
    r += rgba[i]! * w;
    g += rgba[i + 1]! * w;
    b += rgba[i + 2]! * w;
    a += w;
  });
  if (a === 0) return;
  out[o] = Math.round(r / a);
  out[o + 1] = Math.round(g / a);
  out[o + 2] = Math.round(b / a);
  out[o + 3] = Math.round(a);
}
