import { z } from 'zod';
import { base64ToBytes, bytesToBase64 } from '../base64';
import { CoreError } from '../errors';
import { readAs } from '../read-as';
import { pictureKind } from '../formats';
import { kindOf, type MaskStep } from '../layers';
import { lightPlan, type LightPlan } from '../light';
import { IDENTITY } from '../math';
import type { SheetSize } from '../surface';
import { checkDocument, idsOf } from './check-document';
import { MAX_LIGHTS, MAX_PATTERNS } from './limits';
import { patternsOf, regionsOf, withoutRegion } from './layer-links';
import { nodesOf, isGroup } from './layer-tree';
import { checkDepth, layerFromV1, layersV1 } from './migrate';
import { withTodaysCues } from './old-cues';
import { NO_LAYOUT, oneSheet } from './new-document';
import {
  DOCUMENT_VERSION,
  lightSchema,
  nodeSchema,
  patternSchema,
  type LayerNode,
  type Pattern,
  type ProjectDocument,
} from './schema';

/** Of a pattern in a recipe, characters of its PNG in base64. */
const LARGEST_PNG = 6_000_000;

/** A pattern with its pixels, as it stands in recipes. */
export const recipePattern = patternSchema.extend({ png: z.base64().max(LARGEST_PNG) });
export type RecipePattern = z.infer<typeof recipePattern>;

const FORMAT = 'zanahoria-recipe';

/** Each form has kinds of cues, layers or settings that an older program doesn't know; what the last one holds is still read as it is. */
const RECIPE_VERSION = 7;

/** Forms that are written as today's, but for their cues and for what they lack. */
const UPGRADED = new Set<unknown>([2, 3, 4, 5, 6]);

const name = z.string().min(1).max(120);

/** A build-up without pixels. Layers stand from the ground up, as in a project; their ids only tell them apart. */
const recipeSchema = z.strictObject({
  format: z.literal(FORMAT),
  version: z.literal(RECIPE_VERSION),
  name,
  /** What it is good for, in a sentence. */
  says: z.string().max(300).default(''),
  lights: z.array(lightSchema).min(1).max(MAX_LIGHTS),
  /** Pictures that are tiled over the form. */
  patterns: z.array(recipePattern).max(MAX_PATTERNS).default([]),
  layers: z.array(nodeSchema),
});

export type Recipe = z.infer<typeof recipeSchema>;

const withoutId = { id: true, region: true } as const;
const recipeV1 = z.strictObject({
  format: z.literal(FORMAT),
  version: z.literal(1),
  name,
  light: lightPlan,
  layers: z.array(
    z.discriminatedUnion('kind', [
      layersV1.local.omit(withoutId),
      layersV1.wash.omit(withoutId),
      layersV1.light.omit(withoutId),
    ]),
  ),
});

/**
 * @param data parsed JSON, of this or an older version
 * @throws CoreError `document-newer`, `document-invalid`
 */
export function parseRecipe(data: unknown): Recipe {
  const version = typeof data === 'object' && data !== null && 'version' in data ? data.version : null;
  if (typeof version === 'number' && version > RECIPE_VERSION) {
    throw new CoreError(
      'document-newer',
      `This recipe was made by a newer version of Zanahoria (form ${version}; this one reads up to ${RECIPE_VERSION}). Update, then use it again.`,
    );
  }
  checkDepth(data);
  if (version === 1) {
    const { light, layers, ...rest } = checked(recipeV1, withTodaysCues(data));
    return {
      ...rest,
      says: '',
      version: RECIPE_VERSION,
      lights: [{ id: 0, name: 'Light', plan: light }],
      patterns: [],
      layers: layers.map((layer, i) => layerFromV1({ ...layer, id: i + 1 })),
    };
  }
  const recipe = checked(
    recipeSchema,
    UPGRADED.has(version) ? { ...(withTodaysCues(data) as object), version: RECIPE_VERSION } : data,
  );
  const painted = [...nodesOf(recipe.layers)].find(({ node }) => !standsInRecipes(node));
  if (painted) {
    throw new CoreError(
      'document-invalid',
      `The recipe's layer “${painted.node.name}” is painted by hand; recipes hold no pixels. Take it out.`,
    );
  }
  for (const { name, png } of recipe.patterns) {
    if (pictureKind(base64ToBytes(png)) === 'PNG') continue;
    throw new CoreError(
      'document-invalid',
      `The recipe's pattern “${name}” holds no picture. It must be a PNG in base64.`,
    );
  }
  // The rest is what a project must fulfil too.
  documentFromRecipe(recipe, 64);
  return recipe;
}

