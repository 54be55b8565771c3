import { z } from 'zod';
import { faceRunsSchema } from '../mesh';
import { filePoseSchema } from '../motion';
import { brushSchema } from './brush';
import { symmetrySchema } from './symmetry';

export const vector = z.tuple([z.number(), z.number(), z.number()]);
export const part = z.number().min(0).max(1);

/** What may hold any stroke back, beside the guard. */
export const held = {
  /**
   * Only what was seen when it began: takes places of the model to the pixels of a picture SEEN_SIDE wide and high, three rows of four, x
   * from the left and y from the top times the depth, and the depth. `eye`: toward the eye where there is no perspective. `hidden`: triangles
   * that were not shown.
   */
  seen: z
    .strictObject({ view: z.array(z.number()).length(12), eye: vector, hidden: faceRunsSchema })
    .exactOptional(),
  /** Only what looked much like this in its layer before: straight-alpha RGBA8, and by how much colours may differ, CIEDE2000. */
  like: z
    .strictObject({ rgba: z.array(z.int().min(0).max(255)).length(4), tolerance: z.number().min(0).max(100) })
    .exactOptional(),
  /** The pose in which the model was; left out: at rest. All places and directions of the stroke are those of that pose. */
  pose: filePoseSchema.exactOptional(),
};

/** What every tool with a brush reads. */
export const brushed = {
  ...held,
  /** How much it does where coverage is full; of each dab where they build up. */
  opacity: part,
  brush: brushSchema,
  /** What chance begins with. */
  seed: z.int().min(0).max(0xffffffff),
  /** Upward on the picture, and toward the eye, when it was made: model space. */
  up: vector,
  eye: vector,
  /** Leave alone what faces away from under the brush. */
  nearSide: z.boolean(),
  /** Where else it is made; left out: nowhere. */
  symmetry: symmetrySchema.exactOptional(),
};

/** What may hold any stroke back. */
export type HeldStyle = z.infer<z.ZodObject<typeof held>>;
/** What every tool with a brush reads. */
export type BrushedFields = z.infer<z.ZodObject<typeof brushed>>;
