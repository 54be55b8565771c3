import type { LabRows } from './lab-rows';

/** What colours a picture has as a whole. */
export interface ColorRange {
  /** CIELAB chroma that 5, 50 and 95 of 100 pixels are below. */
  readonly chroma: readonly [low: number, middle: number, high: number];
  /** Shares of the twelve hues from 0 degrees on, weighted by chroma; they sum up to 1 where anything is coloured. */
  readonly hues: readonly number[];
  /** The hue that most of the colour has, CIELAB degrees; null where nothing is coloured. */
  readonly dominant: number | null;
  /** How much of all colour lies within 30 degrees of it, 0..1. */
  readonly dominance: number;
  /** Degrees that hold nine tenths of the colour around the dominant hue. */
  readonly spread: number;
}

const HUES = 12;
const DEGREE = Math.PI / 180;

export function colorRange(rows: LabRows): ColorRange {
  const chromas: number[] = [];
  const byDegree = new Float64Array(360);
  for (let o = 0; o < rows.length; o += 3) {
    if (Number.isNaN(rows[o]!)) continue;
    const [a, b] = [rows[o + 1]!, rows[o + 2]!];
    const c = Math.hypot(a, b);
    chromas.push(c);
    byDegree[Math.floor((Math.atan2(b, a) / DEGREE + 360) % 360)]! += c;
  }
  const sorted = Float64Array.from(chromas).sort();
  const at = (share: number): number =>
    sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))] ?? 0;
  const whole = byDegree.reduce((s, c) => s + c, 0);
  const hues = Array.from({ length: HUES }, (_, k) =>
    whole > 0 ? byDegree.subarray(k * 30, k * 30 + 30).reduce((s, c) => s + c, 0) / whole : 0,
  );
  const within = (hue: number, reach: number): number => {
    let sum = 0;
    for (let d = -reach; d <= reach; d++) sum += byDegree[(hue + d + 360) % 360]!;
    return sum;
  };
  let dominant = 0;
  for (let h = 1; h < 360; h++) if (within(h, 15) > within(dominant, 15)) dominant = h;
  let reach = 0;
  while (whole > 0 && reach < 179 && within(dominant, reach) < 0.9 * whole) reach++;
  // A picture in greys has no hue.
  const isColored = at(0.95) >= 4;
  return {
    chroma: [at(0.05), at(0.5), at(0.95)],
    hues,
    dominant: isColored ? dominant : null,
    dominance: whole > 0 ? within(dominant, 30) / whole : 0,
    spread: reach * 2,
  };
}
