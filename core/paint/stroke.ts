import { z } from 'zod';
import { hexColor } from '../color';

/** Numbers a sample: position xyz, unit normal xyz, radius (model units), pressure 0..1. */
export const SAMPLE_STRIDE = 8;

const brushStyle = {
  tool: z.literal('brush'),
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
  /** Leave alone what faces away from under the brush. */
  nearSide: z.boolean(),
};

/** Samples in a row; a new run begins where the brush left the model and came back. */
const runs = z.array(z.array(z.number()));

/** What is known of a stroke when it begins, a tool each. */
export const strokeStyleSchema = z.discriminatedUnion('tool', [z.strictObject(brushStyle)]);

/** A stroke as it is asked for. */
export const strokeWishSchema = z.discriminatedUnion('tool', [z.strictObject({ ...brushStyle, runs })]);

/** A stroke as it was made; the pixels are its result. Samples lie on the surface of its frame. */
export const strokeSchema = z.discriminatedUnion('tool', [
  z.strictObject({
    ...brushStyle,
    /** Made while what is transparent was locked: alpha stays as it was. */
    keepAlpha: z.boolean(),
    /** The guard that held it, by id; null for none. */
    within: z.int().nonnegative().nullable(),
    /** The frame in which its samples lie, by id. */
    frame: z.int().nonnegative(),
    runs,
  }),
]);

export type StrokeStyle = z.infer<typeof strokeStyleSchema>;
export type StrokeWish = z.infer<typeof strokeWishSchema>;
export type Stroke = z.infer<typeof strokeSchema>;

/** Stands in the place of a stroke that can't be read any more; paints nothing. */
export const LOST_STROKE: Stroke = {
  tool: 'brush',
  erase: false,
  color: '#000000',
  opacity: 0,
  edge: 0,
  spacing: 1,
  pressureSize: false,
  pressureOpacity: false,
  nearSide: true,
  keepAlpha: true,
  within: null,
  frame: 0,
  runs: [],
};

/** Seven significant digits: what a 32-bit position holds, so that a stroke is the same after storage. */
export function roundSample(x: number): number {
  return Number(x.toPrecision(7));
}
