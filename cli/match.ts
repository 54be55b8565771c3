import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';
import { rampTable } from '../core/color';
import { CoreError } from '../core/errors';
import { decodePng, encodePng, type Picture } from '../core/formats';
import { fitCamera, matchModel, type MatchCamera } from '../core/match';
import { requireUvs } from '../core/mesh';
import {
  readBytes,
  readModelFile,
  readOptions,
  textOption,
  UsageError,
  type Terminal,
  type Values,
} from './options';
import { makeFolder, writeOut } from './write-out';

const vector = z.tuple([z.number(), z.number(), z.number()]);

const cameraFile = z.strictObject({
  position: vector,
  target: vector,
  up: vector.default([0, 1, 0]),
  fovY: z.number().min(0.01).max(170),
  shift: z.tuple([z.number(), z.number()]).default([0, 0]),
  width: z.int().min(1).max(16_384),
  height: z.int().min(1).max(16_384),
});

const pointsFile = z.array(z.strictObject({ model: vector, picture: z.tuple([z.number(), z.number()]) }));

/** Differences that are drawn as the hottest, CIEDE2000. */
const HOTTEST = 20;

/** Compares a painted model with a picture of it: silhouette, colours, values and light, from the camera of the picture. */
export async function runMatch(args: readonly string[], terminal: Terminal): Promise<void> {
  const { model, values } = readOptions(args, {
    albedo: { type: 'string' },
    reference: { type: 'string' },
    camera: { type: 'string' },
    points: { type: 'string' },
    mask: { type: 'string' },
    out: { type: 'string' },
  });
  const out = textOption(values, 'out');
  const albedo = await readPicture(textOption(values, 'albedo'));
  const reference = await readPicture(textOption(values, 'reference'));
  const mask = values['mask'] === undefined ? null : await readMask(textOption(values, 'mask'), reference);
  const { camera, residuals, leftOut } = await readCamera(values, reference);
  const mesh = requireUvs(await readModelFile(model));
  const { report, painted, field } = matchModel(mesh, [albedo], camera, reference, mask);
  const whole = { camera, residuals, ...(leftOut !== null && { leftOut }), ...report };
  await makeFolder(out);
  await writeOut(
    new Map<string, Uint8Array | string>([
      [join(out, 'report.json'), `${JSON.stringify(whole, null, 2)}\n`],
      [join(out, 'side-by-side.png'), encodePng(sideBySide(reference, painted))],
      [join(out, 'heat.png'), encodePng(heatOf(field, reference))],
    ]),
  );
  terminal.out(`${JSON.stringify(whole)}\n`);
}

async function readPicture(file: string): Promise<Picture> {
  return decodePng(await readBytes(file));
}

/** @throws UsageError if it isn't as large as the picture, or nothing is marked */
async function readMask(file: string, { width, height }: Picture): Promise<Uint8Array> {
  const mask = await readPicture(file);
  if (mask.width !== width || mask.height !== height) {
    throw new UsageError(
      `“${file}” is ${mask.width} x ${mask.height}, but the reference is ${width} x ${height}. A mask is as large as its picture.`,
    );
  }
  const out = Uint8Array.from({ length: width * height }, (_, i) =>
    mask.rgba[i * 4 + 3]! >= 128 && mask.rgba[i * 4]! >= 128 ? 1 : 0,
  );
  if (!out.includes(1)) throw new UsageError(`“${file}” marks nothing: white is what belongs to the model.`);
  return out;
}

interface Found {
  readonly camera: MatchCamera;
  readonly residuals: readonly number[];
  readonly leftOut: number | null;
}

/** @throws UsageError if neither a camera nor pairs are named, or what is named isn't as it has to be */
async function readCamera(values: Values, reference: Picture): Promise<Found> {
  const { width, height } = reference;
  if (values['camera'] !== undefined) {
    const file = textOption(values, 'camera');
    const camera = await readJson(file, cameraFile);
    if (camera.width !== width || camera.height !== height) {
      throw new UsageError(
        `The camera of “${file}” is of a picture of ${camera.width} x ${camera.height}, but the reference is ${width} x ${height}.`,
      );
    }
    return { camera, residuals: [], leftOut: null };
  }
  if (values['points'] === undefined)
    throw new UsageError(
      '--camera or --points is missing: one of them says where the picture was drawn from.',
    );
  const pairs = await readJson(textOption(values, 'points'), pointsFile);
  return fitCamera(pairs, { width, height });
}

async function readJson<T>(file: string, schema: z.ZodType<T>): Promise<T> {
  let data: unknown;
  try {
    data = JSON.parse(await readFile(file, 'utf8'));
  } catch (cause) {
    throw new UsageError(
      cause instanceof SyntaxError ? `“${file}” is no JSON: ${cause.message}.` : `“${file}” can't be read.`,
      { cause },
    );
  }
  const parsed = schema.safeParse(data);
  if (parsed.success) return parsed.data;
  const [issue] = parsed.error.issues;
  throw new CoreError(
    'bad-argument',
    `“${file}”, at “${issue?.path.join('.') || 'its start'}”: ${issue?.message ?? 'not as it has to be'}.`,
  );
}

/** The reference at the left, the model at the right on the same ground. */
function sideBySide({ width, height, rgba }: Picture, painted: Uint8Array): Picture {
  const out = new Uint8Array(width * 2 * height * 4);
  for (let y = 0; y < height; y++) {
    const row = y * width * 4;
    out.set(rgba.subarray(row, row + width * 4), row * 2);
    out.set(painted.subarray(row, row + width * 4), row * 2 + width * 4);
  }
  return { width: width * 2, height, rgba: out };
}

const HEAT = {
  stops: [
    { at: 0, color: '#1b2a4a' },
    { at: 0.25, color: '#3f7f86' },
    { at: 0.55, color: '#e8c34a' },
    { at: 1, color: '#d6402b' },
  ],
  mixing: 'oklab' as const,
  hardness: 0,
};

/** Differences as colours, dark blue where there are none; transparent where nothing is compared. */
function heatOf(field: Float32Array, { width, height }: Picture): Picture {
  const table = rampTable(HEAT, 256);
  const rgba = new Uint8Array(width * height * 4);
  field.forEach((deltaE, i) => {
    if (Number.isNaN(deltaE)) return;
    const at = Math.min(255, Math.round((deltaE / HOTTEST) * 255)) * 3;
    for (let c = 0; c < 3; c++) rgba[i * 4 + c] = Math.round(table[at + c]! * 255);
    rgba[i * 4 + 3] = 255;
  });
  return { width, height, rgba };
}
