import { z } from 'zod';
import { brushworkSchema } from '../brushwork';
import { blendMode } from '../composite';
import { maskSchema } from './mask-steps';
import { MAX_ID } from './planes';

export const layerId = z
  .int()
  .nonnegative()
  .max(MAX_ID - 1);

/** What a hand may not change: nothing of it; where it is transparent; any pixel. */
export const LOCKS = ['none', 'transparent', 'pixels'] as const;
export type Lock = (typeof LOCKS)[number];

/** What derived paint makes of texels that several places of the model share: alike for all, or as on the side that comes first. */
export const TWINS = ['alike', 'first'] as const;
export type TwinsBy = (typeof TWINS)[number];

/** What every layer and every group has. */
export const nodeBase = {
  id: layerId,
  name: z.string().min(1).max(80),
  visible: z.boolean().default(true),
  opacity: z.number().min(0).max(1).default(1),
  blend: blendMode.default('normal'),
  /** Keeps to where the layer under it has paint. */
  clip: z.boolean().default(false),
  lock: z.enum(LOCKS).default('none'),
  mask: maskSchema.default([]),
  /** Left out: as the project says. */
  twins: z.enum(TWINS).optional(),
};

/** What every layer has that is derived from measured form. */
export const derivedBase = {
  ...nodeBase,
  /** Laid down in strokes of a brush; null or left out: smoothly. */
  strokes: brushworkSchema.nullable().optional(),
};

export const NODE_DEFAULTS = {
  visible: true,
  opacity: 1,
  blend: 'normal',
  clip: false,
  lock: 'none',
  mask: [],
} as const;
