import { z } from 'zod';
import { ways } from '../geodesic';
import type { PlacedCue } from '../cue-kind';
import { everySpot } from '../every-texel';
import { placeOn, placeSchema } from '../place';

/** Places that a line over the model may have. */
const MOST_POINTS = 64;

const schema = z.strictObject({
  cue: z.literal('along'),
  /** Where the ways begin: a point, or points along a line that was drawn. */
  points: z.array(placeSchema).min(1).max(MOST_POINTS),
  /** In parts of the diagonal. */
  reach: z.number().positive().max(100),
});

/** How far a place lies from a point along the surface: 0 there, 1 at the reach, and where no way leads. */
export const alongKind = {
  form: 'placed',
  schema,
  usual: { cue: 'along', points: [[0, 0.5, 0]], reach: 0.5 },
  says: 'How far a place lies from a point along the form: hands that darken toward the fingertips, a tail, a sleeve.',
  key: ({ points, reach }) => `along 1 ${points.flat().join(' ')} ${reach}`,
  follow: (spec, model) => ({
    ...spec,
    points: spec.points.map((at) => [...model.place(at)] as [number, number, number]),
    reach: model.part(spec.reach),
  }),
  measure: (ground, { points, reach }) => {
    const way = ways(
      ground.mesh,
      points.map((point) => placeOn(ground, point)),
    );
    const whole = reach * ground.diagonal;
    return everySpot(ground, ({ face, places: { px, py, pz } }, i) =>
      face[i]! < 0 || !(whole > 0) ? 0 : Math.min(1, way(face[i]!, px[i]!, py[i]!, pz[i]!) / whole),
    );
  },
} as const satisfies PlacedCue<z.infer<typeof schema>>;
