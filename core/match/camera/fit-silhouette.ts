import { CoreError } from '../../errors';
import { add, cross, normalize, scale, type Vec3 } from '../../math';
import { centreOf, diagonalOf, subjectBounds, type UvMesh } from '../../mesh';
import { parametersOf, seenBy, type FitHow } from './camera-parameters';
import type { MatchCamera } from './on-picture';
import { seeModel } from './see-model';
import { type SmallMask, smallerPicture, boxOf, likeness, coverageOf } from './silhouette-masks';
import {
  type SilhouetteFit,
  SIDES,
  refineBySilhouette,
  noFigure,
  scaledCamera,
  targetOf,
  refineAt,
} from './refine-silhouette';

/** Sides from which it is looked for: around the model and a little from above and below. */
const TURNS = 24;

const LIFTS = [-0.25, 0.05, 0.35, 0.8] as const;

const FIRST_SIDE = 72;

/** So many of the best are looked at closer. */
const BEST = 6;

/** Field of view to begin with where there is perspective, degrees: a long lens (common practice for characters). */
const FIRST_VIEW = 24;

/**
 * The camera from which the model's silhouette is most like that of a picture, looked for from all around, upright. Where a silhouette
 * looks the same from more than one side, `prefer` decides.
 *
 * @param prefer how much a camera is to be preferred, in parts of 1 beside the silhouettes' own likeness
 * @throws CoreError `bad-argument` if the mask is empty, or no side of the model looks like it
 */
export function findBySilhouette(
  mesh: UvMesh,
  mask: Uint8Array,
  how: FitHow,
  prefer: (camera: MatchCamera) => number = () => 0,
  onProgress: (done: number) => void = () => undefined,
): SilhouetteFit {
  const small = smallerPicture(mask, how.width, how.height, FIRST_SIDE);
  const box = boxOf(small);
  if (!box) throw noFigure();
  const starts: { readonly camera: MatchCamera; readonly iou: number }[] = [];
  for (const lift of LIFTS) {
    for (let turn = 0; turn < TURNS; turn++) {
      const angle = (turn / TURNS) * 2 * Math.PI;
      const back = normalize([Math.sin(angle), lift, Math.cos(angle)]);
      const camera = framedFrom(mesh, back, small, box, how);
      starts.push({ camera, iou: likeness(coverageOf(seeModel(mesh, camera), small), small.mask) });
    }
    onProgress((0.3 * starts.length) / (LIFTS.length * TURNS));
  }
  const best = starts.sort((a, b) => b.iou - a.iou).slice(0, BEST);
  const middle = targetOf(smallerPicture(mask, how.width, how.height, SIDES[0]));
  const closer = best.map(({ camera }, i) => {
    const fit = refineAt(mesh, scaledCamera(camera, middle.width, middle.height), middle, how);
    onProgress(0.3 + (0.4 * (i + 1)) / best.length);
    return { ...fit, worth: fit.iou + prefer(scaledCamera(fit.camera, how.width, how.height)) };
  });
  const [first] = closer.sort((a, b) => b.worth - a.worth);
  if (!first || first.iou < LEAST_LIKE) {
    throw new CoreError(
      'bad-argument',
      'From no side does the model look like what the picture shows. Look whether the mask holds the whole figure and nothing else, and whether the picture is mirrored; or set pairs of places.',
    );
  }
  const fit = refineBySilhouette(mesh, scaledCamera(first.camera, how.width, how.height), mask, how, (done) =>
    onProgress(0.7 + 0.3 * done),
  );
  return fit;
}

/** A silhouette that shares less than this may be seen in a mirror; if so, that one shares so much more. */
const [DOUBTFUL, MIRRORED] = [0.93, 0.03];

