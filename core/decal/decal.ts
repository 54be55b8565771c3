import { z } from 'zod';
import { hexColor } from '../color';
import type { Follower } from '../follow';
import { isMirror, type Vec3 } from '../math';
import { symmetrySchema } from '../paint';

const vector = z.tuple([z.number(), z.number(), z.number()]);
const direction = vector.refine((d) => d.some((x) => x !== 0), 'a direction is not 0 in all three numbers');

/** Letters that a decal may have. */
export const MOST_LETTERS = 120;

/** Words from which a decal's picture was made, so that they can be changed. */
const wordsSchema = z.strictObject({
  text: z.string().min(1).max(MOST_LETTERS),
  color: hexColor,
});

/** A picture set on the surface. Places are told in parts of the model's diagonal from the middle of its box, as those of cues are. */
export const decalSpec = z.strictObject({
  /** Id of the project's pattern that it shows. */
  picture: z.int().nonnegative(),
  at: vector,
  /** What it looks along: out of the surface. */
  normal: direction,
  /** Upward in the picture. */
  up: direction,
  /** Counterclockwise as it is looked at, radians. */
  turn: z.number().min(-7).max(7),
  /** Its width, in parts of the diagonal. */
  width: z.number().min(0.002).max(4),
  /** Its height, in parts of what the picture's own shape makes it. */
  stretch: z.number().min(0.05).max(20),
  flip: z.boolean(),
  /** Laid onto the form, distances running along it; or thrown straight onto what faces it. */
  lies: z.enum(['wrapped', 'straight']),
  /** Where else it is set; null: nowhere. Its places are told as the decal's are. */
  copies: symmetrySchema.nullable(),
  words: wordsSchema.nullable(),
});

export type DecalSpec = z.infer<typeof decalSpec>;

/** As a decal is begun with. */
export const usualDecal = (
  picture: number,
  where: Pick<DecalSpec, 'at' | 'normal' | 'up'>,
  words: DecalSpec['words'] = null,
): DecalSpec => ({
  picture,
  ...where,
  turn: 0,
  width: 0.18,
  stretch: 1,
  flip: false,
  lies: 'wrapped',
  copies: null,
  words,
});

/** A decal when the model changes. */
export function followDecal(decal: DecalSpec, model: Follower): DecalSpec {
  const { copies, flip, turn } = decal;
  const mirrors = model.placing !== null && isMirror(model.placing);
  const way = (direction: Vec3): [number, number, number] => [...model.direction(direction)];
  const place = (at: Vec3): [number, number, number] => [...model.place(at)];
  return {
    ...decal,
    at: place(decal.at),
    normal: way(decal.normal),
    up: way(decal.up),
    turn: mirrors ? -turn : turn,
    flip: flip !== mirrors,
    width: model.part(decal.width),
    copies: copies && {
      ...copies,
      planes: copies.planes.map(({ point, normal }) => ({ point: place(point), normal: way(normal) })),
      axis: copies.axis && {
        ...copies.axis,
        point: place(copies.axis.point),
        direction: way(copies.axis.direction),
      },
    },
  };
}
