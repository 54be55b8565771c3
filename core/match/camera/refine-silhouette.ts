import { CoreError } from '../../errors';
import { sub, type Vec3, upperMedian } from '../../math';
import { centreOf, diagonalOf, subjectBounds, type UvMesh } from '../../mesh';
import {
  cameraOf,
  parametersOf,
  PERSPECTIVE,
  POSE,
  scalesOf,
  seenBy,
  type FitHow,
} from './camera-parameters';
import { leastSquares } from './levenberg';
import type { MatchCamera } from './on-picture';
import { placeSeen, seeModel } from './see-model';
import { contourOf, distancesTo, nearestTo } from './silhouette';
import {
  type SmallMask,
  smallerPicture,
  likeness,
  coverageOf,
  markedOf,
  nearestAmong,
  everyFew,
  few,
  slopesOf,
} from './silhouette-masks';

export interface SilhouetteFit {
  readonly camera: MatchCamera;
  /** What both silhouettes cover in parts of what either does, at the size that they were compared at. */
  readonly iou: number;
  /** How much better the picture seen in a mirror fits, in the same measure; left out where that wasn't asked, or it doesn't. */
  readonly mirroredIou?: number;
}

/** Sides that silhouettes are compared at, pixels: small first, so that what is far off finds home. */
export const SIDES = [160, 384] as const;

/** Rounds of finding what lies nearest and fitting to it. */
const ROUNDS = 14;

/** A round that is no better than the best of so many before it ends the search. */
const PATIENCE = 4;

/** So many places of either contour are enough, at the least, and a pixel of the picture's side. */
const [LEAST_PLACES, PLACES_A_PIXEL] = [150, 1.2];

/** Beyond so many times the middle distance, and so many pixels, a place counts less the farther off it is (P. Huber, 1964). */
const FAR = 2.5;

const FAR_PIXELS = 1.5;

/** A silhouette hardly tells perspective: this keeps it near where it was, pixels for a change of 1. */
const HOLD_PERSPECTIVE = 4;

/**
 * A camera moved so that the model's silhouette comes to lie on that of a picture: places of each contour are drawn to the nearest of
 * the other, square to it (Y. Chen and G. Medioni, "Object modelling by registration of multiple range images", 1992), in rounds.
 *
 * @param mask 1 a pixel that belongs to the model, of the camera's size
 * @throws CoreError `bad-argument` if the mask is empty
 */
export function refineBySilhouette(
  mesh: UvMesh,
  camera: MatchCamera,
  mask: Uint8Array,
  how: Omit<FitHow, 'width' | 'height'> = {},
  onProgress: (done: number) => void = () => undefined,
): SilhouetteFit {
  if (!mask.includes(1)) throw noFigure();
  let at = camera;
  let iou = 0;
  SIDES.forEach((side, level) => {
    const small = smallerPicture(mask, camera.width, camera.height, side);
    const fit = refineAt(mesh, scaledCamera(at, small.width, small.height), targetOf(small), how, (done) =>
      onProgress((level + done) / SIDES.length),
    );
    at = scaledCamera(fit.camera, camera.width, camera.height);
    iou = fit.iou;
  });
  return { camera: at, iou };
}

export const noFigure = (): CoreError =>
  new CoreError(
    'bad-argument',
    'The mask holds nothing, so there is no silhouette to go by. Paint over what belongs to the model.',
  );

/** The same camera for the same picture in other pixels. */
export function scaledCamera(camera: MatchCamera, width: number, height: number): MatchCamera {
  return { ...camera, width, height };
}

/** What silhouettes are brought to. */
interface Target extends SmallMask {
  /** Contour pixels, thinned out. */
  readonly places: readonly number[];
  /** The contour pixel that is nearest to each pixel, and its squared distance. */
  readonly nearest: Int32Array;
  readonly squares: Float64Array;
  /** The way that the contour faces. */
  readonly outward: Float32Array;
}

export function targetOf(picture: SmallMask): Target {
  const { mask, width, height } = picture;
  const contour = contourOf(mask, width, height);
  return {
    ...picture,
    places: everyFew(contour, placesFor(picture)),
    nearest: nearestTo(contour, width, height),
    squares: distancesTo(contour, width, height),
    outward: slopesOf(mask, width, height),
  };
}

