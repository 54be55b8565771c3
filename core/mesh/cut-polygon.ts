import earcut, { deviation } from 'earcut';

/** How far the ears may miss the polygon's area before they count as wrong: the rounding of 32-bit places. */
const MISSED_AREA = 1e-4;

/**
 * Cuts a polygon into triangles: a convex one into a fan from its first corner, another by its ears (npm `earcut`), in the plane
 * of its area vector (M. E. Newell; I. E. Sutherland, R. F. Sproull and R. A. Schumacker, "A Characterization of Ten
 * Hidden-Surface Algorithms", 1974). A hole is part of the outline, joined by an edge that runs both ways.
 *
 * @param n corners
 * @param at coordinate of a corner along an axis
 * @returns three numbers of corners a triangle
 */
export function cutPolygon(n: number, at: (corner: number, axis: number) => number): number[] {
  const fan: number[] = [];
  for (let k = 2; k < n; k++) fan.push(0, k - 1, k);
  if (n <= 3) return fan;
  const [nx, ny, nz] = areaVector(n, at);
  const flat: number[] = [];
  // The axis that the plane is most square to is left out, so that no area is lost; the winding stays.
  const [a, b] =
    Math.abs(nx) > Math.abs(ny) && Math.abs(nx) > Math.abs(nz)
      ? [1, 2]
      : Math.abs(ny) > Math.abs(nz)
        ? [2, 0]
        : [0, 1];
  const sign = [nx, ny, nz][3 - a - b]! < 0 ? -1 : 1;
  for (let i = 0; i < n; i++) flat.push(at(i, a) * sign, at(i, b));
  if (isConvex(flat)) return fan;
  const ears = earcut(flat);
  const isWhole = ears.length === fan.length && deviation(flat, null, 2, ears) < MISSED_AREA;
  if (!isWhole) return fan;
  // earcut turns all ears one way; the polygon is counter-clockwise here.
  for (let t = 0; t < ears.length; t += 3) {
    if (turn(flat, ears[t]!, ears[t + 1]!, ears[t + 2]!) < 0)
      [ears[t + 1], ears[t + 2]] = [ears[t + 2]!, ears[t + 1]!];
  }
  return ears;
}

function areaVector(n: number, at: (corner: number, axis: number) => number): [number, number, number] {
  const out: [number, number, number] = [0, 0, 0];
  for (let i = 0; i < n; i++) {
    const next = (i + 1) % n;
    for (let k = 0; k < 3; k++) {
      const [s, t] = [(k + 1) % 3, (k + 2) % 3];
      out[k]! += (at(i, s) - at(next, s)) * (at(i, t) + at(next, t));
    }
  }
  return out;
}

const turn = (flat: readonly number[], i: number, j: number, k: number): number =>
  (flat[j * 2]! - flat[i * 2]!) * (flat[k * 2 + 1]! - flat[i * 2 + 1]!) -
  (flat[j * 2 + 1]! - flat[i * 2 + 1]!) * (flat[k * 2]! - flat[i * 2]!);

/** Whether a fan from the first corner stays inside: every corner turns left, and so does every triangle of the fan. */
function isConvex(flat: readonly number[]): boolean {
  const n = flat.length / 2;
  for (let i = 0; i < n; i++) if (turn(flat, i, (i + 1) % n, (i + 2) % n) < 0) return false;
  for (let k = 2; k < n; k++) if (turn(flat, 0, k - 1, k) < 0) return false;
  return true;
}
