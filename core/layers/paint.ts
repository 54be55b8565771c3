import { z } from 'zod';
import { nodeBase } from './layer-base';
import type { PixelKind } from './layer-kind';

const schema = z.strictObject({ ...nodeBase, kind: z.literal('paint') });

export type PaintLayer = z.infer<typeof schema>;

/** Painted by hand; the pixels are kept beside the document. */
export const paintKind = {
  kind: 'paint',
  schema,
  inRecipes: false,
  form: 'pixels',
  inputs: () => '',
} as const satisfies PixelKind<PaintLayer>;
