import type { Vec3 } from './vec3';

/** A symmetric 3 x 3 matrix: xx, xy, xz, yy, yz, zz. */
export type Symmetric3 = readonly [number, number, number, number, number, number];

/** Of a symmetric 3 x 3 matrix (O. K. Smith, "Eigenvalues of a symmetric 3 x 3 matrix", 1961). */
export function smallestEigenvalue(
  xx: number,
  xy: number,
  xz: number,
  yy: number,
  yz: number,
  zz: number,
): number {
  const mean = (xx + yy + zz) / 3;
  const off = xy * xy + xz * xz + yz * yz;
  const p2 = (xx - mean) ** 2 + (yy - mean) ** 2 + (zz - mean) ** 2 + 2 * off;
  if (p2 < 1e-24) return mean;
  const p = Math.sqrt(p2 / 6);
  const a = (xx - mean) / p;
  const b = (yy - mean) / p;
  const c = (zz - mean) / p;
  const det =
    (a * (b * c - (yz / p) ** 2) -
      (xy / p) * ((xy / p) * c - (yz / p) * (xz / p)) +
      (xz / p) * ((xy / p) * (yz / p) - b * (xz / p))) /
    2;
  const angle = Math.acos(Math.min(1, Math.max(-1, det))) / 3;
  return mean + 2 * p * Math.cos(angle + (2 * Math.PI) / 3);
}

/**
 * The direction in which the matrix stretches least: it stands on all rows of the matrix less its smallest eigenvalue.
 *
 * @returns a unit vector of either sign; null where several directions are as good
 */
export function leastAxis([xx, xy, xz, yy, yz, zz]: Symmetric3): Vec3 | null {
  const l = smallestEigenvalue(xx, xy, xz, yy, yz, zz);
  const rows: readonly Vec3[] = [
    [xx - l, xy, xz],
    [xy, yy - l, yz],
    [xz, yz, zz - l],
  ];
  let best: Vec3 = [0, 0, 0];
  let longest = 0;
  for (const [i, j] of [
    [0, 1],
    [0, 2],
    [1, 2],
  ] as const) {
    const [a, b] = [rows[i]!, rows[j]!];
    const c: Vec3 = [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
    const length = Math.hypot(...c);
    if (length <= longest) continue;
    longest = length;
    best = c;
  }
  // The eigenvalue is good to about 1e-8 of the matrix's size, the root of rounding: products below 1e-6 of its square tell nothing.
  const size = xx + yy + zz;
  if (longest <= 1e-6 * size * size) return null;
  return [best[0] / longest, best[1] / longest, best[2] / longest];
}
