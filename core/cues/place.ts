import { z } from 'zod';
import { centreOf } from '../mesh';
import type { Vec3 } from '../math';
import type { CueSurface } from './cue-surface';

/** A place as recipes name it: from the middle of the model's box, in parts of its diagonal. */
export const placeSchema = z.tuple([z.number(), z.number(), z.number()]);

/** Such a place in model units. */
export function placeOn({ bounds, diagonal }: Pick<CueSurface, 'bounds' | 'diagonal'>, at: Vec3): Vec3 {
  const c = centreOf(bounds);
  return [c[0] + at[0] * diagonal, c[1] + at[1] * diagonal, c[2] + at[2] * diagonal];
}
