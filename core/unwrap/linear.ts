/** A symmetric sparse matrix by rows (compressed): row i's entries stand from start[i] to start[i + 1]. */
export interface SparseRows {
  readonly start: Uint32Array;
  readonly column: Uint32Array;
  readonly value: Float64Array;
}

/** Collects entries; equal places are added up. @param entries row, column, value, in any order */
export function sparseFromEntries(
  size: number,
  entries: readonly (readonly [number, number, number])[],
): SparseRows {
  const rows: Map<number, number>[] = Array.from({ length: size }, () => new Map());
  for (const [r, c, v] of entries) rows[r]!.set(c, (rows[r]!.get(c) ?? 0) + v);
  const count = rows.reduce((n, row) => n + row.size, 0);
  const start = new Uint32Array(size + 1);
  const column = new Uint32Array(count);
  const value = new Float64Array(count);
  let at = 0;
  rows.forEach((row, r) => {
    for (const [c, v] of [...row].sort((a, b) => a[0] - b[0])) {
      column[at] = c;
      value[at++] = v;
    }
    start[r + 1] = at;
  });
  return { start, column, value };
}

/**
 * Solves A x = b for a symmetric positive definite A by conjugate gradients with the diagonal as preconditioner.
 *
 * @param x the first guess; receives the solution
 * @param tolerance of the residual, relative to b
 */
export function solveSpd(a: SparseRows, b: Float64Array, x: Float64Array, tolerance = 1e-8): void {
  const n = b.length;
  const r = new Float64Array(n);
  const p = new Float64Array(n);
  const q = new Float64Array(n);
  const inverse = new Float64Array(n);
  for (let i = 0; i < n; i++) {
    for (let k = a.start[i]!; k < a.start[i + 1]!; k++) if (a.column[k] === i) inverse[i] = 1 / a.value[k]!;
  }
  const times = (v: Float64Array, out: Float64Array): void => {
    for (let i = 0; i < n; i++) {
      let sum = 0;
      for (let k = a.start[i]!; k < a.start[i + 1]!; k++) sum += a.value[k]! * v[a.column[k]!]!;
      out[i] = sum;
    }
  };
  times(x, q);
  let norm = 0;
  let rz = 0;
  for (let i = 0; i < n; i++) {
    r[i] = b[i]! - q[i]!;
    norm += b[i]! * b[i]!;
    p[i] = r[i]! * inverse[i]!;
    rz += r[i]! * p[i]!;
  }
  const limit = tolerance * tolerance * Math.max(norm, 1e-30);
  for (let step = 0; step < 4 * n + 50; step++) {
    let rr = 0;
    for (let i = 0; i < n; i++) rr += r[i]! * r[i]!;
    if (rr <= limit) return;
    times(p, q);
    let pq = 0;
    for (let i = 0; i < n; i++) pq += p[i]! * q[i]!;
    if (pq <= 0) return;
    const alpha = rz / pq;
    let next = 0;
    for (let i = 0; i < n; i++) {
      x[i] = x[i]! + alpha * p[i]!;
      r[i] = r[i]! - alpha * q[i]!;
      next += r[i]! * r[i]! * inverse[i]!;
    }
    const beta = next / rz;
    rz = next;
    for (let i = 0; i < n; i++) p[i] = r[i]! * inverse[i]! + beta * p[i]!;
  }
}
