import type { SparseRows } from './sparse-rows';

/** Where the factor of a matrix has entries (T. A. Davis's elimination tree), for any L D L^T by the up-looking method. */
export class FactorPattern {
  /** For each unknown when it is eliminated. */
  readonly inverse: Int32Array;
  /** Column j's entries stand from start[j] to start[j + 1]. */
  readonly start: Int32Array;
  /** See `reach`. */
  readonly columns: Int32Array;
  private readonly matrix: SparseRows;
  private readonly order: Int32Array;
  private readonly parent: Int32Array;
  private readonly seen: Int32Array;

  /** @param order of elimination, each unknown once */
  constructor(matrix: SparseRows, order: Int32Array) {
    const n = order.length;
    const inverse = new Int32Array(n);
    for (let k = 0; k < n; k++) inverse[order[k]!] = k;
    const parent = new Int32Array(n).fill(-1);
    const seen = new Int32Array(n);
    const start = new Int32Array(n + 1);
    for (let k = 0; k < n; k++) {
      seen[k] = k;
      const r = order[k]!;
      for (let q = matrix.start[r]!; q < matrix.start[r + 1]!; q++) {
        let i = inverse[matrix.column[q]!]!;
        if (i >= k) continue;
        for (; seen[i] !== k; i = parent[i]!) {
          if (parent[i] === -1) parent[i] = k;
          start[i + 1]!++;
          seen[i] = k;
        }
      }
    }
    for (let k = 0; k < n; k++) start[k + 1]! += start[k]!;
    this.inverse = inverse;
    this.start = start;
    this.columns = new Int32Array(n);
    this.matrix = matrix;
    this.order = order;
    this.parent = parent;
    this.seen = seen.fill(-1);
  }

  /**
   * Finds the columns in which row k of the factor has entries, in the order in which they are to be eliminated.
   *
   * @returns from where on they stand in `columns`, to its end
   */
  reach(k: number): number {
    const { matrix, order, inverse, parent, seen, columns } = this;
    let top = columns.length;
    seen[k] = k;
    const r = order[k]!;
    for (let q = matrix.start[r]!; q < matrix.start[r + 1]!; q++) {
      let i = inverse[matrix.column[q]!]!;
      if (i > k) continue;
      let length = 0;
      for (; seen[i] !== k; i = parent[i]!) {
        columns[length++] = i;
        seen[i] = k;
      }
      while (length > 0) columns[--top] = columns[--length]!;
    }
    return top;
  }
}

/** A pivot of nothing (a vertex that hangs on nothing) is held in place. */
export const pivot = (d: number): number => (Math.abs(d) > 1e-300 ? d : 1);
