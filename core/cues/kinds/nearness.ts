import { z } from 'zod';
import { clamp01, normalize } from '../../math';
import { inPosesSchema } from '../../motion';
import { directionSchema, type PlacedCue } from '../cue-kind';
import { everyTexel } from '../every-texel';
import { placeOn, placeSchema } from '../place';

const schema = z.strictObject({
  cue: z.literal('nearness'),
  point: placeSchema,
  /** In parts of the diagonal. */
  radius: z.number().positive().max(100),
  /** Nearness to a plane through the point, by the plane's normal; null: to the point itself. */
  plane: directionSchema.nullable().default(null),
  /** Over which part of the radius it falls off: 1 evenly from the middle, 0 all at once at the radius. */
  edge: z.number().min(0).max(1).default(1),
  /** Over which poses it is measured; left out: at rest. */
  poses: inPosesSchema.optional(),
});

/** The least edge: as good as none, and nothing is divided by 0. */
const HARD = 1e-6;

/** 1 at a point or a plane, falling to 0 at the radius: max(0, 1 - d/R) where the edge is 1. */
export const nearnessKind = {
  form: 'placed',
  schema,
  usual: { cue: 'nearness', point: [0, 0.2, 0.3], radius: 0.4, plane: null, edge: 1 },
  says: 'How near a place lies to a point or a plane: a face that glows, hands that darken away from it, a waterline.',
  key: ({ point, radius, plane, edge }) =>
    `nearness 2 ${point.join(' ')} ${radius} ${plane?.join(' ') ?? '-'} ${edge}`,
  follow: (spec, model) => ({
    ...spec,
    point: [...model.place(spec.point)],
    radius: model.part(spec.radius),
    plane: spec.plane && [...model.direction(spec.plane)],
  }),
  measure: (ground, { point, radius, plane, edge }) => {
    const [x, y, z] = placeOn(ground, point);
    const reach = radius * ground.diagonal;
    const n = plane && normalize(plane);
    if (!(reach > 0)) return everyTexel(ground, () => 0);
    return everyTexel(ground, ({ px, py, pz }, i) => {
      const [dx, dy, dz] = [px[i]! - x, py[i]! - y, pz[i]! - z];
      const d = n ? Math.abs(dx * n[0] + dy * n[1] + dz * n[2]) : Math.hypot(dx, dy, dz);
      return clamp01((1 - d / reach) / Math.max(HARD, edge));
    });
  },
} as const satisfies PlacedCue<z.infer<typeof schema>>;
