import { z } from 'zod';
import { USUAL_CHECK } from '../core/delivery';
import { SHEET_SIZES } from '../core/surface';
import type { FileSet } from './file-set';

const size = z.literal([...SHEET_SIZES]);
const file = z.string().min(1).max(200);
const partName = z.string().max(200);

/** One thing that is done to one model or project. Files are named as they are in the set that is handed over with it. */
export const jobSchema = z.discriminatedUnion('do', [
  /** An albedo and an unlit model, out of a model and a recipe. */
  z.strictObject({
    do: z.literal('build'),
    model: file,
    recipe: file,
    size: size.default(1024),
    /** A model that has no UVs is laid out first. */
    unwrap: z.boolean().default(false),
    /** What texels show that several places of the model share: the mean of them, or what the first has. */
    twins: z.enum(['average', 'first']).default('average'),
    /** Writes geometry and paint alone: nothing else of the model's file. */
    plain: z.boolean().default(false),
    roles: z
      .array(z.tuple([partName, partName]))
      .max(1000)
      .default([]),
  }),
  /** All that leaves a project, painted again stroke by stroke where the size is another. */
  z.strictObject({
    do: z.literal('deliver'),
    project: file,
    /** Texels a side at which it is painted again; null: each sheet at its own. */
    size: size.nullable().default(null),
    /** As of `build`. */
    plain: z.boolean().default(false),
    /** Adds the layers as OpenRaster. */
    ora: z.boolean().default(false),
    /** Settings, or a report that holds them; left out: as usual, with plain names. */
    settings: file.exactOptional(),
  }),
  /** What would be seen as wrong in an engine. */
  z.strictObject({
    do: z.literal('check'),
    model: file,
    /** The picture of each sheet, in their order. */
    albedos: z.array(file).min(1).max(8),
    how: z
      .strictObject({
        mips: z.int().min(0).max(8).default(USUAL_CHECK.mips),
        limit: z.number().min(0).max(100).default(USUAL_CHECK.limit),
        range: z.tuple([z.number(), z.number()]).default([...USUAL_CHECK.range]),
        densityFactor: z.number().positive().default(USUAL_CHECK.densityFactor),
        gameSize: z.int().min(8).max(2048).default(USUAL_CHECK.gameSize),
      })
      .prefault({}),
  }),
  /** How far a painted model is from a picture of it. */
  z.strictObject({
    do: z.literal('match'),
    model: file,
    albedo: file,
    reference: file,
    mask: file.exactOptional(),
    camera: file.exactOptional(),
    points: file.exactOptional(),
  }),
]);

/** As it is given. */
export type JobWish = z.input<typeof jobSchema>;
/** As it is done. */
export type Job = z.output<typeof jobSchema>;
export type JobOf<K extends Job['do']> = Extract<Job, { do: K }>;

/** Figures of a result that stand in the summary of many. */
export type JobFigures = Readonly<Record<string, unknown>>;

/** What a job makes. */
export interface Made {
  readonly figures: JobFigures;
  /** All that is told of it. */
  readonly report: object;
  readonly files: ReadonlyMap<string, Uint8Array | string>;
}

/** Does jobs of one kind. @throws CoreError with a sentence */
export type DoJob<K extends Job['do']> = (
  job: JobOf<K>,
  files: FileSet,
  onProgress: (done: number) => void,
) => Promise<Made>;

export const asJson = (value: unknown): string => `${JSON.stringify(value, null, 2)}\n`;
