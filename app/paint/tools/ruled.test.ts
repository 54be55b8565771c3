import { describe, expect, it } from 'vitest';
import { arcThrough, stepped } from './ruled';

describe('an arc', () => {
  const far = (a: { x: number; y: number }, b: { x: number; y: number }): number =>
    Math.hypot(a.x - b.x, a.y - b.y);

  it.each([
    [{ x: 50, y: 30 }],
    [{ x: 50, y: -30 }],
    [{ x: 50, y: 50 }],
    // Past the middle of the circle: the long way round.
    [{ x: 50, y: 160 }],
    [{ x: -20, y: -90 }],
  ])('runs from end to end through the third place (%o), all of it on one circle', (bend) => {
    const [from, to] = [
      { x: 0, y: 0 },
      { x: 100, y: 0 },
    ];
    const points = arcThrough(from, to, bend);
    expect(far(points[0]!, from)).toBeLessThan(1e-9);
    expect(far(points.at(-1)!, to)).toBeLessThan(1e-9);
    expect(Math.min(...points.map((p) => far(p, bend)))).toBeLessThan(3);
    // The middle of a circle lies as far from all its points: that of the chord has x = 50.
    const y = (bend.x ** 2 + bend.y ** 2 - 100 * bend.x) / (2 * bend.y);
    const radius = Math.hypot(50, y);
    for (const p of points) expect(far(p, { x: 50, y })).toBeCloseTo(radius, 6);
  });

  it('is a line where the third place lies on it, or there is no chord', () => {
    expect(arcThrough({ x: 0, y: 0 }, { x: 100, y: 0 }, { x: 50, y: 0.1 })).toHaveLength(2);
    expect(arcThrough({ x: 5, y: 5 }, { x: 5, y: 5 }, { x: 50, y: 9 })).toHaveLength(2);
  });
});

it('a line in steps lies at a multiple of fifteen degrees, as long as it was', () => {
  const end = stepped({ x: 10, y: 10 }, { x: 110, y: 41, pressure: 1 });
  expect(Math.hypot(end.x - 10, end.y - 10)).toBeCloseTo(Math.hypot(100, 31), 9);
  expect((Math.atan2(end.y - 10, end.x - 10) * 180) / Math.PI).toBeCloseTo(15, 9);
  expect(end.pressure).toBe(1);
});
