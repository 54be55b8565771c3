import { z } from 'zod';
import { clamp01, normalize } from '../../math';
import { subjectOf } from '../../mesh';
import { directionSchema, type PlacedCue } from '../cue-kind';
import { everyTexel } from '../every-texel';

const part = z.number().min(-10).max(10);

const schema = z.strictObject({
  cue: z.literal('height'),
  /** Toward what is high. */
  direction: directionSchema,
  /** Where it begins and ends, in parts of the model's extent along the direction: 0 at its lowest, 1 at its highest vertex. */
  from: part,
  to: part,
});

/** Less than this between beginning and end is a step. */
const STEP = 1e-6;

/** Height along a direction: 0 where it begins, 1 where it ends. */
export const heightKind = {
  form: 'placed',
  schema,
  usual: { cue: 'height', direction: [0, 1, 0], from: 0, to: 1 },
  says: 'How far up a place lies: darker toward the ground, lighter toward the face.',
  key: ({ direction, from, to }) => `height 2 ${direction.join(' ')} ${from} ${to}`,
  measure: (ground, { direction, from, to }) => {
    const { positions: p } = subjectOf(ground.map.mesh);
    const [x, y, z] = normalize(direction);
    let low = Infinity;
    let high = -Infinity;
    for (let v = 0; v < p.length; v += 3) {
      const h = p[v]! * x + p[v + 1]! * y + p[v + 2]! * z;
      low = Math.min(low, h);
      high = Math.max(high, h);
    }
    const extent = high - low;
    // A flat model has no height.
    if (!(extent > 0)) return everyTexel(ground, () => 0);
    const range = Math.max(STEP, to - from);
    return everyTexel(ground, ({ px, py, pz }, i) =>
      clamp01(((px[i]! * x + py[i]! * y + pz[i]! * z - low) / extent - from) / range),
    );
  },
} as const satisfies PlacedCue<z.infer<typeof schema>>;
