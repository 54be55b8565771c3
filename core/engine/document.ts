import { z } from 'zod';
import { hexColor } from '../color';
import { cueKey, cueSpec, type CueSpec } from '../cues';
import { CoreError } from '../errors';
import { DEFAULT_LIGHT_PLAN, lightPlan } from '../light';
import { blendMode } from '../stack';
import { MAX_SHEETS } from '../mesh';
import { SHEET_SIZES, type SheetSize } from '../surface';

const layerBase = {
  id: z.int().nonnegative(),
  name: z.string().min(1).max(80),
  visible: z.boolean(),
  opacity: z.number().min(0).max(1),
  blend: blendMode,
  /** The region that masks it; the whole model where left out. */
  region: z.int().nonnegative().optional(),
};

/** Local colours: one flat colour a part. */
const localLayer = z.strictObject({
  kind: z.literal('local'),
  ...layerBase,
  /** By part name. */
  colors: z.record(z.string(), hexColor),
  /** For parts that have none. */
  fallback: hexColor,
});

/** How a cue becomes a mask: `low` and below gives 0, `high` and above 1, `gamma` bends what lies between. */
const levels = z.strictObject({
  low: z.number().min(0).max(1),
  high: z.number().min(0).max(1),
  gamma: z.number().min(0.1).max(10),
});

/** One colour laid through a cue. */
const washLayer = z.strictObject({
  kind: z.literal('wash'),
  ...layerBase,
  color: hexColor,
  source: cueSpec,
  levels,
  invert: z.boolean(),
});

/** The document's light plan as paint. */
const lightLayer = z.strictObject({ kind: z.literal('light'), ...layerBase });

/** Painted by hand; the pixels are kept beside the document. */
const paintLayer = z.strictObject({ kind: z.literal('paint'), ...layerBase });

export const layerSchema = z.discriminatedUnion('kind', [localLayer, washLayer, lightLayer, paintLayer]);

export const swatchSchema = z.strictObject({
  id: z.int().nonnegative(),
  name: z.string().max(60),
  color: hexColor,
});

export const referenceSchema = z.strictObject({
  id: z.int().nonnegative(),
  name: z.string().max(120),
  width: z.int().positive(),
  height: z.int().positive(),
});

export const sheetSchema = z.strictObject({
  name: z.string().min(1).max(60),
  /** Texels a side. */
  size: z.union(SHEET_SIZES.map((n) => z.literal(n))),
});

/** A saved selection of faces. */
export const regionSchema = z.strictObject({
  id: z.int().nonnegative(),
  name: z.string().min(1).max(80),
  /** Triangles, each once. */
  faces: z.array(z.int().nonnegative()),
});

const corner = z.int().nonnegative();

export const documentSchema = z.strictObject({
  version: z.literal(1),
  name: z.string().min(1).max(120),
  /** The model says which part lies on which. One build-up covers them all. */
  sheets: z.array(sheetSchema).min(1).max(MAX_SHEETS),
  /** From the ground up. */
  layers: z.array(layerSchema).max(200),
  light: lightPlan,
  palette: z.array(swatchSchema).max(1000),
  references: z.array(referenceSchema).max(100),
  /** Hash of the model; filled in where an older project has none. */
  model: z.string().default(''),
  /** Edges of the model that are seams, each by the lowest corner that runs along it. */
  seams: z.array(corner).default([]),
  /** The seams among them that part two tones: a crisp border is wanted there. */
  paintEdges: z.array(corner).default([]),
  /** How large a part shall be on the sheet beside the others, as a factor of length; 1 where left out. */
  weights: z.record(z.string(), z.number().min(0.05).max(20)).default({}),
  /** One triangle of each island that stays where it is. */
  pins: z.array(z.int().nonnegative()).default([]),
  /** What parts were called when strokes were made, and are called now. */
  renamed: z.record(z.string(), z.string()).default({}),
  regions: z.array(regionSchema).max(500).default([]),
  /** The next free id for layers, swatches, references and regions. */
  nextId: z.int().nonnegative(),
});

export type Layer = z.infer<typeof layerSchema>;
export type LayerKind = Layer['kind'];
export type LocalLayer = z.infer<typeof localLayer>;
export type WashLayer = z.infer<typeof washLayer>;
export type Region = z.infer<typeof regionSchema>;
export type Sheet = z.infer<typeof sheetSchema>;
export type Swatch = z.infer<typeof swatchSchema>;
export type ProjectDocument = z.infer<typeof documentSchema>;

/** What a document says of a model that has just been brought in. */
export const NO_LAYOUT = {
  model: '',
  seams: [],
  paintEdges: [],
  weights: {},
  pins: [],
  renamed: {},
  regions: [],
};

/** Local colours that every new project begins with. */
const NEW_LOCAL = '#b6aca2';

export const oneSheet = (size: SheetSize): Sheet[] => [{ name: 'Sheet 1', size }];

/** @param sheets texels a side where there is one */
export function newDocument(name: string, sheets: SheetSize | readonly Sheet[]): ProjectDocument {
  return {
    version: 1,
    name,
    sheets: typeof sheets === 'number' ? oneSheet(sheets) : [...sheets],
    layers: [
      {
        kind: 'local',
        id: 1,
        name: 'Local colour',
        visible: true,
        opacity: 1,
        blend: 'normal',
        colors: {},
        fallback: NEW_LOCAL,
      },
      { kind: 'paint', id: 2, name: 'Paint', visible: true, opacity: 1, blend: 'normal' },
    ],
    light: DEFAULT_LIGHT_PLAN,
    palette: [],
    references: [],
    ...NO_LAYOUT,
    nextId: 3,
  };
}

/** The cues that a build-up's layers are made from, each once. */
export function cuesOf({ layers }: Pick<ProjectDocument, 'layers'>): CueSpec[] {
  const wanted = new Map<string, CueSpec>();
  for (const layer of layers) if (layer.kind === 'wash') wanted.set(cueKey(layer.source), layer.source);
  return [...wanted.values()];
}

/** Projects from before there could be several sheets name the size of the only one. */
function withSheets(data: unknown): unknown {
  if (typeof data !== 'object' || data === null || !('sheetSize' in data) || 'sheets' in data) return data;
  const { sheetSize, ...rest } = data;
  return { ...rest, sheets: oneSheet(sheetSize as SheetSize) };
}

/**
 * @param data what storage or a file holds
 * @param model hash of the model it goes with, where the data names none
 * @throws CoreError `document-invalid`
 */
export function parseDocument(data: unknown, model = ''): ProjectDocument {
  const parsed = documentSchema.safeParse(withSheets(data));
  if (parsed.success) return parsed.data.model ? parsed.data : { ...parsed.data, model };
  const issue = parsed.error.issues[0];
  throw new CoreError(
    'document-invalid',
    `The project's description is damaged at “${issue?.path.join('.') ?? ''}” (${issue?.message ?? 'unknown'}). Nothing was changed.`,
    { cause: parsed.error },
  );
}
