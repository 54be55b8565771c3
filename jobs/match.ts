import { z } from 'zod';
import { CoreError } from '../core/errors';
import { encodePng, type Picture } from '../core/formats';
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
import type { UvMesh } from '../core/mesh';
import type { FileSet } from './file-set';
import { asJson, type DoJob, type JobOf } from './job';
import { jsonIn, pictureIn, uvModelIn } from './read';

const vector = z.tuple([z.number(), z.number(), z.number()]);

const cameraFile = matchCameraSchema.extend({
  up: vector.default([0, 1, 0]),
  shift: z.tuple([z.number(), z.number()]).default([0, 0]),
});

const pointsFile = z.array(pointPairSchema);

/** How far a comparison is when its camera is known. */
const FOUND = 0.6;

/**
 * Compares a painted model with a picture of it: silhouette, colours, values and light, from the camera of the picture: report.json,
 * side-by-side.png and heat.png.
 */
export const match: DoJob<'match'> = async (job, files, onProgress) => {
  const albedo = pictureIn(files, job.albedo);
  const reference = pictureIn(files, job.reference);
  const mask = job.mask === undefined ? null : maskIn(files, job.mask, reference);
  const mesh = await uvModelIn(files, job.model);
  const told = mask ?? maskFromGround(reference);
  const { camera, residuals, leftOut } = cameraOf(job, files, reference, mesh, told, (done) =>
    onProgress(done * FOUND),
  );
  onProgress(FOUND);
  // What the figure encloses is ground where the model leaves it open; a mask that was given is taken as it is.
  const own = mask ?? withoutPockets(reference, told, covered(mesh, camera));
  const prepared = prepareMatch({ mesh, camera, picture: reference, mask: own });
  const { report, painted, field } = reportOn(prepared, [albedo]);
  const whole = { camera, residuals, ...(leftOut !== null && { leftOut }), ...report };
  return {
    figures: { deltaE: report.deltaE.mean, iou: report.silhouette.iou },
    report: whole,
    files: new Map<string, Uint8Array | string>([
      ['report.json', asJson(whole)],
      ['side-by-side.png', encodePng(sideBySide(reference, painted))],
      ['heat.png', encodePng({ ...reference, rgba: heatColors(field) })],
    ]),
  };
};

/** @throws CoreError `bad-argument` if it isn't as large as the picture, or nothing is marked */
function maskIn(files: FileSet, file: string, { width, height }: Picture): Uint8Array {
  const mask = pictureIn(files, file);
  if (mask.width !== width || mask.height !== height) {
    throw new CoreError(
      'bad-argument',
      `“${file}” is ${mask.width} x ${mask.height}, but the reference is ${width} x ${height}. A mask is as large as its picture.`,
    );
  }
  const out = Uint8Array.from({ length: width * height }, (_, i) =>
    mask.rgba[i * 4 + 3]! >= 128 && mask.rgba[i * 4]! >= 128 ? 1 : 0,
  );
  if (!out.includes(1))
    throw new CoreError('bad-argument', `“${file}” marks nothing: white is what belongs to the model.`);
  return out;
}

interface Found {
  readonly camera: MatchCamera;
  readonly residuals: readonly number[];
  readonly leftOut: number | null;
}

const covered = (mesh: UvMesh, camera: MatchCamera): Uint8Array =>
  Uint8Array.from(seeModel(mesh, camera).faces, (f) => (f >= 0 ? 1 : 0));

/** The camera that is named, the one that fits pairs, or the one that silhouettes tell. @throws CoreError if what is named isn't as it has to be */
function cameraOf(
  job: Pick<JobOf<'match'>, 'camera' | 'points'>,
  files: FileSet,
  reference: Picture,
  mesh: UvMesh,
  mask: Uint8Array,
  onProgress: (done: number) => void,
): Found {
  const { width, height } = reference;
  if (job.camera !== undefined) {
    const file = job.camera;
    const camera = jsonIn(files, file, cameraFile);
    if (camera.width !== width || camera.height !== height) {
      throw new CoreError(
        'bad-argument',
        `The camera of “${file}” is of a picture of ${camera.width} x ${camera.height}, but the reference is ${width} x ${height}.`,
      );
    }
    return { camera, residuals: [], leftOut: null };
  }
  if (job.points === undefined) {
    const { camera } = findBySilhouette(mesh, mask, { width, height }, () => 0, onProgress);
    return { camera, residuals: [], leftOut: null };
  }
  const pairs = jsonIn(files, job.points, pointsFile);
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
