import { z } from 'zod';
import { patternSpec, tilePattern, colorPyramid, greyPyramid, type PatternSpec } from '../pattern';
import { derivedBase } from './layer-base';
import type { DerivedKind, InputNames, LayerInputs } from './layer-kind';
import { wordsOf } from './premultiplied';

const schema = z.strictObject({ ...derivedBase, kind: z.literal('pattern'), tiled: patternSpec });

export type PatternLayer = z.infer<typeof schema>;

/** Names all that a tiled picture is made from. */
export const patternNames = (spec: PatternSpec, names: InputNames): string =>
  `${names.surface} ${names.pattern(spec.pattern)} ${JSON.stringify(spec)}`;

/** Any picture tiled over the form, as colour. */
export const patternKind = {
  kind: 'pattern',
  schema,
  inRecipes: true,
  form: 'derived',
  boundless: false,
  shared: 'first',
  patterns: ({ tiled }) => [tiled.pattern],
  withPatterns: (layer, numbers) => ({ ...layer, tiled: withNumber(layer.tiled, numbers) }),
  inputs: ({ tiled }, names) => patternNames(tiled, names),
  painter: ({ tiled }, inputs) => {
    const paint = patternOver(tiled, 'color', inputs);
    return (tile) => {
      const values = paint?.(tile);
      return values ? { form: 'rgba16', words: wordsOf(values) } : null;
    };
  },
} as const satisfies DerivedKind<PatternLayer>;

/** A tiled picture when patterns have other numbers. */
export const withNumber = (spec: PatternSpec, numbers: ReadonlyMap<number, number>): PatternSpec => ({
  ...spec,
  pattern: numbers.get(spec.pattern) ?? spec.pattern,
});

/** A project's pattern over its surface; null while its picture isn't there. */
export function patternOver(
  spec: PatternSpec,
  as: 'color' | 'grey',
  { pattern, surface, places }: LayerInputs,
): ReturnType<typeof tilePattern> | null {
  const picture = pattern(spec.pattern);
  if (!picture) return null;
  const pyramid = as === 'color' ? colorPyramid(picture) : greyPyramid(picture);
  return tilePattern(spec, pyramid, surface, places);
}
