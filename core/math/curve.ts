/**
 * A smooth curve through points that never swings beyond them: piecewise cubic with the slopes of Fritsch and Carlson, "Monotone
 * piecewise cubic interpolation" (1980). Left of the first point and right of the last it stays level.
 *
 * @param points x, y; at least one, x growing
 */
export function monotoneCurve(points: readonly (readonly [number, number])[]): (x: number) => number {
  const n = points.length;
  const xs = points.map((p) => p[0]);
  const ys = points.map((p) => p[1]);
  const rises = Array.from({ length: n - 1 }, (_, i) => (ys[i + 1]! - ys[i]!) / (xs[i + 1]! - xs[i]!));
  const slopes = points.map((_, i) => {
    const [before, after] = [rises[i - 1], rises[i]];
    if (before === undefined) return after ?? 0;
    if (after === undefined) return before;
    return before * after <= 0 ? 0 : (before + after) / 2;
  });
  rises.forEach((rise, i) => {
    if (rise === 0) {
      slopes[i] = slopes[i + 1] = 0;
      return;
    }
    const a = slopes[i]! / rise;
    const b = slopes[i + 1]! / rise;
    // Slopes within a circle of radius 3 keep the piece monotone (their equation 3.14).
    const length = Math.hypot(a, b);
    if (length <= 3) return;
    slopes[i] = (3 / length) * a * rise;
    slopes[i + 1] = (3 / length) * b * rise;
  });
  return (x) => {
    if (x <= xs[0]!) return ys[0]!;
    if (x >= xs[n - 1]!) return ys[n - 1]!;
    let i = 0;
    while (x > xs[i + 1]!) i++;
    const h = xs[i + 1]! - xs[i]!;
    const t = (x - xs[i]!) / h;
    const [t2, t3] = [t * t, t * t * t];
    return (
      (2 * t3 - 3 * t2 + 1) * ys[i]! +
      (t3 - 2 * t2 + t) * h * slopes[i]! +
      (3 * t2 - 2 * t3) * ys[i + 1]! +
      (t3 - t2) * h * slopes[i + 1]!
    );
  };
}
