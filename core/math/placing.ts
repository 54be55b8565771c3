import { z } from 'zod';
import { normalize, type Vec3 } from './vec3';

/**
 * Takes points of the space in which strokes were made to the model as it stands now: three rows of four, the last column is
 * the move. Only similarities (turned, mirrored, scaled evenly, moved) are frames.
 */
export const placingSchema = z.array(z.number()).length(12);
export type Placing = z.infer<typeof placingSchema>;

export const IDENTITY: Placing = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0];

/** Whether a placing leaves everything where it is. */
export const isIdentity = (placing: Placing): boolean => placing.every((x, i) => x === IDENTITY[i]);

/** First `first`, then `then`. */
export function compose(then: Placing, first: Placing): Placing {
  return Array.from({ length: 12 }, (_, i) => {
    const row = Math.floor(i / 4) * 4;
    const column = i % 4;
    let sum = column === 3 ? then[row + 3]! : 0;
    for (let k = 0; k < 3; k++) sum += then[row + k]! * first[k * 4 + column]!;
    return sum;
  });
}

/** The way back. A placing that squeezes all flat has none and gives itself. */
export function inverse(p: Placing): Placing {
  const c = (i: number, j: number, k: number, l: number): number => p[i]! * p[j]! - p[k]! * p[l]!;
  const det = p[0]! * c(5, 10, 6, 9) - p[1]! * c(4, 10, 6, 8) + p[2]! * c(4, 9, 5, 8);
  if (det === 0) return p;
  const m = [
    [c(5, 10, 6, 9), c(2, 9, 1, 10), c(1, 6, 2, 5)],
    [c(6, 8, 4, 10), c(0, 10, 2, 8), c(2, 4, 0, 6)],
    [c(4, 9, 5, 8), c(1, 8, 0, 9), c(0, 5, 1, 4)],
  ].map((row) => row.map((x) => x / det));
  return m.flatMap((row) => [...row, -(row[0]! * p[3]! + row[1]! * p[7]! + row[2]! * p[11]!)]);
}

const determinant = (p: Placing): number =>
  p[0]! * (p[5]! * p[10]! - p[6]! * p[9]!) -
  p[1]! * (p[4]! * p[10]! - p[6]! * p[8]!) +
  p[2]! * (p[4]! * p[9]! - p[5]! * p[8]!);

/** How many times longer lengths become. */
export const scaleOf = (placing: Placing): number => Math.cbrt(Math.abs(determinant(placing)));

/** Whether left becomes right. */
export const isMirror = (placing: Placing): boolean => determinant(placing) < 0;

/** Where a placing takes a point. */
export function placed([x, y, z]: Vec3, p: Placing): [number, number, number] {
  const row = (o: number): number => p[o]! * x + p[o + 1]! * y + p[o + 2]! * z + p[o + 3]!;
  return [row(0), row(4), row(8)];
}

/** A direction, of unit length, as a placing turns it. */
export function placeDirection(d: Vec3, p: Placing): [number, number, number] {
  const row = (o: number): number => p[o]! * d[0] + p[o + 1]! * d[1] + p[o + 2]! * d[2];
  return [...normalize([row(0), row(4), row(8)])];
}
