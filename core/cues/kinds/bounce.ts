import { z } from 'zod';
import { hexColor, hexToRgb } from '../../color';
import { CoreError } from '../../errors';
import { cosineDirections } from '../../math';
import type { RayCue } from '../cue-kind';
import { createTileCaster, insetStart } from '../tile-caster';

const schema = z.strictObject({
  cue: z.literal('bounce'),
  /** Red, green or blue. */
  channel: z.int().min(0).max(2),
  /** Name of the local colours that are seen: the ground that it is measured on must have those. */
  colors: z.string().max(80),
  /** What is seen where nothing lies below. */
  ground: hexColor,
  /** How far it is looked, in parts of the model's diagonal. */
  reach: z.number().positive().max(4),
});

const RAYS = 24;

/** One channel of the local colour that a place sees below it, sRGB-encoded as layers blend. Light plans ask for it. */
export const bounceKind = {
  form: 'rays',
  schema,
  usual: { cue: 'bounce', channel: 0, colors: '', ground: '#6a4a72', reach: 0.5 },
  says: 'The colour of what lies below.',
  ownModel: true,
  key: ({ channel, colors, ground, reach }) => `bounce 1 ${channel} ${colors} ${ground} ${reach}`,
  rays: () => RAYS,
  caster: (ground, spec) => {
    const { colors } = ground;
    if (colors?.name !== spec.colors) {
      throw new CoreError('bad-argument', 'The local colours below have changed; they are measured anew.');
    }
    const { r, g, b } = hexToRgb(spec.ground);
    const inset = insetStart(ground);
    return createTileCaster(ground, {
      what: 'value',
      rays: RAYS,
      directions: cosineDirections,
      tmax: spec.reach * ground.diagonal,
      miss: [r, g, b][spec.channel]! / 255,
      value: (face) => colors.rgb[face * 3 + spec.channel]! / 255,
      start: ({ places, ...spots }, i, tile, out, o) => {
        inset({ places, ...spots }, i, tile, out, o, 1);
        // Half way between the normal and straight down: what a place sees below itself.
        const l = Math.hypot(places.nx[i]!, places.ny[i]!, places.nz[i]!) || 1;
        const [x, y, z] = [places.nx[i]! / l, places.ny[i]! / l - 1, places.nz[i]! / l];
        const length = Math.hypot(x, y, z);
        out[o + 3] = length > 1e-3 ? x / length : 0;
        out[o + 4] = length > 1e-3 ? y / length : 1;
        out[o + 5] = length > 1e-3 ? z / length : 0;
      },
    });
  },
} as const satisfies RayCue<z.infer<typeof schema>>;