/** As `findBySilhouette`, and tells if the picture fits better in a mirror. @throws CoreError `bad-argument` as that does */
export function findEitherWay(
  mesh: UvMesh,
  mask: Uint8Array,
  how: FitHow,
  prefer: (camera: MatchCamera) => number,
  onProgress: (done: number) => void,
): SilhouetteFit {
  const fit = attempt(() => findBySilhouette(mesh, mask, how, prefer, (done) => onProgress(done * 0.7)));
  if (!(fit instanceof CoreError) && fit.iou >= DOUBTFUL) return fit;
  const { width } = how;
  const turned = mask.map((_, i) => mask[i - (i % width) + (width - 1 - (i % width))]!);
  const other = attempt(() =>
    findBySilhouette(mesh, turned, how, undefined, (done) => onProgress(0.7 + done * 0.3)),
  );
  const mirroredIou = other instanceof CoreError ? 0 : other.iou;
  if (fit instanceof CoreError) {
    if (mirroredIou < LEAST_LIKE) throw fit;
    throw new CoreError(
      'bad-argument',
      'From no side does the model look like what the picture shows, but it does in a mirror. Turn Mirror on and let the camera be found again.',
    );
  }
  return mirroredIou > fit.iou + MIRRORED ? { ...fit, mirroredIou } : fit;
}

/** A result, or why there is none. */
function attempt<T>(work: () => T): T | CoreError {
  try {
    return work();
  } catch (error) {
    if (error instanceof CoreError) return error;
    throw error;
  }
}

/** Two silhouettes that share less than this are of different things. */
const LEAST_LIKE = 0.6;

/** A camera on one side of the model that shows it where a picture has its figure: as high as it, and its middle where that of the figure is. */
function framedFrom(
  mesh: UvMesh,
  back: Vec3,
  { width, height }: SmallMask,
  box: NonNullable<ReturnType<typeof boxOf>>,
  { how }: FitHow,
): MatchCamera {
  const bounds = subjectBounds(mesh);
  const centre = centreOf(bounds) as Vec3;
  const reach = diagonalOf(bounds);
  const fovY = how === 'orthographic' || how === 'drawn' ? 0.5 : FIRST_VIEW;
  const focal = height / 2 / Math.tan((fovY * Math.PI) / 360);
  const up: Vec3 = [0, 1, 0];
  const right = normalize(cross(up, back), [1, 0, 0]);
  const upward = cross(back, right);
  let distance = (focal * reach) / (box.y1 - box.y0);
  let middle = centre;
  // What is seen of it is brought to the box; with perspective twice, since nearer things are larger.
  for (let round = 0; round < 2; round++) {
    const camera: MatchCamera = {
      position: add(middle, scale(back, distance)),
      target: middle,
      up,
      fovY,
      shift: [0, 0],
      width,
      height,
    };
    const seen = extentSeen(mesh, camera);
    const grow = (seen.y1 - seen.y0) / (box.y1 - box.y0);
    distance *= Math.min(50, Math.max(0.02, grow));
    const unit = distance / focal;
    const dx = ((seen.x0 + seen.x1) / 2 - width / 2) / grow - ((box.x0 + box.x1) / 2 - width / 2);
    const dy = ((seen.y0 + seen.y1) / 2 - height / 2) / grow - ((box.y0 + box.y1) / 2 - height / 2);
    middle = add(add(middle, scale(right, dx * unit)), scale(upward, -dy * unit));
  }
  const position = add(middle, scale(back, distance));
  return { position, target: middle, up, fovY, shift: [0, 0], width, height };
}

/** The box of all vertices as a camera sees them. */
function extentSeen(mesh: UvMesh, camera: MatchCamera) {
  const out = { x0: Infinity, y0: Infinity, x1: -Infinity, y1: -Infinity };
  const size = { width: camera.width, height: camera.height };
  const { frame, x } = parametersOf(camera, camera.target, 1, size);
  const p = mesh.positions;
  const places: Vec3[] = Array.from({ length: p.length / 3 }, (_, v) => [
    p[v * 3]!,
    p[v * 3 + 1]!,
    p[v * 3 + 2]!,
  ]);
  const at = new Float64Array(places.length * 2);
  seenBy(frame, x, size, 1)(places, at);
  for (let i = 0; i < at.length; i += 2) {
    if (Number.isNaN(at[i])) continue;
    out.x0 = Math.min(out.x0, at[i]!);
    out.x1 = Math.max(out.x1, at[i]!);
    out.y0 = Math.min(out.y0, at[i + 1]!);
    out.y1 = Math.max(out.y1, at[i + 1]!);
  }
  return out;
}
