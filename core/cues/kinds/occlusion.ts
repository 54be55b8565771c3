import { z } from 'zod';
import { cosineDirections } from '../../math';
import { inPosesSchema } from '../../motion';
import type { CueSurface } from '../cue-surface';
import type { RayCue } from '../cue-kind';
import { createTileCaster, overNormal, type TileCaster } from '../tile-caster';

const schema = z.strictObject({
  cue: z.literal('occlusion'),
  /** Rays a texel. */
  rays: z.int().min(1).max(4096),
  /** How far a ray looks, in parts of the model's diagonal; null looks without end. */
  reach: z.number().positive().nullable(),
  /** How much more what is very near darkens: a second, short look, multiplied onto the first at this weight. */
  fine: z.number().min(0).max(1).default(0),
  /** Over which poses it is measured; left out: at rest. */
  poses: inPosesSchema.optional(),
});

type Occlusion = z.infer<typeof schema>;

/** How far the short look goes, in parts of the diagonal; never further than a quarter of the long one. */
const FINE_REACH = 0.02;

/** The open part of the sky, cosine-weighted. */
export const occlusionKind = {
  form: 'rays',
  schema,
  usual: { cue: 'occlusion', rays: 64, reach: 0.25, fine: 0 },
  says: 'How open a place lies: dark in crevices, under arms and where things touch.',
  key: ({ rays, reach, fine }) =>
    `occlusion 2 ${rays} ${reach ?? 'endless'}${fine > 0 ? ` fine ${fine}` : ''}`,
  rays: ({ rays }) => rays,
  caster: (ground, { rays, reach, fine }) => {
    const long = reach === null ? ground.scene().diagonal * 2 : reach * ground.diagonal;
    const broad = openness(ground, rays, long);
    if (fine === 0) return broad;
    const short = openness(ground, rays, Math.min(FINE_REACH * ground.diagonal, long / 4));
    return {
      tile(tile, coarse) {
        const open = broad.tile(tile, coarse);
        const near = short.tile(tile, coarse);
        for (let i = 0; i < open.length; i++) {
          open[i] = Math.round(open[i]! * (1 - fine * (1 - near[i]! / 65535)));
        }
        return open;
      },
    };
  },
} as const satisfies RayCue<Occlusion>;

const openness = (ground: CueSurface, rays: number, tmax: number): TileCaster =>
  createTileCaster(ground, {
    what: 'open',
    rays,
    directions: cosineDirections,
    tmax,
    start: overNormal(ground),
  });
