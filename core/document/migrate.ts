import { z } from 'zod';
import { hexColor } from '../color';
import { blendMode } from '../composite';
import { cueSpec } from '../cues';
import { CoreError } from '../errors';
import { issueOf } from '../read-as';
import { levelsSchema, NODE_DEFAULTS, type MaskStep } from '../layers';
import { lightPlan } from '../light';
import { regionSchema } from '../region';
import { NO_DRIVES, PLAIN_BRUSH, STRAIGHT, type Stroke } from '../paint';
import { IDENTITY } from '../math';
import { freePlace } from './board';
import { checkDocument } from './check-document';
import { MAX_DEPTH } from './limits';
import { NO_LAYOUT, oneSheet } from './new-document';
import { withTodaysCues } from './old-cues';
import {
  DOCUMENT_VERSION,
  documentSchema,
  sheetSchema,
  type LayerNode,
  type ProjectDocument,
  type Reference,
} from './schema';

/** The id that light and frame of the first form get: its own ids began with 1. */
const FIRST_ID = 0;

const baseV1 = {
  id: z.int().nonnegative(),
  name: z.string().min(1).max(80),
  visible: z.boolean(),
  opacity: z.number().min(0).max(1),
  blend: blendMode,
  region: z.int().nonnegative().optional(),
};

const named = <T extends z.ZodType>(value: T) =>
  // Names are data: as entries, no name can stand for something that an object has of itself.
  z.preprocess(
    (record) => (typeof record === 'object' && record !== null ? Object.entries(record) : record),
    z.array(z.tuple([z.string(), value])),
  );

export const layersV1 = {
  local: z.strictObject({ kind: z.literal('local'), ...baseV1, colors: named(hexColor), fallback: hexColor }),
  wash: z.strictObject({
    kind: z.literal('wash'),
    ...baseV1,
    color: hexColor,
    source: cueSpec,
    levels: levelsSchema,
    invert: z.boolean(),
  }),
  light: z.strictObject({ kind: z.literal('light'), ...baseV1 }),
  paint: z.strictObject({ kind: z.literal('paint'), ...baseV1 }),
};

const layerV1 = z.discriminatedUnion('kind', [layersV1.local, layersV1.wash, layersV1.light, layersV1.paint]);
export type LayerV1 = z.infer<typeof layerV1>;

const referenceV1 = z.strictObject({
  id: z.int().nonnegative(),
  name: z.string().max(120),
  width: z.int().positive(),
  height: z.int().positive(),
});

const numbers = z.array(z.int().nonnegative());

const documentV1 = z.strictObject({
  version: z.literal(1),
  name: z.string().min(1).max(120),
  sheets: z.array(sheetSchema).min(1),
  layers: z.array(layerV1),
  light: lightPlan,
  palette: z.array(z.strictObject({ id: z.int().nonnegative(), name: z.string().max(60), color: hexColor })),
  references: z.array(referenceV1),
  model: z.string().default(''),
  seams: numbers.default([]),
  paintEdges: numbers.default([]),
  weights: named(z.number().min(0.05).max(20)).default([]),
  pins: numbers.default([]),
  renamed: z.unknown().optional(),
  regions: z.array(regionSchema).default([]),
  nextId: z.int().nonnegative(),
});

/** A layer of the first form as one of today. */
export function layerFromV1(layer: LayerV1): LayerNode {
  const { id, name, visible, opacity, blend, region } = layer;
  const mask: MaskStep[] = [];
  if (layer.kind === 'wash') {
    const { source: cue, levels, invert } = layer;
    mask.push({ from: 'cue', join: 'multiply', levels, invert, cue });
  }
  if (region !== undefined) {
    const levels = { low: 0, high: 1, gamma: 1 };
    mask.push({ from: 'region', join: 'multiply', levels, invert: false, region });
  }
  const base = { ...NODE_DEFAULTS, id, name, visible, opacity, blend, mask };
  switch (layer.kind) {
    case 'local':
      return {
        ...base,
        kind: 'local',
        colors: layer.colors,
        regions: [],
        swatches: [],
        fallback: layer.fallback,
      };
    case 'wash':
      return { ...base, kind: 'wash', color: layer.color };
    case 'light':
      return { ...base, kind: 'light', light: FIRST_ID };
    case 'paint':
      return { ...base, kind: 'paint' };
  }
}

