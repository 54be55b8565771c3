import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cutPolygon } from '.';

type Point = readonly [number, number, number];

const cut = (points: readonly Point[]): number[] => cutPolygon(points.length, (i, axis) => points[i]![axis]!);

/** Area of each triangle along the polygon's own direction. */
const areas = (points: readonly Point[], triangles: readonly number[], k: 0 | 1 | 2): number[] => {
  const [s, t] = [(k + 1) % 3, (k + 2) % 3] as const;
  const out: number[] = [];
  for (let c = 0; c < triangles.length; c += 3) {
    const [a, b, d] = [0, 1, 2].map((j) => points[triangles[c + j]!]!) as [Point, Point, Point];
    out.push(((b[s]! - a[s]!) * (d[t]! - a[t]!) - (b[t]! - a[t]!) * (d[s]! - a[s]!)) / 2);
  }
  return out;
};

describe('cutting polygons into triangles', () => {
  it('a convex one into a fan: quads keep their diagonal', () => {
    expect(cut([[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0]])).toEqual([0, 1, 2, 0, 2, 3]); // prettier-ignore
    expect(cut([[0, 0, 0], [1, 0, 0], [0, 1, 0]])).toEqual([0, 1, 2]); // prettier-ignore
  });

  it('a concave one inside its outline, whichever way it looks', () => {
    // An arrow head: a fan from the first corner would leave it.
    const arrow = [[1, 0], [2, 2], [1, 1], [0, 2]] as const; // prettier-ignore
    for (const k of [0, 1, 2] as const) {
      for (const back of [false, true]) {
        const [s, t] = [(k + 1) % 3, (k + 2) % 3];
        const points = arrow.map(([x, y]): Point => {
          const p: [number, number, number] = [0, 0, 0];
          p[s] = x + 5;
          p[t] = y;
          return p;
        });
        const own = back ? [...points].reverse() : points;
        const signed = areas(own, cut(own), k);
        expect(signed.every((a) => (back ? a < 0 : a > 0))).toBe(true);
        expect(Math.abs(signed.reduce((a, b) => a + b, 0))).toBeCloseTo(1, 6);
      }
    }
  });

  it('one with a hole, joined to the outline by an edge that runs both ways', () => {
    const outer: Point[] = [[0, 0, 0], [4, 0, 0], [4, 4, 0], [0, 4, 0]]; // prettier-ignore
    const inner: Point[] = [[1, 1, 0], [1, 3, 0], [3, 3, 0], [3, 1, 0]]; // prettier-ignore
    const keyhole = [...outer, outer[0]!, ...inner, inner[0]!];
    const triangles = cut(keyhole);
    expect(triangles).toHaveLength((keyhole.length - 2) * 3);
    const signed = areas(keyhole, triangles, 2);
    expect(Math.min(...signed)).toBeGreaterThanOrEqual(0);
    // The frame alone: 16 without the 4 of the hole.
    expect(signed.reduce((a, b) => a + b, 0)).toBeCloseTo(12, 6);
  });

  it('stars of any shape: all triangles wind alike and add up to the area by the shoelace formula', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0.2, max: 1, noNaN: true }), { minLength: 5, maxLength: 24 }),
        (radii) => {
          const points = radii.map((r, i): Point => {
            const a = (i / radii.length) * 2 * Math.PI;
            return [r * Math.cos(a), r * Math.sin(a), 0];
          });
          const shoelace =
            points.reduce((sum, p, i) => {
              const q = points[(i + 1) % points.length]!;
              return sum + p[0] * q[1] - p[1] * q[0];
            }, 0) / 2;
          const signed = areas(points, cut(points), 2);
          expect(Math.min(...signed)).toBeGreaterThan(-1e-9);
          expect(signed.reduce((a, b) => a + b, 0)).toBeCloseTo(shoelace, 6);
        },
      ),
    );
  });
});