const placesFor = ({ width, height }: SmallMask): number =>
  Math.max(LEAST_PLACES, PLACES_A_PIXEL * Math.max(width, height));

export function refineAt(
  mesh: UvMesh,
  start: MatchCamera,
  picture: Target,
  wish: Omit<FitHow, 'width' | 'height'>,
  onProgress: (done: number) => void = () => undefined,
): SilhouetteFit {
  const { mask, width, height } = picture;
  // Where the eye's axis meets the picture and how a lens bends, a silhouette can't tell: they stay.
  const how: FitHow = {
    ...wish,
    width,
    height,
    shifted: start.shift.some((s) => s !== 0),
    lens: start.lens !== undefined,
  };
  const bounds = subjectBounds(mesh);
  const middle = centreOf(bounds) as Vec3;
  const extent = diagonalOf(bounds) / 2;
  const { squares, outward } = picture;
  const most = placesFor(picture);
  let camera = start;
  let seen = seeModel(mesh, camera);
  let covered = coverageOf(seen, picture);
  let best: SilhouetteFit = { camera, iou: likeness(covered, mask) };
  let bestRound = -1;
  for (let round = 0; round < ROUNDS; round++) {
    const now = seen;
    const own = markedOf(contourOf(covered, width, height)).filter((i) => now.faces[i]! >= 0);
    const [places, aims, normals, weights] = pullsOf();
    const add = (pixel: number, aim: number, off: number): void => {
      places.push(placeSeen(mesh, now, pixel));
      aims.push([(aim % width) + 0.5, Math.floor(aim / width) + 0.5]);
      normals.push([outward[aim * 2]!, outward[aim * 2 + 1]!]);
      weights.push(off);
    };
    for (const i of few(own, most))
      if (picture.nearest[i]! >= 0) add(i, picture.nearest[i]!, Math.sqrt(squares[i]!));
    for (const i of picture.places) {
      const j = nearestAmong(own, i, width);
      if (j >= 0)
        add(j, i, Math.hypot((j % width) - (i % width), Math.floor(j / width) - Math.floor(i / width)));
    }
    if (places.length < 12) break;
    const far = Math.max(FAR_PIXELS, FAR * upperMedian(weights));
    const { frame, x } = parametersOf(camera, middle, extent, how);
    const held = x[PERSPECTIVE]!;
    const whole = x.slice();
    const withFree = (free: Float64Array): Float64Array => {
      whole.set(free);
      return whole;
    };
    const at = new Float64Array(places.length * 2);
    const count = places.length + 1;
    const fitted = leastSquares(
      (params, out) => {
        seenBy(frame, withFree(params), how, extent)(places, at);
        for (let i = 0; i < places.length; i++) {
          const [nx, ny] = normals[i]!;
          const off = (at[i * 2]! - aims[i]![0]) * nx + (at[i * 2 + 1]! - aims[i]![1]) * ny;
          out[i] = off * Math.min(1, Math.sqrt(far / Math.max(weights[i]!, 1e-9)));
        }
        out[places.length] = (params[PERSPECTIVE]! - held) * HOLD_PERSPECTIVE * Math.sqrt(places.length);
      },
      x.slice(0, POSE),
      scalesOf(how).slice(0, POSE),
      count,
      FIT_ROUNDS,
    );
    const next = cameraOf(frame, withFree(fitted.x), how, extent);
    seen = seeModel(mesh, next);
    covered = coverageOf(seen, picture);
    const iou = likeness(covered, mask);
    const moved = movedBy(camera, next);
    camera = next;
    if (iou > best.iou) {
      best = { camera: next, iou };
      bestRound = round;
    }
    onProgress((round + 1) / ROUNDS);
    if (moved < 1e-4 || round - bestRound >= PATIENCE) break;
  }
  return best;
}

/** Steps of a round: what lies nearest changes before more would pay. */
const FIT_ROUNDS = 6;

type Pulls = [places: Vec3[], aims: [number, number][], normals: [number, number][], off: number[]];

const pullsOf = (): Pulls => [[], [], [], []];

/** How far a camera has moved and turned, in parts of its distance. */
const movedBy = (a: MatchCamera, b: MatchCamera): number => {
  const far = Math.hypot(...sub(a.position, a.target)) || 1;
  return (Math.hypot(...sub(a.position, b.position)) + Math.hypot(...sub(a.target, b.target))) / far;
};
