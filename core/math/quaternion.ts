import { placeDirection, type Placing } from './placing';
import { cross, type Vec3 } from './vec3';

/** A unit quaternion. */
export type Quaternion = readonly [x: number, y: number, z: number, w: number];

/** Where a turn takes x, y and z. */
export function axesOf([x, y, z, w]: Quaternion): readonly [Vec3, Vec3, Vec3] {
  const l = Math.hypot(x, y, z, w) || 1;
  const [a, b, c, d] = [x / l, y / l, z / l, w / l];
  return [
    [1 - 2 * (b * b + c * c), 2 * (a * b + c * d), 2 * (a * c - b * d)],
    [2 * (a * b - c * d), 1 - 2 * (a * a + c * c), 2 * (b * c + a * d)],
    [2 * (a * c + b * d), 2 * (b * c - a * d), 1 - 2 * (a * a + b * b)],
  ];
}

/** The turn that takes x, y, z to three axes (right-handed, unit). */
export function turnTo([X, Y, Z]: readonly [Vec3, Vec3, Vec3]): [number, number, number, number] {
  // From the largest of the four, so that nothing small is divided by (S. Shepperd, "Quaternion from rotation matrix", 1978).
  const trace = X[0] + Y[1] + Z[2];
  const all = [X[0], Y[1], Z[2], trace];
  const most = all.indexOf(Math.max(...all));
  const q: [number, number, number, number] =
    most === 3
      ? [Y[2] - Z[1], Z[0] - X[2], X[1] - Y[0], 1 + trace]
      : most === 0
        ? [1 + X[0] - Y[1] - Z[2], Y[0] + X[1], Z[0] + X[2], Y[2] - Z[1]]
        : most === 1
          ? [Y[0] + X[1], 1 - X[0] + Y[1] - Z[2], Z[1] + Y[2], Z[0] - X[2]]
          : [Z[0] + X[2], Z[1] + Y[2], 1 - X[0] - Y[1] + Z[2], X[1] - Y[0]];
  const l = Math.hypot(...q);
  return q.map((c) => c / l) as [number, number, number, number];
}

/** A turn after what was turned by it has been placed elsewhere. Where that mirrors, the third axis is turned back, so that it stays a turn. */
export function placedTurn(turn: Quaternion, placing: Placing): [number, number, number, number] {
  const axes = axesOf(turn);
  const x = placeDirection(axes[0], placing);
  const y = placeDirection(axes[1], placing);
  return turnTo([x, y, cross(x, y)]);
}
