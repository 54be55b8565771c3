import type { Vec3 } from '../core/math';

/** Signed distance from a shape, negative inside (approximate away from the surface). */
export type Sdf = (x: number, y: number, z: number) => number;

/** Math.hypot guards against overflow and is 20 times slower; shapes here are a few units wide. */
const len = (x: number, y: number, z = 0): number => Math.sqrt(x * x + y * y + z * z);

export const sphere =
  ([cx, cy, cz]: Vec3, r: number): Sdf =>
  (x, y, z) =>
    len(x - cx, y - cy, z - cz) - r;

export const ellipsoid =
  ([cx, cy, cz]: Vec3, [rx, ry, rz]: Vec3): Sdf =>
  (x, y, z) => {
    const px = (x - cx) / rx;
    const py = (y - cy) / ry;
    const pz = (z - cz) / rz;
    const k0 = len(px, py, pz);
    const k1 = len(px / rx, py / ry, pz / rz);
    return k1 > 0 ? (k0 * (k0 - 1)) / k1 : -Math.min(rx, ry, rz);
  };

/** A rod that goes from radius ra at a to rb at b, with round ends. */
export const rod =
  (a: Vec3, ra: number, b: Vec3, rb: number): Sdf =>
  (x, y, z) => {
    const d = [b[0] - a[0], b[1] - a[1], b[2] - a[2]] as const;
    const q = [x - a[0], y - a[1], z - a[2]] as const;
    const t = Math.min(
      1,
      Math.max(0, (q[0] * d[0] + q[1] * d[1] + q[2] * d[2]) / (d[0] ** 2 + d[1] ** 2 + d[2] ** 2)),
    );
    return len(q[0] - d[0] * t, q[1] - d[1] * t, q[2] - d[2] * t) - (ra + (rb - ra) * t);
  };

/** A ring around the y axis of its frame. */
export const ring =
  ([cx, cy, cz]: Vec3, [rx, rz]: readonly [number, number], thickness: number, height = thickness): Sdf =>
  (x, y, z) => {
    const px = (x - cx) / rx;
    const pz = (z - cz) / rz;
    const l = len(px, pz);
    const away = (l - 1) * ((rx + rz) / 2);
    return (len(away / thickness, (y - cy) / height) - 1) * Math.min(thickness, height);
  };

export const roundBox =
  ([cx, cy, cz]: Vec3, [hx, hy, hz]: Vec3, r: number): Sdf =>
  (x, y, z) => {
    const qx = Math.abs(x - cx) - hx + r;
    const qy = Math.abs(y - cy) - hy + r;
    const qz = Math.abs(z - cz) - hz + r;
    return len(Math.max(qx, 0), Math.max(qy, 0), Math.max(qz, 0)) + Math.min(Math.max(qx, qy, qz), 0) - r;
  };

/** Smooth minimum (polynomial): shapes flow into one another over the distance k. */
export const smoothMin = (a: number, b: number, k: number): number => {
  const h = Math.max(k - Math.abs(a - b), 0) / k;
  return Math.min(a, b) - (h * h * k) / 4;
};

export const union =
  (k: number, ...shapes: readonly Sdf[]): Sdf =>
  (x, y, z) => {
    let d = 1e3;
    for (const shape of shapes) d = smoothMin(d, shape(x, y, z), k);
    return d;
  };

export const without =
  (k: number, shape: Sdf, ...taken: readonly Sdf[]): Sdf =>
  (x, y, z) =>
    taken.reduce((d, s) => -smoothMin(-d, s(x, y, z), k), shape(x, y, z));

/** The shape moved, after turning it about an axis by an angle in degrees. */
export function turned(shape: Sdf, axis: 'x' | 'y' | 'z', degrees: number, about: Vec3): Sdf {
  const c = Math.cos((-degrees * Math.PI) / 180);
  const s = Math.sin((-degrees * Math.PI) / 180);
  const [ox, oy, oz] = about;
  return (x, y, z) => {
    const px = x - ox;
    const py = y - oy;
    const pz = z - oz;
    if (axis === 'x') return shape(x, oy + py * c - pz * s, oz + py * s + pz * c);
    if (axis === 'y') return shape(ox + px * c + pz * s, y, oz - px * s + pz * c);
    return shape(ox + px * c - py * s, oy + px * s + py * c, z);
  };
}

/** The shape and its mirror image across x = 0. */
export const bothSides =
  (shape: Sdf): Sdf =>
  (x, y, z) =>
    Math.min(shape(x, y, z), shape(-x, y, z));

export const mirrored =
  (shape: Sdf): Sdf =>
  (x, y, z) =>
    shape(-x, y, z);
