import { z } from 'zod';
import { hexColor } from '../color';
import { brushSchema, PLAIN_BRUSH } from './brush';

/**
 * Numbers a sample, one after the other:
 *
 *     0..2  position            3..5  unit normal         6  radius, model units       7  pressure 0..1
 *     8     tilt, 0 upright to 1 lying flat               9  where it leans to, radians from `up` against the clock
 *     10    time since the stroke began, ms
 */
export const SAMPLE_STRIDE = 11;

const direction = z.tuple([z.number(), z.number(), z.number()]);

const brushStyle = {
  tool: z.literal('brush'),
  erase: z.boolean(),
  color: hexColor,
  /** The paint's alpha where the brush covers fully; that of each dab where they build up. */
  opacity: z.number().min(0).max(1),
  brush: brushSchema,
  /** What chance begins with. */
  seed: z.int().min(0).max(0xffffffff),
  /** Upward on the picture, and toward the eye, when it was made: model space. */
  up: direction,
  eye: direction,
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
  brush: PLAIN_BRUSH,
  seed: 0,
  up: [0, 1, 0],
  eye: [0, 0, 1],
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
