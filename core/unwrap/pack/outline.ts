import { edgeTable } from '../../mesh';

/** A flat island to be placed: its triangles and its points, xy each, in units of the surface. */
export interface FlatIsland {
  readonly points: Float64Array;
  readonly indices: Uint32Array;
}

/** The edges that only one triangle of the island has: two points each. */
export function outlineOf({ indices, points }: FlatIsland): Uint32Array {
  const { ends, uses } = edgeTable(
    indices,
    Uint32Array.from({ length: points.length / 2 }, (_, v) => v),
  );
  const out: number[] = [];
  for (let e = 0; e < uses.length; e++) if (uses[e] === 1) out.push(ends[e * 2]!, ends[e * 2 + 1]!);
  return Uint32Array.from(out);
}

/** Points of the convex hull, counter-clockwise (A. M. Andrew, "Another efficient algorithm for convex hulls in two dimensions", 1979). */
export function convexHull(points: ArrayLike<number>): Float64Array {
  const order = Array.from({ length: points.length / 2 }, (_, i) => i).sort(
    (a, b) => points[a * 2]! - points[b * 2]! || points[a * 2 + 1]! - points[b * 2 + 1]!,
  );
  const turn = (a: number, b: number, c: number): number =>
    (points[b * 2]! - points[a * 2]!) * (points[c * 2 + 1]! - points[a * 2 + 1]!) -
    (points[b * 2 + 1]! - points[a * 2 + 1]!) * (points[c * 2]! - points[a * 2]!);
  const half = (list: readonly number[]): number[] => {
    const out: number[] = [];
    for (const p of list) {
      while (out.length > 1 && turn(out.at(-2)!, out.at(-1)!, p) <= 0) out.pop();
      out.push(p);
    }
    out.pop();
    return out;
  };
  const hull = [...half(order), ...half(order.toReversed())];
  return Float64Array.from(
    (hull.length ? hull : order.slice(0, 1)).flatMap((i) => [points[i * 2]!, points[i * 2 + 1]!]),
  );
}

/** The turn, radians, that gives the box round the points the least area: one of its sides lies along a side of the hull. */
export function smallestBoxTurn(points: ArrayLike<number>): number {
  const hull = convexHull(points);
  const n = hull.length / 2;
  let best = 0;
  let bestArea = Infinity;
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    const angle = -Math.atan2(hull[j * 2 + 1]! - hull[i * 2 + 1]!, hull[j * 2]! - hull[i * 2]!);
    const { width, height } = boxAfterTurn(hull, angle);
    // The longer side stands up; nearly equal boxes keep the smaller turn.
    const area = width * height * (1 + 1e-9 * i);
    if (area >= bestArea) continue;
    bestArea = area;
    best = width > height ? angle + Math.PI / 2 : angle;
  }
  return best;
}

function boxAfterTurn(points: Float64Array, angle: number): { width: number; height: number } {
  const cos = Math.cos(angle);
  const sin = Math.sin(angle);
  let minX = Infinity;
  let maxX = -Infinity;
  let minY = Infinity;
  let maxY = -Infinity;
  for (let i = 0; i < points.length; i += 2) {
    const x = points[i]! * cos - points[i + 1]! * sin;
    const y = points[i]! * sin + points[i + 1]! * cos;
    minX = Math.min(minX, x);
    maxX = Math.max(maxX, x);
    minY = Math.min(minY, y);
    maxY = Math.max(maxY, y);
  }
  return { width: maxX - minX, height: maxY - minY };
}

/** The box round some points, uv a point. */
export function boxOf(points: ArrayLike<number>): { left: number; right: number; low: number; high: number } {
  const box = { left: Infinity, right: -Infinity, low: Infinity, high: -Infinity };
  for (let i = 0; i < points.length; i += 2) {
    box.left = Math.min(box.left, points[i]!);
    box.right = Math.max(box.right, points[i]!);
    box.low = Math.min(box.low, points[i + 1]!);
    box.high = Math.max(box.high, points[i + 1]!);
  }
  return box;
}
