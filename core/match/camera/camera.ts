import { add, cross, dot, normalize, scale, sub, type Vec3 } from '../../math';
import type { MatchCamera } from './on-picture';

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
  const lens = (camera.lens ?? 0) / (height / 2) ** 2;
  return (p) => {
    const d = sub(p, position);
    const depth = -dot(d, back);
    const [x, y] = [(dot(d, right) * focal) / depth, (-dot(d, up) * focal) / depth];
    const bent = 1 + lens * (x * x + y * y);
    return { x: cx + x * bent, y: cy + y * bent, depth };
  };
}

/**
 * Takes places of the model to the picture's pixels, as strokes through a picture have it: three rows of four, x from the left and y from
 * the top times the depth, and the depth. A lens's bending isn't in it.
 */
export function cameraRows(camera: MatchCamera): number[] {
  const { right, up, back } = axesOf(camera);
  const { position, shift, width, height } = camera;
  const focal = focalOf(camera);
  const [cx, cy] = [width / 2 + shift[0] * height, height / 2 - shift[1] * height];
  const deep = [-back[0], -back[1], -back[2], dot(back, position)];
  const row = (axis: Vec3, k: number, c: number): number[] =>
    [...axis, -dot(axis, position)].map((v, i) => v * k + deep[i]! * c);
  return [...row(right, focal, cx), ...row(up, -focal, cy), ...deep];
}

/** The same to the pixels of a copy of the picture, of another size; mirrored: of the picture as it was before that. */
export function pictureRows(
  camera: MatchCamera,
  mirrored: boolean,
  copy: { readonly width: number; readonly height: number },
): number[] {
  const rows = cameraRows(camera);
  return rows.map((v, i) => {
    if (i < 4) return (mirrored ? camera.width * rows[8 + i]! - v : v) * (copy.width / camera.width);
    return i < 8 ? v * (copy.height / camera.height) : v;
  });
}

/** The direction of the ray through a pixel, not of unit length: one deep. */
export function rayThrough(camera: MatchCamera, x: number, y: number): Vec3 {
  const { right, up, back } = axesOf(camera);
  const { shift, width, height } = camera;
  const focal = focalOf(camera);
  const [px, py] = [x - width / 2 - shift[0] * height, y - height / 2 + shift[1] * height];
  const straight = straightened(Math.hypot(px, py), (camera.lens ?? 0) / (height / 2) ** 2);
  const u = (px * straight) / focal;
  const v = -(py * straight) / focal;
  return add(add(scale(right, u), scale(up, v)), scale(back, -1));
}

/** What undoes the bending of a lens at a distance from its middle: r = s (1 + lens s²) by Newton's steps. */
function straightened(r: number, lens: number): number {
  if (lens === 0 || r === 0) return 1;
  let s = r;
  for (let k = 0; k < 12; k++) s -= (s * (1 + lens * s * s) - r) / (1 + 3 * lens * s * s);
  return s / r;
}
