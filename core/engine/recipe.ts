import { z } from 'zod';
import { CoreError } from '../errors';
import { lightPlan } from '../light';
import type { SheetSize } from '../surface';
import { layerSchema, NO_LAYOUT, oneSheet, type Layer, type ProjectDocument } from './document';

const [local, wash, light] = layerSchema.options;

/** A build-up without pixels. Layers stand from the ground up, as in a project, but without ids. */
export const recipeSchema = z.strictObject({
  format: z.literal('zanahoria-recipe'),
  version: z.literal(1),
  name: z.string().min(1).max(120),
  light: lightPlan,
  layers: z
    .array(
      z.discriminatedUnion('kind', [
        local.omit({ id: true, region: true }),
        wash.omit({ id: true, region: true }),
        light.omit({ id: true, region: true }),
      ]),
    )
    .min(1)
    .max(200),
});

export type Recipe = z.infer<typeof recipeSchema>;

/**
 * @param data parsed JSON
 * @throws CoreError `document-invalid`
 */
export function parseRecipe(data: unknown): Recipe {
  const parsed = recipeSchema.safeParse(data);
  if (parsed.success) return parsed.data;
  const issue = parsed.error.issues[0];
  throw new CoreError(
    'document-invalid',
    `The recipe is not valid at “${issue?.path.join('.') || 'its start'}”: ${issue?.message ?? 'unknown'}. See docs/recipe.md for its form.`,
    { cause: parsed.error },
  );
}

/** A project's document as the recipe describes it, ready for a model. */
export function documentFromRecipe(recipe: Recipe, sheetSize: SheetSize): ProjectDocument {
  return {
    version: 1,
    name: recipe.name,
    sheets: oneSheet(sheetSize),
    layers: recipe.layers.map((layer, i): Layer => ({ ...layer, id: i + 1 })),
    light: recipe.light,
    palette: [],
    references: [],
    ...NO_LAYOUT,
    nextId: recipe.layers.length + 1,
  };
}

/** The part of a build-up that needs no pixels. */
export function recipeFromDocument(document: ProjectDocument): Recipe {
  const layers: Recipe['layers'] = [];
  for (const layer of document.layers) {
    if (layer.kind === 'paint') continue;
    const { id: _id, region: _region, ...rest } = layer;
    layers.push(rest as Recipe['layers'][number]);
  }
  return { format: 'zanahoria-recipe', version: 1, name: document.name, light: document.light, layers };
}
