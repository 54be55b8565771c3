import { z } from 'zod';
import { normalize } from '../../math';
import type { PlacedCue } from '../cue-kind';
import { everyTexel } from '../every-texel';

const schema = z.strictObject({
  cue: z.literal('facing'),
  direction: z.tuple([z.number(), z.number(), z.number()]),
});

/**
 * How far the surface turns toward a direction: (1 + cos angle) / 2, so 1 facing it, 0.5 square to it, 0 facing away. With direction up
 * it is the part of the sky that a tilted plane sees (Liu and Jordan 1963).
 */
export const facingKind = {
  form: 'placed',
  schema,
  usual: { cue: 'facing', direction: [0, 1, 0] },
  says: 'How far a place turns toward a side: light from above, dust, snow.',
  key: ({ direction }) => `facing ${direction.join(' ')}`,
  measure: (ground, { direction }) => {
    const [x, y, z] = normalize(direction);
    return everyTexel(
      ground,
      ({ nx, ny, nz }, i) => (1 + (nx[i]! * x + ny[i]! * y + nz[i]! * z) / 32767) / 2,
    );
  },
} as const satisfies PlacedCue<z.infer<typeof schema>>;
