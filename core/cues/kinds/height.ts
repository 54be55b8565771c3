import { z } from 'zod';
import { boundsOf } from '../../mesh';
import type { CueKind } from '../cue-kind';
import { everyTexel } from '../every-texel';

export const AXES = ['x', 'y', 'z'] as const;

const schema = z.strictObject({ cue: z.literal('height'), axis: z.enum(AXES) });

/** Height within the model's box: 0 at its lowest, 1 at its highest point along the axis. */
export const heightKind = {
  schema,
  usual: { cue: 'height', axis: 'y' },
  says: 'How far up a place lies: darker toward the ground, lighter toward the face.',
  key: ({ axis }) => `height ${axis}`,
  measure: (mesh, map, { axis }) => {
    const k = AXES.indexOf(axis);
    const { min, max } = boundsOf(mesh.positions);
    const low = min[k]!;
    const range = max[k]! - low;
    return everyTexel(map, (places, i) => {
      const value = (k === 0 ? places.px : k === 1 ? places.py : places.pz)[i]!;
      return range > 0 ? (value - low) / range : 0;
    });
  },
} as const satisfies CueKind<z.infer<typeof schema>>;
