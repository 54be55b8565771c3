import { z } from 'zod';
import { normalize } from '../../math';
import { inPosesSchema } from '../../motion';
import { directionSchema, type RayCue } from '../cue-kind';
import { roundedStart } from '../rounded-start';
import { createTileCaster } from '../tile-caster';

const schema = z.strictObject({
  cue: z.literal('cast'),
  /** Toward the light; any length but 0. */
  direction: directionSchema,
  /** How large the light looks from the model: the angle across it, degrees. 0 is a point, with a hard shadow. */
  light: z.number().min(0).max(120),
  /** Over which poses it is measured; left out: at rest. */
  poses: inPosesSchema.optional(),
});

/** Rays toward a light that is larger than a point. */
const SOFT_RAYS = 48;

/** Below this many degrees across one ray tells as much as many. */
const POINT = 0.01;

/** How much of a distant disc of light is seen: 1 lit, 0 in full shadow. */
export const castKind = {
  form: 'rays',
  schema,
  usual: { cue: 'cast', direction: [-0.5, 0.75, 0.6], light: 8 },
  says: 'What the light reaches and what lies in the shadow of something else.',
  key: ({ direction, light }) => `cast 1 ${normalize(direction).map(Math.fround).join(' ')} ${light}`,
  rays: ({ light }) => (light < POINT ? 1 : SOFT_RAYS),
  caster: (ground, { direction, light }) => {
    const toward = normalize(direction);
    const spread = Math.tan((Math.min(light, 120) / 360) * Math.PI);
    return createTileCaster(ground, {
      what: 'seen',
      rays: light < POINT ? 1 : SOFT_RAYS,
      directions: (count) => discDirections(light < POINT ? 1 : count, light < POINT ? 0 : spread),
      tmax: ground.scene().diagonal * 2,
      start: roundedStart(ground, toward),
    });
  },
} as const satisfies RayCue<z.infer<typeof schema>>;

const GOLDEN_ANGLE = Math.PI * (3 - Math.sqrt(5));

/**
 * Directions evenly over a disc around +z: a sunflower's seeds (H. Vogel, "A better way to construct the sunflower head", 1979).
 *
 * @param spread the disc's radius at distance 1
 */
function discDirections(count: number, spread: number): Float32Array {
  const out = new Float32Array(count * 3);
  for (let i = 0; i < count; i++) {
    const r = spread * Math.sqrt((i + 0.5) / count);
    const l = Math.hypot(1, r);
    out[i * 3] = (r * Math.cos(i * GOLDEN_ANGLE)) / l;
    out[i * 3 + 1] = (r * Math.sin(i * GOLDEN_ANGLE)) / l;
    out[i * 3 + 2] = 1 / l;
  }
  return out;
}
