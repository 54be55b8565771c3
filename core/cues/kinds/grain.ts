import { z } from 'zod';
import { centreOf } from '../../mesh';
import { cellularNoise, normalize, ridgedNoise, valueNoise } from '../../math';
import { directionSchema, type PlacedCue } from '../cue-kind';
import { everyTexel } from '../every-texel';

export const GRAINS = ['value', 'ridged', 'cellular'] as const;

const schema = z.strictObject({
  cue: z.literal('grain'),
  kind: z.enum(GRAINS),
  /** Grains along the model's diagonal. */
  scale: z.number().positive().max(2000),
  seed: z.int().min(0).max(65_535),
  /** Grains are this much longer along a direction; null: as long as wide. */
  stretch: z
    .strictObject({ direction: directionSchema, by: z.number().min(1).max(100) })
    .nullable()
    .default(null),
});

const NOISES = { value: valueNoise, ridged: ridgedNoise, cellular: cellularNoise } as const;

/** Noise in model space, so that it has no seams and repeats nowhere. */
export const grainKind = {
  form: 'placed',
  schema,
  usual: { cue: 'grain', kind: 'value', scale: 30, seed: 1, stretch: null },
  says: 'Clouds, veins or cells in the stuff itself: stains, wood, hammered metal, skin. It has no seams.',
  key: ({ kind, scale, seed, stretch }) =>
    `grain 1 ${kind} ${scale} ${seed} ${stretch ? `${stretch.direction.join(' ')} ${stretch.by}` : '-'}`,
  measure: (ground, { kind, scale, seed, stretch }) => {
    const noise = NOISES[kind];
    const c = centreOf(ground.bounds);
    const k = ground.diagonal > 0 ? scale / ground.diagonal : 0;
    const d = stretch && normalize(stretch.direction);
    // What a coordinate along the direction loses.
    const less = stretch ? 1 - 1 / stretch.by : 0;
    return everyTexel(ground, ({ px, py, pz }, i) => {
      let [x, y, z] = [(px[i]! - c[0]) * k, (py[i]! - c[1]) * k, (pz[i]! - c[2]) * k];
      if (d) {
        const along = (x * d[0] + y * d[1] + z * d[2]) * less;
        x -= d[0] * along;
        y -= d[1] * along;
        z -= d[2] * along;
      }
      return noise(x, y, z, seed);
    });
  },
} as const satisfies PlacedCue<z.infer<typeof schema>>;
