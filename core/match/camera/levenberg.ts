/** Rounds at the most, where nothing else is said. */
const MOST_ROUNDS = 80;

/** A step that changes the error by less than this part of it is the last. */
const ENOUGH = 1e-15;

/** Steps of central differences, in parts of a parameter's own scale: the cube root of a double's precision is best (Numerical Recipes, 5.7). */
const STEP = 6e-6;

export interface Fitted {
  readonly x: Float64Array;
  /** Sum of squared residuals. */
  readonly error: number;
}

/**
 * Least squares by K. Levenberg (1944) and D. Marquardt (1963), with derivatives by central differences.
 *
 * @param residuals written into its second argument; not finite where parameters make no sense
 * @param start begins there
 * @param scales by how much a parameter changes something noticeably
 */
export function leastSquares(
  residuals: (x: Float64Array, out: Float64Array) => void,
  start: Float64Array,
  scales: Float64Array,
  count: number,
  rounds = MOST_ROUNDS,
): Fitted {
  const n = start.length;
  let x = start.slice();
  const r = new Float64Array(count);
  const plus = new Float64Array(count);
  const minus = new Float64Array(count);
  const jacobian = new Float64Array(count * n);
  const errorOf = (at: Float64Array, out: Float64Array): number => {
    residuals(at, out);
    let sum = 0;
    for (let i = 0; i < count; i++) sum += out[i]! * out[i]!;
    return Number.isFinite(sum) ? sum : Infinity;
  };
  let error = errorOf(x, r);
  let damping = 1e-3;
  for (let round = 0; round < rounds && Number.isFinite(error); round++) {
    for (let k = 0; k < n; k++) {
      const h = STEP * scales[k]!;
      const probe = x.slice();
      probe[k] = x[k]! + h;
      residuals(probe, plus);
      probe[k] = x[k]! - h;
      residuals(probe, minus);
      for (let i = 0; i < count; i++) jacobian[i * n + k] = (plus[i]! - minus[i]!) / (2 * h);
    }
    const normal = new Float64Array(n * n);
    const right = new Float64Array(n);
    for (let i = 0; i < count; i++) {
      for (let a = 0; a < n; a++) {
        const ja = jacobian[i * n + a]!;
        right[a]! -= ja * r[i]!;
        for (let b = 0; b < n; b++) normal[a * n + b]! += ja * jacobian[i * n + b]!;
      }
    }
    let isBetter = false;
    while (!isBetter && damping < 1e12) {
      const damped = normal.slice();
      for (let a = 0; a < n; a++) damped[a * n + a]! += damping * (normal[a * n + a]! + 1e-30);
      const step = solve(damped, right, n);
      const next = step && x.map((v, k) => v + step[k]!);
      const nextError = next ? errorOf(next, plus) : Infinity;
      if (next && nextError < error) {
        isBetter = true;
        const gain = error - nextError;
        x = next;
        r.set(plus);
        error = nextError;
        damping = Math.max(1e-12, damping / 8);
        if (gain <= ENOUGH * error || error === 0) return { x, error };
      } else damping *= 6;
    }
    if (!isBetter) break;
  }
  return { x, error };
}

/** A x = b by Gauss with the largest pivot; null where A has none. Both are changed. */
export function solve(a: Float64Array, b: Float64Array, n: number): Float64Array | null {
  const x = b.slice();
  for (let k = 0; k < n; k++) {
    let pivot = k;
    for (let i = k + 1; i < n; i++) if (Math.abs(a[i * n + k]!) > Math.abs(a[pivot * n + k]!)) pivot = i;
    const top = a[pivot * n + k]!;
    if (!(Math.abs(top) > 0) || !Number.isFinite(top)) return null;
    if (pivot !== k) {
      for (let j = 0; j < n; j++) {
        const held = a[k * n + j]!;
        a[k * n + j] = a[pivot * n + j]!;
        a[pivot * n + j] = held;
      }
      const held = x[k]!;
      x[k] = x[pivot]!;
      x[pivot] = held;
    }
    for (let i = k + 1; i < n; i++) {
      const factor = a[i * n + k]! / a[k * n + k]!;
      if (factor === 0) continue;
      for (let j = k; j < n; j++) a[i * n + j]! -= factor * a[k * n + j]!;
      x[i]! -= factor * x[k]!;
    }
  }
  for (let k = n - 1; k >= 0; k--) {
    let sum = x[k]!;
    for (let j = k + 1; j < n; j++) sum -= a[k * n + j]! * x[j]!;
    x[k] = sum / a[k * n + k]!;
  }
  return x;
}
