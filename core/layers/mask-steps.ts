import { z } from 'zod';
import { cueSpec, type CueSpec } from '../cues';
import { patternSpec } from '../pattern';
import { levelsSchema, PLAIN_LEVELS } from './levels';

/** How a step's values are joined to what the steps before it came to. */
export const JOINS = ['multiply', 'lighten', 'darken', 'add', 'subtract'] as const;
export type Join = (typeof JOINS)[number];

const stepBase = { join: z.enum(JOINS), levels: levelsSchema, invert: z.boolean() };

export const maskStepSchema = z.discriminatedUnion('from', [
  z.strictObject({ from: z.literal('cue'), ...stepBase, cue: cueSpec }),
  z.strictObject({ from: z.literal('region'), ...stepBase, region: z.int().nonnegative() }),
  /** Parts by their names. */
  z.strictObject({
    from: z.literal('parts'),
    ...stepBase,
    parts: z.array(z.string().max(200)).min(1).max(65_535),
  }),
  /** How light a picture is that is tiled over the form. */
  z.strictObject({ from: z.literal('pattern'), ...stepBase, tiled: patternSpec }),
  /** What another layer's mask comes to. */
  z.strictObject({ from: z.literal('layer'), ...stepBase, layer: z.int().nonnegative() }),
  /**
   * Painted grey over what the steps before came to: white reveals, black hides. Always the last step; it isn't joined, since the
   * hand has the last word. Its first form had neither levels nor invert.
   */
  z.strictObject({
    from: z.literal('painted'),
    levels: levelsSchema.default(PLAIN_LEVELS),
    invert: z.boolean().default(false),
  }),
]);

export type MaskStep = z.infer<typeof maskStepSchema>;

export const MAX_MASK_STEPS = 16;

export const maskSchema = z
  .array(maskStepSchema)
  .max(MAX_MASK_STEPS)
  .refine(
    (steps) => steps.every((s, i) => s.from !== 'painted' || i === steps.length - 1),
    'what is painted on a mask is its last step',
  );

/** Whether a mask ends in a painted step. */
export const isPaintedMask = (mask: readonly MaskStep[]): boolean => mask.at(-1)?.from === 'painted';

/** Cues that a mask is made from. */
export const cuesOfMask = (mask: readonly MaskStep[]): CueSpec[] =>
  mask.flatMap((s) => (s.from === 'cue' ? [s.cue] : []));
