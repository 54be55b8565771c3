import { add, cross, dot, length, scale, sub, type Vec3 } from '../../math';
import { axesOf, focalOf, projection } from './camera';
import type { DrawnHow, MatchCamera } from './on-picture';

/** A camera's field of view is no narrower, degrees: what is drawn without perspective gets that. */
const NARROWEST = 0.5;

export interface FitHow {
  /** Pixels of the picture. */
  readonly width: number;
  readonly height: number;
  /** The picture may be a cut-out of a larger one: its middle needn't be where the eye looks. */
  readonly shifted?: boolean;
  /** Perspective is told from the pairs, if left out. */
  readonly how?: DrawnHow;
  /** The picture was taken through a lens that bends straight lines; shift is told along with it. */
  readonly lens?: boolean;
}

/** Whether it is seen without perspective: what is drawn freely is told by the best view of that kind. */
const isFlatView = ({ how }: FitHow): boolean => how === 'orthographic' || how === 'drawn';

/** Pixels of the focal length that a camera without perspective has. */
const flatFocal = ({ height }: FitHow): number => height / 2 / Math.tan((NARROWEST * Math.PI) / 360);

/**
 * A camera as it is fitted: turned by a rotation vector from an orientation; `size` pixels a model unit at the middle of the places; how
 * strong its perspective is, 1 / the distance of that middle; where the middle is seen; where the eye's axis meets the picture.
 */
export interface Frame {
  readonly axes: readonly [right: Vec3, up: Vec3, back: Vec3];
  readonly middle: Vec3;
}

/** So many parameters tell from where, how large and how near it is seen; those after them tell of the picture. */
export const POSE = 7;

export const [SIZE, PERSPECTIVE, X, Y, SHIFT_X, SHIFT_Y, LENS] = [3, 4, 5, 6, 7, 8, 9];

const centreOf = ({ width, height }: FitHow, x: Float64Array): readonly [number, number] => [
  width / 2 + (x[SHIFT_X] ?? 0),
  height / 2 + (x[SHIFT_Y] ?? 0),
];

/** Axes turned by the first three parameters, as a rotation vector (O. Rodrigues, 1840). */
function turnedAxes(axes: Frame['axes'], x: Float64Array): readonly [Vec3, Vec3, Vec3] {
  const w: Vec3 = [x[0]!, x[1]!, x[2]!];
  const angle = length(w);
  if (angle === 0) return axes;
  const k = scale(w, 1 / angle);
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const turn = (v: Vec3): Vec3 => add(add(scale(v, c), scale(cross(k, v), s)), scale(k, dot(k, v) * (1 - c)));
  return [turn(axes[0]), turn(axes[1]), turn(axes[2])];
}

/**
 * Where places are seen with parameters: writes x and y of each, pixels; not a number behind the eye.
 *
 * @param extent of the places, model units: perspective is told in parts of it
 */
export function seenBy(
  frame: Frame,
  x: Float64Array,
  how: FitHow,
  extent: number,
): (places: readonly Vec3[], out: Float64Array) => void {
  const [right, up, back] = turnedAxes(frame.axes, x);
  const size = Math.exp(x[SIZE]!);
  const k = isFlatView(how) ? size / flatFocal(how) : x[PERSPECTIVE]! / extent;
  const [cx, cy] = centreOf(how, x);
  const lens = (x[LENS] ?? 0) / (how.height / 2) ** 2;
  return (places, out) => {
    places.forEach((place, i) => {
      const p = sub(place, frame.middle);
      const nearer = 1 - k * dot(p, back);
      // What is behind the eye isn't seen, and perspective the wrong way round isn't one.
      const w = nearer > 1e-3 && k > -1e-9 ? 1 / nearer : NaN;
      const dx = (size * dot(p, right) + x[X]! - cx) * w;
      const dy = (-size * dot(p, up) + x[Y]! - cy) * w;
      const bent = 1 + lens * (dx * dx + dy * dy);
      out[i * 2] = cx + dx * bent;
      out[i * 2 + 1] = cy + dy * bent;
    });
  };
}

/** The parameters of a camera that is there, for a frame of its own. @param shifted also where the eye's axis meets the picture */
export function parametersOf(
  camera: MatchCamera,
  middle: Vec3,
  extent: number,
  how: FitHow,
): { readonly frame: Frame; readonly x: Float64Array } {
  const { right, up, back } = axesOf(camera);
  const d = sub(camera.position, middle);
  const depth = dot(d, back);
  const x = new Float64Array(countOf(how));
  const seen = projection({ ...camera, lens: 0 })(middle);
  x[SIZE] = Math.log(focalOf(camera) / depth);
  x[PERSPECTIVE] = extent / depth;
  x[X] = seen.x;
  x[Y] = seen.y;
  if (x.length > SHIFT_Y) {
    x[SHIFT_X] = camera.shift[0] * camera.height;
    x[SHIFT_Y] = -camera.shift[1] * camera.height;
  }
  if (x.length > LENS) x[LENS] = camera.lens ?? 0;
  return { frame: { axes: [right, up, back], middle }, x };
}

/** How many parameters are fitted. */
export const countOf = (how: FitHow): number => (isFlatView(how) ? 7 : how.lens ? 10 : how.shifted ? 9 : 7);

/** By how much each parameter changes something noticeably. */
export const scalesOf = (how: FitHow): Float64Array =>
  Float64Array.from([1, 1, 1, 1, 1, how.height, how.height, how.height, how.height, 1]).subarray(
    0,
    countOf(how),
  );

export function cameraOf(frame: Frame, x: Float64Array, how: FitHow, extent: number): MatchCamera {
  const [, up, back] = turnedAxes(frame.axes, x);
  const [right] = turnedAxes(frame.axes, x);
  const size = Math.exp(x[SIZE]!);
  const most = flatFocal(how) / size;
  const distance = isFlatView(how) ? most : Math.min(extent / Math.max(x[PERSPECTIVE]!, 1e-12), most);
  const focal = size * distance;
  const [cx, cy] = centreOf(how, x);
  // The eye stands where the middle of the places is seen at its pixel.
  const aside = add(scale(right, -(x[X]! - cx) / size), scale(up, (x[Y]! - cy) / size));
  const position = add(add(frame.middle, aside), scale(back, distance));
  return {
    position,
    target: sub(position, scale(back, distance)),
    up,
    fovY: (2 * Math.atan(how.height / 2 / focal) * 180) / Math.PI,
    shift: [(cx - how.width / 2) / how.height, (how.height / 2 - cy) / how.height],
    ...(x.length > LENS && { lens: x[LENS]! }),
    width: how.width,
    height: how.height,
  };
}
