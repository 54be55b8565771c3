import { join } from 'node:path';
import { z } from 'zod';
import { decodePng, encodePng, type Picture } from '../core/formats';
import {
  findBySilhouette,
  fitCamera,
  heatColors,
  maskFromGround,
  matchCameraSchema,
  pointPairSchema,
  prepareMatch,
  reportOn,
  seeModel,
  withoutPockets,
  type MatchCamera,
} from '../core/match';
import { requireUvs, type UvMesh } from '../core/mesh';
import { readBytes, readModelFile, UsageError } from './options';
import { readJson } from './read-json';
import { makeFolder, writeOut } from './write-out';

const vector = z.tuple([z.number(), z.number(), z.number()]);

const cameraFile = matchCameraSchema.extend({
  up: vector.default([0, 1, 0]),
  shift: z.tuple([z.number(), z.number()]).default([0, 0]),
});

const pointsFile = z.array(pointPairSchema);

/** How far a comparison is when its camera is known. */
const FOUND = 0.6;

/** One model to be compared with a picture of it. */
export interface MatchJob {
  readonly model: string;
  readonly albedo: string;
  readonly reference: string;
  /** Files that tell more, where there are any. */
  readonly given: Readonly<Partial<Record<'camera' | 'points' | 'mask', string>>>;
  readonly out: string;
}

/**
 * Compares a painted model with a picture of it: silhouette, colours, values and light, from the camera of the picture; writes report.json,
 * side-by-side.png and heat.png.
 *
 * @throws UsageError, CoreError, OutputError with a sentence
 */
export async function matchModel(
  { model, albedo: file, reference: seen, given, out }: MatchJob,
  onProgress: (done: number) => void = () => undefined,
) {
  const albedo = await readPicture(file);
  const reference = await readPicture(seen);
  const mask = given.mask === undefined ? null : await readMask(given.mask, reference);
  const mesh = requireUvs(await readModelFile(model));
  const told = mask ?? maskFromGround(reference);
  const { camera, residuals, leftOut } = await readCamera(given, reference, mesh, told, (done) =>
    onProgress(done * FOUND),
  );
  onProgress(FOUND);
  // What the figure encloses is ground where the model leaves it open; a mask that was given is taken as it is.
  const own = mask ?? withoutPockets(reference, told, covered(mesh, camera));
  const prepared = prepareMatch({ mesh, camera, picture: reference, mask: own });
  const { report, painted, field } = reportOn(prepared, [albedo]);
  const whole = { camera, residuals, ...(leftOut !== null && { leftOut }), ...report };
  await makeFolder(out);
  await writeOut(
    new Map<string, Uint8Array | string>([
      [join(out, 'report.json'), `${JSON.stringify(whole, null, 2)}\n`],
      [join(out, 'side-by-side.png'), encodePng(sideBySide(reference, painted))],
      [join(out, 'heat.png'), encodePng({ ...reference, rgba: heatColors(field) })],
    ]),
  );
  return whole;
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

const covered = (mesh: UvMesh, camera: MatchCamera): Uint8Array =>
  Uint8Array.from(seeModel(mesh, camera).faces, (f) => (f >= 0 ? 1 : 0));

/** The camera that is named, the one that fits pairs, or the one that silhouettes tell. @throws UsageError if what is named isn't as it has to be */
async function readCamera(
  given: MatchJob['given'],
  reference: Picture,
  mesh: UvMesh,
  mask: Uint8Array,
  onProgress: (done: number) => void,
): Promise<Found> {
  const { width, height } = reference;
  if (given.camera !== undefined) {
    const file = given.camera;
    const camera = await readJson(file, cameraFile);
    if (camera.width !== width || camera.height !== height) {
      throw new UsageError(
        `The camera of “${file}” is of a picture of ${camera.width} x ${camera.height}, but the reference is ${width} x ${height}.`,
      );
    }
    return { camera, residuals: [], leftOut: null };
  }
  if (given.points === undefined) {
    const { camera } = findBySilhouette(mesh, mask, { width, height }, () => 0, onProgress);
    return { camera, residuals: [], leftOut: null };
  }
  const pairs = await readJson(given.points, pointsFile);
  return fitCamera(pairs, { width, height });
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