/** Strokes of the first form. They named the part that held them, which may since have become another: they are kept, but their pixels count. */
const strokeV1 = z.strictObject({
  erase: z.boolean(),
  color: hexColor,
  opacity: z.number(),
  edge: z.number(),
  spacing: z.number(),
  pressureSize: z.boolean(),
  pressureOpacity: z.boolean(),
  part: z.string().nullable(),
  nearSide: z.boolean(),
  runs: z.array(z.array(z.number())),
});

/** Strokes of the second form: round brushes only, samples of 8 numbers. */
const strokeV2 = z.strictObject({
  tool: z.literal('brush'),
  ...strokeV1.omit({ part: true }).shape,
  keepAlpha: z.boolean(),
  within: z.int().nonnegative().nullable(),
  frame: z.int().nonnegative(),
});

const SAMPLE_V2 = 8;

/** A stroke of an older form as one of today; anything else is given back as it is. */
export function todaysStroke(data: unknown): unknown {
  const first = strokeV1.safeParse(data);
  if (first.success) {
    const { part: _part, ...rest } = first.data;
    return strokeFromV2({ tool: 'brush', ...rest, keepAlpha: false, within: null, frame: FIRST_ID });
  }
  const second = strokeV2.safeParse(data);
  return second.success ? strokeFromV2(second.data) : data;
}

function strokeFromV2({
  edge,
  spacing,
  pressureSize,
  pressureOpacity,
  runs,
  ...rest
}: z.infer<typeof strokeV2>): Stroke {
  const pressure = {
    ...NO_DRIVES,
    size: pressureSize ? STRAIGHT : null,
    opacity: pressureOpacity ? STRAIGHT : null,
  };
  return {
    ...rest,
    brush: { ...PLAIN_BRUSH, lies: 'against', edge, spacing, pressure },
    seed: 0,
    up: [0, 1, 0],
    eye: [0, 0, 1],
    runs: runs.map((run) => {
      const samples: number[] = [];
      for (let o = 0; o + SAMPLE_V2 <= run.length; o += SAMPLE_V2) {
        samples.push(...run.slice(o, o + SAMPLE_V2), 0, 0, 0);
      }
      return samples;
    }),
  };
}

/** The very first projects named the size of the only sheet. */
function withSheets(data: Record<string, unknown>): unknown {
  if (!('sheetSize' in data) || 'sheets' in data) return data;
  const { sheetSize, ...rest } = data;
  return { ...rest, sheets: oneSheet(sheetSize as never) };
}

type StrokeCounts = ReadonlyMap<number, number>;

function fromV1(data: Record<string, unknown>, strokes: StrokeCounts): unknown {
  const parsed = documentV1.safeParse(withSheets(data));
  if (!parsed.success) throw damaged(parsed.error);
  const { light, renamed: _renamed, layers, ...rest } = parsed.data;
  return {
    ...NO_LAYOUT,
    ...rest,
    version: 2,
    layers: layers.map(layerFromV1),
    lights: [{ id: FIRST_ID, name: 'Light', plan: light }],
    frames: [{ id: FIRST_ID, placing: IDENTITY }],
    bases: layers
      .filter((l) => l.kind === 'paint')
      .map(({ id }) => ({ plane: id, strokes: strokes.get(id) ?? 0 })),
  };
}

/** Pictures had no board to lie on, and no camera was kept. */
function fromV2(data: Record<string, unknown>): unknown {
  const pictures = z.array(referenceV1).safeParse(data['references']);
  if (!pictures.success) throw damaged(pictures.error);
  const references: Omit<Reference, 'match'>[] = [];
  for (const picture of pictures.data) {
    references.push({ ...picture, board: freePlace(references, picture), note: '' });
  }
  return { ...data, version: 3, references, cameras: [] };
}

