import { FactorPattern, pivot } from './factor-pattern';
import type { SparseRows } from './sparse-rows';

/**
 * L D L^T of a symmetric matrix by the up-looking method (T. A. Davis, "Algorithm 849: A concise sparse Cholesky factorization
 * package", 2005). No pivoting: for positive definite matrices.
 */
export class SparseLdl {
  private readonly order: Int32Array;
  private readonly start: Int32Array;
  private readonly row: Int32Array;
  private readonly value: Float64Array;
  private readonly diagonal: Float64Array;
  private readonly work: Float64Array;
  private pairs: Float64Array | undefined;

  /** @param order of elimination, each unknown once */
  constructor(matrix: SparseRows, order: Int32Array) {
    const n = order.length;
    const pattern = new FactorPattern(matrix, order);
    const { inverse, start, columns } = pattern;
    const row = new Int32Array(start[n]!);
    const value = new Float64Array(start[n]!);
    const diagonal = new Float64Array(n);
    const y = new Float64Array(n);
    const end = start.slice(0, n);
    for (let k = 0; k < n; k++) {
      const r = order[k]!;
      for (let q = matrix.start[r]!; q < matrix.start[r + 1]!; q++) {
        const i = inverse[matrix.column[q]!]!;
        if (i <= k) y[i]! += matrix.value[q]!;
      }
      let d = y[k]!;
      y[k] = 0;
      for (let at = pattern.reach(k); at < n; at++) {
        const i = columns[at]!;
        const yi = y[i]!;
        y[i] = 0;
        const last = end[i]!;
        for (let q = start[i]!; q < last; q++) y[row[q]!]! -= value[q]! * yi;
        const l = yi / diagonal[i]!;
        d -= l * yi;
        row[last] = k;
        value[last] = l;
        end[i] = last + 1;
      }
      diagonal[k] = pivot(d);
    }
    this.order = order;
    this.work = new Float64Array(n);
    this.start = start;
    this.row = row;
    this.value = value;
    this.diagonal = diagonal;
  }

  /** Two right sides at once, in pairs: the factor is read once for both. @param x right sides; receives the solutions */
  solvePairs(x: Float64Array): void {
    const { order, start, row, value, diagonal } = this;
    const n = order.length;
    const work = (this.pairs ??= new Float64Array(n * 2));
    for (let k = 0; k < n; k++) {
      work[k * 2] = x[order[k]! * 2]!;
      work[k * 2 + 1] = x[order[k]! * 2 + 1]!;
    }
    for (let j = 0; j < n; j++) {
      const u = work[j * 2]!;
      const v = work[j * 2 + 1]!;
      const end = start[j + 1]!;
      for (let q = start[j]!; q < end; q++) {
        const l = value[q]!;
        const i = row[q]! * 2;
        work[i]! -= l * u;
        work[i + 1]! -= l * v;
      }
    }
    for (let j = n - 1; j >= 0; j--) {
      let u = work[j * 2]! / diagonal[j]!;
      let v = work[j * 2 + 1]! / diagonal[j]!;
      const end = start[j + 1]!;
      for (let q = start[j]!; q < end; q++) {
        const l = value[q]!;
        const i = row[q]! * 2;
        u -= l * work[i]!;
        v -= l * work[i + 1]!;
      }
      work[j * 2] = u;
      work[j * 2 + 1] = v;
    }
    for (let k = 0; k < n; k++) {
      x[order[k]! * 2] = work[k * 2]!;
      x[order[k]! * 2 + 1] = work[k * 2 + 1]!;
    }
  }

  /** @param b right side; @param x receives the solution, may be b itself */
  solve(b: Float64Array, x: Float64Array): void {
    const { order, start, row, value, diagonal, work } = this;
    const n = order.length;
    for (let k = 0; k < n; k++) work[k] = b[order[k]!]!;
    for (let j = 0; j < n; j++) {
      const y = work[j]!;
      if (y === 0) continue;
      for (let q = start[j]!; q < start[j + 1]!; q++) work[row[q]!]! -= value[q]! * y;
    }
    for (let j = n - 1; j >= 0; j--) {
      let y = work[j]! / diagonal[j]!;
      for (let q = start[j]!; q < start[j + 1]!; q++) y -= value[q]! * work[row[q]!]!;
      work[j] = y;
    }
    for (let k = 0; k < n; k++) x[order[k]!] = work[k]!;
  }
}
