import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { convexHull, packIslands, smallestBoxTurn } from '..';

describe('packing', () => {
  const square = (s: number, t = s) => ({
    points: Float64Array.of(0, 0, s, 0, s, t, 0, t),
    indices: Uint32Array.of(0, 1, 2, 0, 2, 3),
  });
  const frame = {
    points: Float64Array.of(0, 0, 1, 0, 1, 1, 0, 1, 0.1, 0.1, 0.9, 0.1, 0.9, 0.9, 0.1, 0.9),
    indices: Uint32Array.of(0, 1, 5, 0, 5, 4, 1, 2, 6, 1, 6, 5, 2, 3, 7, 2, 7, 6, 3, 0, 4, 3, 4, 7),
  };

  it('keeps everything on the sheet and apart by the margin', () => {
    const { uvs, fill } = packIslands(
      [square(0.5), square(0.3), square(0.3, 0.9), square(0.2), square(0.9, 0.1)],
      { size: 1024, margin: 16, turn: false },
    );
    const boxes = uvs.map((p) => {
      const xs = [0, 2, 4, 6].map((i) => p[i]!);
      const ys = [1, 3, 5, 7].map((i) => p[i]!);
      return { left: Math.min(...xs), right: Math.max(...xs), low: Math.min(...ys), high: Math.max(...ys) };
    });
    boxes.forEach((a, i) => {
      expect(Math.min(a.left, a.low)).toBeGreaterThanOrEqual(4 / 1024);
      expect(Math.max(a.right, a.high)).toBeLessThanOrEqual(1 - 4 / 1024);
      boxes.slice(i + 1).forEach((b) => {
        const apart = Math.max(a.left - b.right, b.left - a.right, a.low - b.high, b.low - a.high);
        expect(apart).toBeGreaterThanOrEqual(16 / 1024);
      });
    });
    expect(fill).toBeGreaterThan(0.6);
  });

  it('puts small islands into the holes of large ones', () => {
    const { uvs } = packIslands([frame, square(0.7)], { size: 1024, margin: 8, turn: true });
    const [outer, inner] = uvs as [Float64Array, Float64Array];
    expect(Math.min(...inner)).toBeGreaterThan(Math.min(...outer));
    expect(Math.max(...inner)).toBeLessThan(Math.max(...outer));
  });

  it('leaves pinned islands where they are and goes round them', () => {
    const pinned = { ...square(1), points: square(1).points.map((x) => x * 0.5) };
    const { uvs } = packIslands([square(0.4), square(0.4)], {
      size: 1024,
      margin: 8,
      turn: true,
      pinned: [pinned],
    });
    for (const p of uvs) {
      const [left, low] = [Math.min(p[0]!, p[2]!, p[4]!), Math.min(p[1]!, p[3]!, p[5]!)];
      expect(Math.max(left, low)).toBeGreaterThan(0.5);
    }
  });

  it('makes an island with double weight twice as long', () => {
    const { uvs } = packIslands([square(1), square(1)], {
      size: 1024,
      margin: 4,
      turn: false,
      weights: [1, 2],
    });
    const side = (p: Float64Array): number =>
      Math.max(...p.filter((_, i) => i % 2 === 0)) - Math.min(...p.filter((_, i) => i % 2 === 0));
    expect(side(uvs[1]!) / side(uvs[0]!)).toBeCloseTo(2, 6);
  });

  it('finds the hull and the smallest box of turned squares', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 6, noNaN: true }), (angle) => {
        const points = [0, 0, 4, 0, 4, 1, 0, 1, 2, 0.5].map(Number);
        const turned = points.map((_, i) => {
          const [x, y] = [points[i - (i % 2)]!, points[i - (i % 2) + 1]!];
          return i % 2
            ? x * Math.sin(angle) + y * Math.cos(angle)
            : x * Math.cos(angle) - y * Math.sin(angle);
        });
        expect(convexHull(turned).length).toBeGreaterThanOrEqual(8);
        const back = (smallestBoxTurn(turned) + angle) % (Math.PI / 2);
        expect(Math.min(Math.abs(back), Math.abs(Math.abs(back) - Math.PI / 2))).toBeLessThan(1e-6);
      }),
    );
  });
});