/** From each version to the next. */
const STEPS = new Map<number, (data: Record<string, unknown>, strokes: StrokeCounts) => unknown>([
  [1, fromV1],
  [2, fromV2],
  [3, (data) => ({ ...data, version: 4 })],
  [4, (data) => ({ ...data, version: 5, patterns: [], dense: null })],
  // Strokes have tips since, which older programs can't make: see todaysStroke.
  [5, (data) => ({ ...data, version: 6 })],
  [6, (data) => ({ ...data, version: 7 })],
  // Strokes may be held by what was seen and by colour, and have pictures for tips, since.
  [7, (data) => ({ ...data, version: 8 })],
  // Layers of ink lines since.
  [8, (data) => ({ ...data, version: 9 })],
  // Ramp sheets, borders of tones drawn like lines, and groups for the detail sheet, since.
  [9, (data) => ({ ...data, version: 10, ramps: null })],
  // How references go with the model, and kept looks, since.
  [10, (data) => ({ ...data, version: 11, references: withoutMatch(data['references']), looks: [] })],
  // Seams that were found, points that hold them, and wishes where they lie, since.
  [
    11,
    (data) => ({
      ...data,
      version: 12,
      foundSeams: [],
      seamPoints: [],
      seamWishes: { never: [], gladly: [] },
    }),
  ],
  // A denser model is moved along with the model since.
  [12, (data) => ({ ...data, version: 13 })],
]);

const withoutMatch = (references: unknown): unknown =>
  Array.isArray(references)
    ? references.map((r: unknown) => (typeof r === 'object' && r !== null ? { ...r, match: null } : r))
    : references;

export interface ParseOptions {
  /** Hash of the model it goes with, where the data names none. */
  readonly model?: string;
  /** How many strokes each paint layer has, where the data is of the first form. */
  readonly strokes?: StrokeCounts;
}

/**
 * Brings a document of any version up to today's form and checks it.
 *
 * @param data what storage or a file holds
 * @throws CoreError `document-newer` if a newer version of Zanahoria made it, `document-invalid` if it is damaged
 */
export function parseDocument(
  data: unknown,
  { model = '', strokes = new Map() }: ParseOptions = {},
): ProjectDocument {
  let value = data;
  for (;;) {
    if (typeof value !== 'object' || value === null || Array.isArray(value)) {
      throw new CoreError(
        'document-invalid',
        'The project has no description, or one that is no object. Nothing was changed.',
      );
    }
    const record = value as Record<string, unknown>;
    const { version } = record;
    if (typeof version === 'number' && version > DOCUMENT_VERSION) {
      throw new CoreError(
        'document-newer',
        `This project was made by a newer version of Zanahoria (form ${version}; this one reads up to ${DOCUMENT_VERSION}). Reload the page or update, then open it again. Nothing was changed.`,
      );
    }
    const step = typeof version === 'number' ? STEPS.get(version) : undefined;
    if (!step) break;
    checkDepth(value);
    value = step({ ...record, layers: withTodaysCues(record['layers']) }, strokes);
  }
  checkDepth(value);
  const parsed = documentSchema.safeParse(value);
  if (!parsed.success) throw damaged(parsed.error);
  return checkDocument(parsed.data.model ? parsed.data : { ...parsed.data, model });
}

function damaged(error: z.ZodError): CoreError {
  const { where, says } = issueOf(error);
  return new CoreError(
    'document-invalid',
    `The project's description is damaged at “${where}” (${says}). Nothing was changed.`,
    { cause: error },
  );
}

/** Looked at before anything goes through the tree by recursion. @throws CoreError `document-invalid` */
export function checkDepth(value: unknown): void {
  let level: unknown[] = [value];
  for (let depth = 0; level.length; depth++) {
    if (depth > MAX_DEPTH + 1) {
      throw new CoreError(
        'document-invalid',
        `The build-up has groups more than ${MAX_DEPTH} deep, which can't be shown. Nothing was changed.`,
      );
    }
    level = level.flatMap((node) => {
      const layers = typeof node === 'object' && node !== null && 'layers' in node ? node.layers : null;
      return Array.isArray(layers) ? (layers as unknown[]) : [];
    });
  }
}
