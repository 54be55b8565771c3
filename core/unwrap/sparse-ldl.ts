/** A symmetric sparse matrix by rows (compressed): row i's entries stand from start[i] to start[i + 1], both halves. */
export interface SparseRows {
  readonly start: Uint32Array;
  readonly column: Uint32Array;
  readonly value: Float64Array;
}

/** Collects entries of a sparse matrix in flat arrays; equal places are added up at the end. */
export class SparseBuilder {
  private row: Int32Array;
  private column: Int32Array;
  private value: Float64Array;
  private used = 0;
  readonly size: number;

  /** @param room entries that will be added at the most; grows if there are more */
  constructor(size: number, room: number) {
    this.size = size;
    this.row = new Int32Array(room);
    this.column = new Int32Array(room);
    this.value = new Float64Array(room);
  }

  add(row: number, column: number, value: number): void {
    if (this.used === this.row.length) this.grow();
    this.row[this.used] = row;
    this.column[this.used] = column;
    this.value[this.used++] = value;
  }

  private grow(): void {
    const room = this.row.length * 2 + 16;
    const { row, column, value } = this;
    (this.row = new Int32Array(room)).set(row);
    (this.column = new Int32Array(room)).set(column);
    (this.value = new Float64Array(room)).set(value);
  }

  /** Sorted by row; within a row in the order of first appearance. */
  finish(): SparseRows {
    const { size, used } = this;
    const first = new Uint32Array(size + 1);
    for (let i = 0; i < used; i++) first[this.row[i]! + 1]!++;
    for (let r = 0; r < size; r++) first[r + 1]! += first[r]!;
    const at = first.slice();
    const order = new Uint32Array(used);
    for (let i = 0; i < used; i++) order[at[this.row[i]!]!++] = i;
    const start = new Uint32Array(size + 1);
    const column = new Uint32Array(used);
    const value = new Float64Array(used);
    const place = new Int32Array(size).fill(-1);
    let n = 0;
    for (let r = 0; r < size; r++) {
      start[r] = n;
      for (let k = first[r]!; k < first[r + 1]!; k++) {
        const i = order[k]!;
        const c = this.column[i]!;
        if (place[c]! >= start[r]!) value[place[c]!]! += this.value[i]!;
        else {
          place[c] = n;
          column[n] = c;
          value[n++] = this.value[i]!;
        }
      }
    }
    start[size] = n;
    return { start, column: column.slice(0, n), value: value.slice(0, n) };
  }
}

/** Where the factor of a matrix has entries, column by column (T. A. Davis's elimination tree). */
export interface FactorPattern {
  readonly inverse: Int32Array;
  readonly parent: Int32Array;
  /** Column j's entries stand from start[j] to start[j + 1]. */
  readonly start: Int32Array;
}

export function factorPattern(matrix: SparseRows, order: Int32Array): FactorPattern {
  const n = order.length;
  const inverse = new Int32Array(n);
  for (let k = 0; k < n; k++) inverse[order[k]!] = k;
  const parent = new Int32Array(n).fill(-1);
  const flag = new Int32Array(n);
  const start = new Int32Array(n + 1);
  for (let k = 0; k < n; k++) {
    flag[k] = k;
    const r = order[k]!;
    for (let q = matrix.start[r]!; q < matrix.start[r + 1]!; q++) {
      let i = inverse[matrix.column[q]!]!;
      if (i >= k) continue;
      for (; flag[i] !== k; i = parent[i]!) {
        if (parent[i] === -1) parent[i] = k;
        start[i + 1]!++;
        flag[i] = k;
      }
    }
  }
  for (let k = 0; k < n; k++) start[k + 1]! += start[k]!;
  return { inverse, parent, start };
}

/** A pivot of nothing (a vertex that hangs on nothing) is held in place. */
export const pivot = (d: number): number => (Math.abs(d) > 1e-300 ? d : 1);

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
    const { inverse, parent, start } = factorPattern(matrix, order);
    const row = new Int32Array(start[n]!);
    const value = new Float64Array(start[n]!);
    const diagonal = new Float64Array(n);
    const y = new Float64Array(n);
    const pattern = new Int32Array(n);
    const flag = new Int32Array(n);
    const end = start.slice(0, n);
    for (let k = 0; k < n; k++) {
      let top = n;
      flag[k] = k;
      const r = order[k]!;
      for (let q = matrix.start[r]!; q < matrix.start[r + 1]!; q++) {
        let i = inverse[matrix.column[q]!]!;
        if (i > k) continue;
        y[i]! += matrix.value[q]!;
        let length = 0;
        for (; flag[i] !== k; i = parent[i]!) {
          pattern[length++] = i;
          flag[i] = k;
        }
        while (length > 0) pattern[--top] = pattern[--length]!;
      }
      let d = y[k]!;
      y[k] = 0;
      for (; top < n; top++) {
        const i = pattern[top]!;
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
