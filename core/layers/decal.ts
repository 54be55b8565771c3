import { z } from 'zod';
import { decalSurface, decalSpec, followDecal, layDecal } from '../decal';
import { colorPyramid } from '../pattern';
import { derivedBase } from './layer-base';
import type { DerivedKind } from './layer-kind';
import { wordsOf } from './premultiplied';

const schema = z.strictObject({ ...derivedBase, kind: z.literal('decal'), decal: decalSpec });

export type DecalLayer = z.infer<typeof schema>;

/** A picture or words set on the surface; it can be moved and changed until it is merged. */
export const decalKind = {
  kind: 'decal',
  schema,
  // Its place is one of this model.
  inRecipes: false,
  form: 'derived',
  boundless: false,
  shared: 'most',
  onBackdrops: true,
  patterns: ({ decal }) => [decal.picture],
  withPatterns: (layer, numbers) => ({
    ...layer,
    decal: { ...layer.decal, picture: numbers.get(layer.decal.picture) ?? layer.decal.picture },
  }),
  follow: (layer, model) => ({ ...layer, decal: followDecal(layer.decal, model) }),
  inputs: ({ decal }, names) =>
    `${names.surface} ${names.pattern(decal.picture)} ${JSON.stringify({ ...decal, words: null })}`,
  painter: ({ decal }, { pattern, kept, surface, places }) => {
    const picture = pattern(decal.picture);
    if (!picture) return () => null;
    const ground = kept('decal-ground', () => decalSurface(surface.mesh));
    const paint = layDecal(decal, colorPyramid(picture), surface, places, ground);
    return (tile) => {
      const values = paint(tile);
      return values ? { form: 'rgba16', words: wordsOf(values) } : null;
    };
  },
} as const satisfies DerivedKind<DecalLayer>;
