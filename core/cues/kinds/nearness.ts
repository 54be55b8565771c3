import { z } from 'zod';
import { boundsOf, centreOf, diagonalOf } from '../../mesh';
import type { CueKind } from '../cue-kind';
import { everyTexel } from '../every-texel';

const schema = z.strictObject({
  cue: z.literal('nearness'),
  /** From the middle of the model's box, in parts of its diagonal. */
  point: z.tuple([z.number(), z.number(), z.number()]),
  /** In parts of the diagonal. */
  radius: z.number().positive().max(100),
});

/** 1 at a point, falling evenly to 0 at the radius: max(0, 1 - d/R). */
export const nearnessKind = {
  schema,
  usual: { cue: 'nearness', point: [0, 0.2, 0.3], radius: 0.4 },
  says: 'How near a place lies to a point: a face that glows, hands that darken away from it.',
  key: ({ point, radius }) => `nearness ${point.join(' ')} ${radius}`,
  measure: (mesh, map, { point, radius }) => {
    const bounds = boundsOf(mesh.positions);
    const diagonal = diagonalOf(bounds);
    const [x, y, z] = centreOf(bounds).map((c, k) => c + point[k]! * diagonal) as [number, number, number];
    const reach = radius * diagonal;
    return everyTexel(map, ({ px, py, pz }, i) => {
      const d = Math.hypot(px[i]! - x, py[i]! - y, pz[i]! - z);
      return reach > 0 ? Math.max(0, 1 - d / reach) : 0;
    });
  },
} as const satisfies CueKind<z.infer<typeof schema>>;
