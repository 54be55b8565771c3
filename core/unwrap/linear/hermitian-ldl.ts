import { FactorPattern, pivot } from './factor-pattern';
import type { SparseRows } from './sparse-rows';

/** A Hermitian matrix: `value` holds the real parts, `imaginary` the imaginary ones in the same places. */
export interface HermitianRows extends SparseRows {
  readonly imaginary: Float64Array;
}

/**
 * Solves A x = b for a positive definite Hermitian A by L D L^H, the complex twin of SparseLdl. A conformal map is such a system
 * with one complex unknown a vertex; with two real ones it took twice as long.
 *
 * @param right real and imaginary part an unknown, one after the other; receives the solution
 */
export function solveHermitian(matrix: HermitianRows, order: Int32Array, right: Float64Array): void {
  const n = order.length;
  const pattern = new FactorPattern(matrix, order);
  const { inverse, start, columns } = pattern;
  const row = new Int32Array(start[n]!);
  const re = new Float64Array(start[n]!);
  const im = new Float64Array(start[n]!);
  const diagonal = new Float64Array(n);
  const yr = new Float64Array(n);
  const yi = new Float64Array(n);
  const end = start.slice(0, n);
  for (let k = 0; k < n; k++) {
    const r = order[k]!;
    for (let q = matrix.start[r]!; q < matrix.start[r + 1]!; q++) {
      const i = inverse[matrix.column[q]!]!;
      if (i > k) continue;
      // Column k above the diagonal: the conjugate of row k.
      yr[i]! += matrix.value[q]!;
      yi[i]! -= matrix.imaginary[q]!;
    }
    let d = yr[k]!;
    yr[k] = yi[k] = 0;
    for (let at = pattern.reach(k); at < n; at++) {
      const i = columns[at]!;
      const a = yr[i]!;
      const b = yi[i]!;
      yr[i] = yi[i] = 0;
      const last = end[i]!;
      for (let q = start[i]!; q < last; q++) {
        const t = row[q]!;
        yr[t]! -= re[q]! * a - im[q]! * b;
        yi[t]! -= re[q]! * b + im[q]! * a;
      }
      d -= (a * a + b * b) / diagonal[i]!;
      row[last] = k;
      re[last] = a / diagonal[i]!;
      im[last] = -b / diagonal[i]!;
      end[i] = last + 1;
    }
    diagonal[k] = pivot(d);
  }
  for (let k = 0; k < n; k++) {
    yr[k] = right[order[k]! * 2]!;
    yi[k] = right[order[k]! * 2 + 1]!;
  }
  for (let j = 0; j < n; j++) {
    const a = yr[j]!;
    const b = yi[j]!;
    for (let q = start[j]!; q < start[j + 1]!; q++) {
      const t = row[q]!;
      yr[t]! -= re[q]! * a - im[q]! * b;
      yi[t]! -= re[q]! * b + im[q]! * a;
    }
  }
  for (let j = n - 1; j >= 0; j--) {
    let a = yr[j]! / diagonal[j]!;
    let b = yi[j]! / diagonal[j]!;
    for (let q = start[j]!; q < start[j + 1]!; q++) {
      const t = row[q]!;
      a -= re[q]! * yr[t]! + im[q]! * yi[t]!;
      b -= re[q]! * yi[t]! - im[q]! * yr[t]!;
    }
    yr[j] = a;
    yi[j] = b;
  }
  for (let k = 0; k < n; k++) {
    right[order[k]! * 2] = yr[k]!;
    right[order[k]! * 2 + 1] = yi[k]!;
  }
}
