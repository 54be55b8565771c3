import { z } from 'zod';
import { hexColor, hexToRgb } from '../color';
import { derivedBase } from './layer-base';
import type { DerivedKind } from './layer-kind';

const schema = z.strictObject({ ...derivedBase, kind: z.literal('wash'), color: hexColor });

export type WashLayer = z.infer<typeof schema>;

/** One colour laid through the layer's mask. */
export const washKind = {
  kind: 'wash',
  schema,
  inRecipes: true,
  form: 'derived',
  boundless: true,
  shared: 'first',
  inputs: ({ color }) => color,
  painter: ({ color }) => {
    const { r, g, b } = hexToRgb(color);
    const source = { form: 'color', color: [r / 255, g / 255, b / 255] } as const;
    return () => source;
  },
} as const satisfies DerivedKind<WashLayer>;
