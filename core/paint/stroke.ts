import { z } from 'zod';
import { hexColor } from '../color';

/** Numbers a sample: position xyz, unit normal xyz, radius (model units), pressure 0..1. */
export const SAMPLE_STRIDE = 8;

/**
 * A stroke as it was made; the pixels are its result. Samples lie on the surface in model space; a new run begins where the
 * brush left the model and came back.
 */
export const strokeSchema = z.strictObject({
  erase: z.boolean(),
  color: hexColor,
  /** The paint's alpha where the brush covers fully. */
  opacity: z.number().min(0).max(1),
  /** 0 hard to 1 soft all the way to the middle. */
  edge: z.number().min(0).max(1),
  /** Distance between dabs in parts of the brush's diameter. */
  spacing: z.number().min(0.02).max(2),
  pressureSize: z.boolean(),
  pressureOpacity: z.boolean(),
  /** The only part that is reached; null for any. */
  part: z.string().nullable(),
  /** Leave alone what faces away from under the brush. */
  nearSide: z.boolean(),
  runs: z.array(z.array(z.number())),
});

export type Stroke = z.infer<typeof strokeSchema>;

/** All of a stroke but its samples: what is known when it begins. */
export type StrokeStyle = Omit<Stroke, 'runs'>;

/** Seven significant digits: what a 32-bit position holds, so that a stroke is the same after storage. */
export function roundSample(x: number): number {
  return Number(x.toPrecision(7));
}
