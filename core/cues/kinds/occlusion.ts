import { z } from 'zod';
import { cosineDirections } from '../../math';
import type { RayCue } from '../cue-kind';
import { createTileCaster, overNormal } from '../tile-caster';

const schema = z.strictObject({
  cue: z.literal('occlusion'),
  /** Rays a texel. */
  rays: z.int().min(1).max(4096),
  /** How far a ray looks, in parts of the model's diagonal; null looks without end. */
  reach: z.number().positive().nullable(),
});

/** The open part of the sky, cosine-weighted. */
export const occlusionKind = {
  form: 'rays',
  schema,
  usual: { cue: 'occlusion', rays: 64, reach: 0.25 },
  says: 'How open a place lies: dark in crevices, under arms and where things touch.',
  key: ({ rays, reach }) => `occlusion 2 ${rays} ${reach ?? 'endless'}`,
  rays: ({ rays }) => rays,
  caster: (ground, { rays, reach }) =>
    createTileCaster(ground, {
      what: 'open',
      rays,
      directions: cosineDirections,
      tmax: reach === null ? ground.scene().diagonal * 2 : reach * ground.diagonal,
      start: overNormal(ground),
    }),
} as const satisfies RayCue<z.infer<typeof schema>>;