const checked = <S extends z.ZodType>(schema: S, data: unknown): z.output<S> =>
  readAs(
    schema,
    data,
    'document-invalid',
    (where, says) => `The recipe is not valid at “${where}”: ${says}. See docs/recipe.md for its form.`,
  );

const standsInRecipes = (node: LayerNode): boolean => isGroup(node) || kindOf(node).inRecipes;

/**
 * A project's document as the recipe describes it, ready for a model.
 *
 * @throws CoreError `document-invalid` if the recipe contradicts itself
 */
export function documentFromRecipe(recipe: Recipe, sheetSize: SheetSize): ProjectDocument {
  const bare: ProjectDocument = {
    version: DOCUMENT_VERSION,
    name: recipe.name,
    sheets: oneSheet(sheetSize),
    layers: recipe.layers,
    lights: recipe.lights,
    palette: [],
    references: [],
    looks: [],
    cameras: [],
    patterns: recipe.patterns.map(patternOf),
    dense: null,
    modelFile: null,
    ramps: null,
    twins: 'alike',
    ...NO_LAYOUT,
    frames: [{ id: 0, placing: IDENTITY }],
    nextId: 0,
  };
  return checkDocument({ ...bare, nextId: Math.max(...idsOf(bare)) + 1 });
}

/**
 * The part of a build-up that needs no pixels. Swatches are those of one project, regions those of one model. Mask steps that only hold for this model are left out.
 *
 * @param files of the project, by id: patterns are kept with their pixels
 */
export function recipeFromDocument(
  document: ProjectDocument,
  files: ReadonlyMap<number, Uint8Array> = new Map(),
): Recipe {
  const kept = new Set(
    [...nodesOf(document.layers)].flatMap(({ node }) => (standsInRecipes(node) ? [node.id] : [])),
  );
  const belongs = (step: MaskStep): boolean =>
    step.from === 'cue' ||
    step.from === 'parts' ||
    step.from === 'pattern' ||
    (step.from === 'layer' && kept.has(step.layer));
  const prune = (level: readonly LayerNode[]): LayerNode[] =>
    level.flatMap((node): LayerNode[] => {
      if (!kept.has(node.id)) return [];
      const bare = { ...node, mask: node.mask.filter(belongs) };
      if (!isGroup(bare)) return [regionsOf(bare).reduce((layer, id) => withoutRegion(layer, id), bare)];
      const layers = prune(bare.layers);
      return layers.length ? [{ ...bare, layers }] : [];
    });
  const layers = prune(document.layers);
  const used = new Set([...nodesOf(layers)].flatMap(({ node }) => patternsOf(node)));
  return {
    format: FORMAT,
    version: RECIPE_VERSION,
    name: document.name,
    says: '',
    lights: document.lights.map((light) => ({ ...light, plan: withoutRegions(light.plan) })),
    patterns: document.patterns
      .filter((p) => used.has(p.id))
      .map((p) => ({ ...p, png: bytesToBase64(files.get(p.id) ?? new Uint8Array()) })),
    layers,
  };
}

/** A recipe's pattern without its pixels. */
export const patternOf = ({ png: _png, ...pattern }: RecipePattern): Pattern => pattern;

/** The pixels of a recipe's patterns, by id, as its document wants them. */
export const filesOfRecipe = ({ patterns }: Pick<Recipe, 'patterns'>): Map<number, Uint8Array> =>
  new Map(patterns.map((p) => [p.id, base64ToBytes(p.png)]));

/** A plan without what holds for regions, which are those of one model. */
const withoutRegions = (plan: LightPlan): LightPlan => ({
  ...plan,
  standIns: plan.standIns.filter(({ of }) => 'part' in of),
  regions: [],
});
