import { add, cross, dot, normalize, scale, sub, type Vec3 } from '../math';

/** Where a picture was taken, or drawn, from. */
export interface MatchCamera {
  /** Where the eye is, model space. */
  readonly position: Vec3;
  /** What it looks at. */
  readonly target: Vec3;
  /** Upward in the picture; needn't be square to the view. */
  readonly up: Vec3;
  /** From the lower to the upper edge of the picture, degrees. */
  readonly fovY: number;
  /** The picture is moved by these parts of its height, to the right and up. */
  readonly shift: readonly [right: number, up: number];
  /** Pixels of the picture. */
  readonly width: number;
  readonly height: number;
}

/** Right, up and backward of a camera, unit vectors of model space. */
export interface CameraAxes {
  readonly right: Vec3;
  readonly up: Vec3;
  readonly back: Vec3;
}

export function axesOf({
  position,
  target,
  up,
}: Pick<MatchCamera, 'position' | 'target' | 'up'>): CameraAxes {
  const back = normalize(sub(position, target), [0, 0, 1]);
  const right = normalize(cross(up, back), [1, 0, 0]);
  return { right, up: cross(back, right), back };
}

/** Pixels that a length as far off as it is long takes. */
export const focalOf = ({ fovY, height }: Pick<MatchCamera, 'fovY' | 'height'>): number =>
  height / 2 / Math.tan((fovY * Math.PI) / 360);

/** Where a place is seen. */
export interface SeenPlace {
  /** Pixels from the left and from the top; the middle of the first pixel is 0.5. */
  readonly x: number;
  readonly y: number;
  /** How far before the eye, model units; not positive behind it. */
  readonly depth: number;
}

/** Tells where places are seen. */
export function projection(camera: MatchCamera): (p: Vec3) => SeenPlace {
  const { right, up, back } = axesOf(camera);
  const { position, shift, width, height } = camera;
  const focal = focalOf(camera);
  const [cx, cy] = [width / 2 + shift[0] * height, height / 2 - shift[1] * height];
  return (p) => {
    const d = sub(p, position);
    const depth = -dot(d, back);
    const k = focal / depth;
    return { x: cx + dot(d, right) * k, y: cy - dot(d, up) * k, depth };
  };
}

/** The direction of the ray through a pixel, not of unit length: one deep. */
export function rayThrough(camera: MatchCamera, x: number, y: number): Vec3 {
  const { right, up, back } = axesOf(camera);
  const { shift, width, height } = camera;
  const focal = focalOf(camera);
  const u = (x - width / 2 - shift[0] * height) / focal;
  const v = -(y - height / 2 + shift[1] * height) / focal;
  return add(add(scale(right, u), scale(up, v)), scale(back, -1));
}
