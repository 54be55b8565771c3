import { z } from 'zod';
import { cosineDirections } from '../../math';
import type { RayCue } from '../cue-kind';
import { createTileCaster, underNormal } from '../tile-caster';

const schema = z.strictObject({
  cue: z.literal('thickness'),
  /** What counts as thick, in parts of the model's diagonal. */
  distance: z.number().positive().max(10),
});

const RAYS = 32;

/** The cosine-weighted mean of the ways through the solid, each in parts of the distance and 1 at most. */
export const thicknessKind = {
  form: 'rays',
  schema,
  usual: { cue: 'thickness', distance: 0.1 },
  says: 'How much lies behind a place: ears, leaves and paper that light shines through are thin.',
  key: ({ distance }) => `thickness 1 ${distance}`,
  rays: () => RAYS,
  caster: (ground, { distance }) =>
    createTileCaster(ground, {
      what: 'depth',
      rays: RAYS,
      directions: cosineDirections,
      tmax: distance * ground.diagonal,
      start: underNormal(ground),
    }),
} as const satisfies RayCue<z.infer<typeof schema>>;
