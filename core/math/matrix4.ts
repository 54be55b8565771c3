import type { Vec3 } from './vec3';

/** 4×4, column by column, as glTF writes matrices. */
export type Matrix4 = readonly number[];

export const IDENTITY4: Matrix4 = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];

/** First `b`, then `a`. */
export const multiply4 = (a: Matrix4, b: Matrix4): number[] =>
  Array.from({ length: 16 }, (_, i) => {
    let sum = 0;
    for (let k = 0; k < 4; k++) sum += a[k * 4 + (i % 4)]! * b[Math.floor(i / 4) * 4 + k]!;
    return sum;
  });

/** Scaled, then turned, then moved. @param turn unit quaternion xyzw */
export function transform4([x, y, z]: Vec3, turn: readonly number[], scale: Vec3): number[] {
  const [i, j, k, w] = turn as [number, number, number, number];
  const [sx, sy, sz] = scale;
  return [
    (1 - 2 * (j * j + k * k)) * sx,
    2 * (i * j + k * w) * sx,
    2 * (i * k - j * w) * sx,
    0,
    2 * (i * j - k * w) * sy,
    (1 - 2 * (i * i + k * k)) * sy,
    2 * (j * k + i * w) * sy,
    0,
    2 * (i * k + j * w) * sz,
    2 * (j * k - i * w) * sz,
    (1 - 2 * (i * i + j * j)) * sz,
    0,
    x,
    y,
    z,
    1,
  ];
}

/** The cofactors of the upper 3×3, row by row: they carry normals through any scale, as the inverse transpose does. */
export function cofactors4(m: Matrix4): number[] {
  const at = (row: number, column: number): number => m[(column % 3) * 4 + (row % 3)]!;
  return Array.from({ length: 9 }, (_, i) => {
    const r = Math.floor(i / 3);
    const c = i % 3;
    return at(r + 1, c + 1) * at(r + 2, c + 2) - at(r + 1, c + 2) * at(r + 2, c + 1);
  });
}

/** Of the upper 3×3; below 0 where a matrix mirrors. */
export function determinant4(m: Matrix4): number {
  const [a, b, c] = cofactors4(m) as [number, number, number];
  return m[0]! * a + m[4]! * b + m[8]! * c;
}

/** The way back of a matrix whose last row is 0 0 0 1; null where it squeezes all flat. */
export function inverse4(m: Matrix4): number[] | null {
  const det = determinant4(m);
  if (det === 0) return null;
  const c = cofactors4(m).map((x) => x / det);
  // The inverse is the transposed cofactors: column k of it is row k of them.
  const [x, y, z] = [m[12]!, m[13]!, m[14]!];
  const move = [0, 1, 2].map((r) => -(c[r]! * x + c[3 + r]! * y + c[6 + r]! * z));
  return [c[0]!, c[1]!, c[2]!, 0, c[3]!, c[4]!, c[5]!, 0, c[6]!, c[7]!, c[8]!, 0, ...move, 1];
}
