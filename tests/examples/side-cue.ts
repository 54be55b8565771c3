import { z } from 'zod';
import { everyTexel } from '../../core/cues/every-texel';
import type { PlacedCue } from '../../core/cues/cue-kind';

const schema = z.strictObject({
  cue: z.literal('side'),
  /** Model units at which it is 1. */ reach: z.number().positive(),
});

/** How far a place lies from the plane x = 0: 0 in the middle, 1 at `reach` and beyond. */
export const sideKind = {
  form: 'placed',
  schema,
  usual: { cue: 'side', reach: 1 },
  says: 'How far to the side a place lies: light in the middle, darker toward the arms.',
  // Two specs of equal keys measure the same, so everything that counts stands in it.
  key: ({ reach }) => `side 1 ${reach}`,
  measure: (ground, { reach }) => everyTexel(ground, ({ px }, i) => Math.min(1, Math.abs(px[i]!) / reach)),
} as const satisfies PlacedCue<z.infer<typeof schema>>;
