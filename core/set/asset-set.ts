import { z } from 'zod';
import { documentSchema, MAX_SWATCHES, parseRecipe, swatchSchema, type Recipe } from '../document';
import { CoreError } from '../errors';
import { readAs } from '../read-as';
import { lightPlan } from '../light';
import { projectRampSchema, projectRampsSchema } from '../ramps';

/** The form of sets that is written. */
export const SET_VERSION = 2;

export const MOST_IN_A_SET = 200;
const MOST_RECIPES = 24;
const MOST_REFERENCES = 64;
/** Of a project in its set: from a model in millimetres among those in kilometres. */
export const LEAST_SCALE = 1e-6;

const name = z.string().min(1).max(80);
const projectId = z.string().min(1).max(64);

const reference = documentSchema.shape.references.element.pick({
  name: true,
  width: true,
  height: true,
});

/** A picture that all have on their easel; its bytes are kept beside the set, under the hash of its content. */
export const setReferenceSchema = reference.extend({ hash: z.string().min(1).max(64) });
export type SetReference = z.infer<typeof setReferenceSchema>;

const recipe = z.unknown().transform((value, context): Recipe => {
  try {
    return parseRecipe(value);
  } catch (error) {
    context.addIssue({ code: 'custom', message: error instanceof Error ? error.message : String(error) });
    return z.NEVER;
  }
});

/** What the projects of a set have in common; null or empty: nothing of that kind. */
export const sharedSchema = z.strictObject({
  palette: z.array(swatchSchema.omit({ id: true })).max(MAX_SWATCHES),
  light: z.strictObject({ name, plan: lightPlan }).nullable(),
  /** The ramp sheet, by the id under which projects share it. */
  ramps: z
    .strictObject({
      id: z.string().min(1).max(60),
      name: z.string().min(1).max(60),
      state: z.int().nonnegative(),
      size: projectRampsSchema.shape.size,
      lie: projectRampsSchema.shape.lie,
      ramps: z.array(projectRampSchema.omit({ id: true })).min(2),
    })
    .nullable(),
  recipes: z.array(recipe).max(MOST_RECIPES),
  references: z.array(setReferenceSchema).max(MOST_REFERENCES),
});
export type SetShared = z.infer<typeof sharedSchema>;

const setSchema = z.strictObject({
  version: z.literal(SET_VERSION),
  id: z.string().min(1).max(64),
  name,
  /** Ids of its projects, in the order in which they stand on the wall. */
  projects: z.array(projectId).max(MOST_IN_A_SET),
  /** How many units of the set one of a project's is, where that isn't 1: models made in other units stand beside the others as they should. */
  scales: z
    .array(
      z.tuple([
        projectId,
        z
          .number()
          .min(LEAST_SCALE)
          .max(1 / LEAST_SCALE),
      ]),
    )
    .max(MOST_IN_A_SET),
  shared: sharedSchema,
});

/** Projects that share palette, light plan, ramp sheet, recipes and references. */
export type AssetSet = z.infer<typeof setSchema>;

export const NOTHING_SHARED: SetShared = {
  palette: [],
  light: null,
  ramps: null,
  recipes: [],
  references: [],
};

/** What a set can share, in the order in which it is shown. */
export const SHARED_KINDS = ['palette', 'light', 'ramps', 'recipes', 'references'] as const;
export type SharedKind = (typeof SHARED_KINDS)[number];

/** Whether a set has anything of a kind. */
export function isShared(shared: SetShared, kind: SharedKind): boolean {
  const value = shared[kind];
  return Array.isArray(value) ? value.length > 0 : value !== null;
}

/** How many units of the set one of a project's is. */
export const scaleIn = ({ scales }: Pick<AssetSet, 'scales'>, project: string): number =>
  scales.find(([id]) => id === project)?.[1] ?? 1;

/** The set with another scale for a project. */
export const withScale = (set: AssetSet, project: string, scale: number): AssetSet => ({
  ...set,
  scales: [
    ...set.scales.filter(([id]) => id !== project),
    ...(scale === 1 ? [] : [[project, scale] as [string, number]]),
  ],
});

/** What became of older forms. 1: nothing was known of scales. */
function today(data: unknown): unknown {
  if (typeof data !== 'object' || data === null || !('version' in data) || data.version !== 1) return data;
  return { ...data, version: SET_VERSION, scales: [] };
}

/**
 * A set as it was stored or came in a file, of this or an older form.
 *
 * @throws CoreError `document-newer`, `document-invalid`
 */
export function parseSet(data: unknown): AssetSet {
  const version = typeof data === 'object' && data !== null && 'version' in data ? data.version : null;
  if (typeof version === 'number' && version > SET_VERSION) {
    throw new CoreError(
      'document-newer',
      `This set was made by a newer version of Zanahoria (form ${version}; this one reads up to ${SET_VERSION}). Update, then open it again.`,
    );
  }
  return readAs(
    setSchema,
    today(data),
    'document-invalid',
    (where, says) =>
      `The set is not valid at “${where}”: ${says}. Make it anew from its projects, which are untouched.`,
  );
}
