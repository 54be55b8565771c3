import { z } from 'zod';
import { cutSchema } from './cut';
import { MAX_CUTS } from './limits';

const id = z
  .int()
  .nonnegative()
  .max(1e9 - 1);

/** A saved selection of faces, whose borders may run through some of them. */
export const regionSchema = z.strictObject({
  id,
  name: z.string().min(1).max(80),
  /** Triangles, each once. */
  faces: z.array(z.int().nonnegative()),
  /** What was cut through triangles, one after the other: the last has its way. */
  cuts: z.array(cutSchema).max(MAX_CUTS).default([]),
});

export type Region = z.infer<typeof regionSchema>;
