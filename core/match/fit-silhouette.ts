import { CoreError } from '../errors';
import { add, cross, normalize, scale, sub, type Vec3, upperMedian } from '../math';
import { centreOf, diagonalOf, subjectBounds, type UvMesh } from '../mesh';
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
import { placeSeen, seeModel, type SeenModel } from './see-model';
import { contourOf, distancesTo, nearestTo } from './silhouette';

export interface SilhouetteFit {
  readonly camera: MatchCamera;
  /** What both silhouettes cover in parts of what either does, at the size that they were compared at. */
  readonly iou: number;
  /** How much better the picture seen in a mirror fits, in the same measure; left out where that wasn't asked, or it doesn't. */
  readonly mirroredIou?: number;
}

/** Sides that silhouettes are compared at, pixels: small first, so that what is far off finds home. */
const SIDES = [160, 384] as const;

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

const noFigure = (): CoreError =>
  new CoreError(
    'bad-argument',
    'The mask holds nothing, so there is no silhouette to go by. Paint over what belongs to the model.',
  );

/** The same camera for the same picture in other pixels. */
export function scaledCamera(camera: MatchCamera, width: number, height: number): MatchCamera {
  return { ...camera, width, height };
}

interface SmallMask {
  readonly mask: Uint8Array;
  /** It has no holes: then those of the model don't count either, for ground that a figure encloses was taken for the figure. */
  readonly isSolid: boolean;
  readonly width: number;
  readonly height: number;
}

/** A mask in fewer pixels: the nearest of each. */
export function smallerPicture(mask: Uint8Array, width: number, height: number, side: number): SmallMask {
  const k = Math.min(1, side / Math.max(width, height));
  const [w, h] = [Math.max(1, Math.round(width * k)), Math.max(1, Math.round(height * k))];
  const out = new Uint8Array(w * h);
  for (let y = 0; y < h; y++) {
    const from = Math.floor(((y + 0.5) * height) / h) * width;
    for (let x = 0; x < w; x++) out[y * w + x] = mask[from + Math.floor(((x + 0.5) * width) / w)]!;
  }
  const isSolid = filled(out, w, h).every((m, i) => m === out[i]);
  return { mask: out, isSolid, width: w, height: h };
}

function boxOf({ mask, width, height }: SmallMask) {
  let [x0, y0, x1, y1] = [width, height, -1, -1];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      if (!mask[y * width + x]) continue;
      x0 = Math.min(x0, x);
      x1 = Math.max(x1, x);
      y0 = Math.min(y0, y);
      y1 = Math.max(y1, y);
    }
  }
  return x1 < 0 ? null : { x0, y0, x1: x1 + 1, y1: y1 + 1 };
}

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

function likeness(covered: Uint8Array, mask: Uint8Array): number {
  let [both, either] = [0, 0];
  for (let i = 0; i < mask.length; i++) {
    const is = covered[i]! > 0;
    if (is && mask[i]) both++;
    if (is || mask[i]) either++;
  }
  return either > 0 ? both / either : 0;
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

function targetOf(picture: SmallMask): Target {
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

function refineAt(
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

function coverageOf({ faces, width, height }: SeenModel, { isSolid }: SmallMask): Uint8Array {
  const out = new Uint8Array(faces.length);
  for (let i = 0; i < faces.length; i++) if (faces[i]! >= 0) out[i] = 1;
  return isSolid ? filled(out, width, height) : out;
}

/** A mask with its holes filled: all that can't be reached from the picture's border. */
function filled(mask: Uint8Array, width: number, height: number): Uint8Array {
  const out = new Uint8Array(mask.length).fill(1);
  const queue: number[] = [];
  const reach = (i: number): void => {
    if (mask[i] || !out[i]) return;
    out[i] = 0;
    queue.push(i);
  };
  for (let x = 0; x < width; x++) {
    reach(x);
    reach((height - 1) * width + x);
  }
  for (let y = 0; y < height; y++) {
    reach(y * width);
    reach(y * width + width - 1);
  }
  while (queue.length > 0) {
    const i = queue.pop()!;
    const x = i % width;
    if (x > 0) reach(i - 1);
    if (x < width - 1) reach(i + 1);
    if (i >= width) reach(i - width);
    if (i < mask.length - width) reach(i + width);
  }
  return out;
}

function markedOf(marked: Uint8Array): number[] {
  const all: number[] = [];
  for (let i = 0; i < marked.length; i++) if (marked[i]) all.push(i);
  return all;
}

/** The pixel of a list that is nearest to another; -1 if the list is empty. */
function nearestAmong(pixels: readonly number[], pixel: number, width: number): number {
  const [x, y] = [pixel % width, Math.floor(pixel / width)];
  let [best, least] = [-1, Infinity];
  for (const other of pixels) {
    const dx = (other % width) - x;
    const dy = Math.floor(other / width) - y;
    const d = dx * dx + dy * dy;
    if (d < least) [best, least] = [other, d];
  }
  return best;
}

const everyFew = (marked: Uint8Array, most: number): number[] => few(markedOf(marked), most);

/** Pixels of a list, evenly thinned. */
function few(all: readonly number[], most: number): number[] {
  const step = Math.max(1, all.length / most);
  const out: number[] = [];
  for (let k = 0; k < all.length; k += step) out.push(all[Math.floor(k)]!);
  return out;
}

/** Unit vectors out of a mask at its contour: down the slope of the mask averaged over 5 x 5 pixels. */
function slopesOf(mask: Uint8Array, width: number, height: number): Float32Array {
  const out = new Float32Array(mask.length * 2);
  const at = (x: number, y: number): number =>
    mask[Math.min(height - 1, Math.max(0, y)) * width + Math.min(width - 1, Math.max(0, x))]!;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (!mask[i]) continue;
      let [gx, gy] = [0, 0];
      for (let dy = -2; dy <= 2; dy++) {
        for (let dx = -2; dx <= 2; dx++) {
          const m = at(x + dx, y + dy);
          gx -= dx * m;
          gy -= dy * m;
        }
      }
      const l = Math.hypot(gx, gy);
      if (l > 0) {
        out[i * 2] = gx / l;
        out[i * 2 + 1] = gy / l;
      }
    }
  }
  return out;
}
