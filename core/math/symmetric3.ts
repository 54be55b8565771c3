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

/**
 * The three directions along which a symmetric matrix only stretches, by Jacobi's rotations (C. Jacobi 1846; Golub and Van Loan, "Matrix
 * Computations", 8.5), those of the largest stretch first.
 *
 * @returns unit vectors, right-handed
 */
export function mainAxes([xx, xy, xz, yy, yz, zz]: Symmetric3): readonly [Vec3, Vec3, Vec3] {
  const a = [
    [xx, xy, xz],
    [xy, yy, yz],
    [xz, yz, zz],
  ];
  const v = [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ];
  // Each sweep squares what is left beside the diagonal: eight leave nothing of it.
  for (let sweep = 0; sweep < 8; sweep++) {
    for (const [p, q] of [
      [0, 1],
      [0, 2],
      [1, 2],
    ] as const) {
      if (Math.abs(a[p]![q]!) < 1e-300) continue;
      const theta = (a[q]![q]! - a[p]![p]!) / (2 * a[p]![q]!);
      const t = Math.sign(theta || 1) / (Math.abs(theta) + Math.sqrt(theta * theta + 1));
      const c = 1 / Math.sqrt(t * t + 1);
      const s = t * c;
      for (let k = 0; k < 3; k++) {
        const [x, y] = [a[k]![p]!, a[k]![q]!];
        a[k]![p] = c * x - s * y;
        a[k]![q] = s * x + c * y;
      }
      for (let k = 0; k < 3; k++) {
        const [x, y] = [a[p]![k]!, a[q]![k]!];
        a[p]![k] = c * x - s * y;
        a[q]![k] = s * x + c * y;
        const [e, f] = [v[k]![p]!, v[k]![q]!];
        v[k]![p] = c * e - s * f;
        v[k]![q] = s * e + c * f;
      }
    }
  }
  const order = [0, 1, 2].sort((i, j) => a[j]![j]! - a[i]![i]!);
  const column = (i: number): Vec3 => [v[0]![order[i]!]!, v[1]![order[i]!]!, v[2]![order[i]!]!];
  const [first, second] = [column(0), column(1)];
  return [
    first,
    second,
    [
      first[1] * second[2] - first[2] * second[1],
      first[2] * second[0] - first[0] * second[2],
      first[0] * second[1] - first[1] * second[0],
    ],
  ];
}
