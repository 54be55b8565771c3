import type { Chart } from '../segment/chart';
import { nextCorner } from '../../mesh';
import { oppositeCorners } from '../segment/chart-edges';

/**
 * Where a layout without folds lies over itself: pairs of its border edges that properly cross. Edges that only touch, as the
 * two sides of a seam in a flat place do, don't count.
 *
 * @param stopAfter crossings to look for
 * @param opposite of `oppositeCorners`
 * @returns two numbers a crossing: the corners that begin the two border edges
 */
export function borderCrossings(
  { indices }: Chart,
  uv: ArrayLike<number>,
  stopAfter = Infinity,
  opposite: Int32Array = oppositeCorners(indices, uv.length / 2),
): number[] {
  const border: number[] = [];
  for (let c = 0; c < indices.length; c++) if (opposite[c]! < 0) border.push(c);
  const from = (c: number): number => indices[c]!;
  const to = (c: number): number => indices[nextCorner(c)]!;
  // A grid with about one edge a cell.
  let minX = Infinity;
  let minY = Infinity;
  let maxX = -Infinity;
  let maxY = -Infinity;
  let length = 0;
  for (const c of border) {
    const x = uv[from(c) * 2]!;
    const y = uv[from(c) * 2 + 1]!;
    minX = Math.min(minX, x);
    maxX = Math.max(maxX, x);
    minY = Math.min(minY, y);
    maxY = Math.max(maxY, y);
    length += Math.hypot(uv[to(c) * 2]! - x, uv[to(c) * 2 + 1]! - y);
  }
  const cell = Math.max(length / Math.max(1, border.length), Math.max(maxX - minX, maxY - minY) / 512) || 1;
  const across = Math.floor((maxX - minX) / cell) + 1;
  const cells = new Map<number, number[]>();
  const out: number[] = [];
  const seen = new Set<number>();
  for (let i = 0; i < border.length; i++) {
    const c = border[i]!;
    const ax = uv[from(c) * 2]!;
    const ay = uv[from(c) * 2 + 1]!;
    const bx = uv[to(c) * 2]!;
    const by = uv[to(c) * 2 + 1]!;
    const x1 = Math.floor((Math.max(ax, bx) - minX) / cell);
    const y1 = Math.floor((Math.max(ay, by) - minY) / cell);
    for (let y = Math.floor((Math.min(ay, by) - minY) / cell); y <= y1; y++) {
      for (let x = Math.floor((Math.min(ax, bx) - minX) / cell); x <= x1; x++) {
        const list = cells.get(y * across + x);
        if (!list) {
          cells.set(y * across + x, [i]);
          continue;
        }
        for (const j of list) {
          if (seen.has(j * border.length + i)) continue;
          const d = border[j]!;
          if (from(d) === from(c) || from(d) === to(c) || to(d) === from(c) || to(d) === to(c)) continue;
          if (!cross(uv, from(c), to(c), from(d), to(d))) continue;
          seen.add(j * border.length + i);
          out.push(d, c);
          if (out.length >= stopAfter * 2) return out;
        }
        list.push(i);
      }
    }
  }
  return out;
}

function cross(uv: ArrayLike<number>, a: number, b: number, c: number, d: number): boolean {
  const ab = side(uv, a, b, c) * side(uv, a, b, d);
  return ab < 0 && side(uv, c, d, a) * side(uv, c, d, b) < 0;
}

/**
 * Sign of the turn a, b, c; 0 where it is within rounding. The bound is that of a 2D orientation test in double precision
 * (J. R. Shewchuk, "Adaptive Precision Floating-Point Arithmetic", 1997: (3 + 16 ε) ε), widened a hundredfold for solvers.
 */
function side(uv: ArrayLike<number>, a: number, b: number, c: number): number {
  const left = (uv[b * 2]! - uv[a * 2]!) * (uv[c * 2 + 1]! - uv[a * 2 + 1]!);
  const right = (uv[b * 2 + 1]! - uv[a * 2 + 1]!) * (uv[c * 2]! - uv[a * 2]!);
  const turn = left - right;
  return Math.abs(turn) <= 7e-14 * (Math.abs(left) + Math.abs(right)) ? 0 : Math.sign(turn);
}
