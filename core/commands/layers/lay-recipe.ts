import { z } from 'zod';
import { documentSchema, layRecipe as laid, lightSchema, nodeSchema, recipePattern } from '../../document';
import { command } from '../command';
import { at, into } from '../fields';

/** What of a recipe is laid. Its ids only tell its layers and lights apart. */
const layableRecipe = z.strictObject({
  name: documentSchema.shape.name,
  lights: z.array(lightSchema),
  patterns: z.array(recipePattern).default([]),
  layers: z.array(nodeSchema).min(1),
});

/** Lays a recipe's layers as a group. */
export const layRecipe = command(
  z.strictObject({
    do: z.literal('lay-recipe'),
    recipe: layableRecipe,
    /** Kept to these. */
    parts: z.array(z.string()).min(1).optional(),
    into,
    at,
  }),
  {
    label: ({ recipe }) => `Lay ${recipe.name}`,
    apply: (document, { recipe, parts, into, at }) => laid(document, recipe, parts ?? null, { into, at }),
  },
);
