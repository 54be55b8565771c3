import { z } from 'zod';
import { USUAL_CHECK } from '../../core/delivery';
import { CoreError } from '../../core/errors';
import { readAs } from '../../core/read-as';
import { isModelFile, readZip } from '../../core/formats';
import { SHEET_SIZES } from '../../core/surface';

/** What a job's zip holds beside `job.json`: a model or project, a recipe, pictures, settings, each by its name. */
const NAMES = /^(model|project|recipe|albedo(-\d)?|settings|reference|mask|camera|points)\.(json|png|zip)$/;

/** A model in any format that can be read. */
const isKnown = (name: string): boolean =>
  NAMES.test(name) || (/^model\.\w+$/.test(name) && isModelFile(name));

const LARGEST_FILE = 500e6;
const LARGEST_JOB_TEXT = 1e6;
const LARGEST_TOTAL = 1e9;

const size = z.literal([...SHEET_SIZES]);
const name = z.string().max(200);

/** `job.json`: what is to be done with what lies beside it. */
const jobSchema = z.discriminatedUnion('do', [
  /** `model.*` and `recipe.json`: an albedo and an unlit model. */
  z.strictObject({
    do: z.literal('build'),
    size: size.default(1024),
    /** A model that has no UVs is laid out first. */
    unwrap: z.boolean().default(false),
    roles: z
      .array(z.tuple([name, name]))
      .max(1000)
      .default([]),
  }),
  /** `project.zip`, and `settings.json` if wanted: all that leaves it. */
  z.strictObject({
    do: z.literal('deliver'),
    size: size.nullable().default(null),
    ora: z.boolean().default(false),
  }),
  /** `model.*` and `albedo.png`, or `albedo-1.png` and so on where it lies on several sheets: what would be seen as wrong. */
  z.strictObject({
    do: z.literal('check'),
    mips: z.int().min(0).max(8).default(USUAL_CHECK.mips),
    limit: z.number().min(0).max(100).default(USUAL_CHECK.limit),
  }),
  /** `model.*`, `albedo.png` and `reference.png`, and `mask.png`, `camera.json` or `points.json` if wanted: how far the one is from the other. */
  z.strictObject({ do: z.literal('match') }),
]);
export type JobRequest = z.output<typeof jobSchema>;

/** A job as it was sent. */
export interface SentJob {
  readonly request: JobRequest;
  /** By their names. */
  readonly files: ReadonlyMap<string, Uint8Array>;
}

/**
 * Reads the zip that a job is sent as.
 *
 * @throws CoreError `file-empty`, `file-not-a-project`, `file-unsupported` with a sentence on what was found
 */
export function readJob(bytes: Uint8Array): SentJob {
  if (bytes.length === 0)
    throw new CoreError('file-empty', 'The job is empty (0 bytes). Send a zip with job.json and its files.');
  const files = readZip(
    bytes,
    { entry: largest, total: LARGEST_TOTAL },
    { code: 'file-not-a-project', name: 'job' },
  );
  const text = files.get('job.json');
  if (!text) {
    throw new CoreError(
      'file-not-a-project',
      'The zip holds no job.json. It says what is to be done: {"do":"build"}, {"do":"deliver"}, {"do":"check"} or {"do":"match"}.',
    );
  }
  const request = readAs(
    jobSchema,
    jsonOf(text),
    'file-unsupported',
    (where, says) => `job.json is not valid at “${where}”: ${says}.`,
  );
  files.delete('job.json');
  requireFiles(request, files);
  return { request, files };
}

const largest = (name: string): number =>
  name === 'job.json' ? LARGEST_JOB_TEXT : isKnown(name) ? LARGEST_FILE : 0;

function jsonOf(bytes: Uint8Array): unknown {
  try {
    return JSON.parse(new TextDecoder().decode(bytes));
  } catch {
    return null;
  }
}

const NEEDED: Readonly<Record<JobRequest['do'], readonly (readonly [pattern: RegExp, name: string])[]>> = {
  build: [
    [/^model\./, 'model.glb'],
    [/^recipe\.json$/, 'recipe.json'],
  ],
  deliver: [[/^project\.zip$/, 'project.zip']],
  check: [
    [/^model\./, 'model.glb'],
    [/^albedo/, 'albedo.png'],
  ],
  match: [
    [/^model\./, 'model.glb'],
    [/^albedo\.png$/, 'albedo.png'],
    [/^reference\.png$/, 'reference.png'],
  ],
};

function requireFiles({ do: what }: JobRequest, files: ReadonlyMap<string, Uint8Array>): void {
  for (const [pattern, name] of NEEDED[what]) {
    if ([...files.keys()].some((file) => pattern.test(file))) continue;
    throw new CoreError(
      'file-unsupported',
      `The job “${what}” needs “${name}” in its zip, which isn’t there.`,
    );
  }
}
