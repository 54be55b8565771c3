import { describe, expect, it } from 'vitest';
import { measureDistortion } from '..';
import { sheet, halfBall } from '../../../tests/charts';

describe('distortion, after Sander et al. (2001)', () => {
  const chart = sheet(96, 48, halfBall);
  const mapped = (place: (b: number) => number): Float64Array => {
    const uv: number[] = [];
    for (let j = 0; j <= 48; j++) {
      for (let i = 0; i <= 96; i++) {
        const r = place((j / 48) * (Math.PI / 2));
        const a = (i / 96) * 2 * Math.PI;
        uv.push(r * Math.cos(a), -r * Math.sin(a));
      }
    }
    return Float64Array.from(uv);
  };

  // Stereographic projection keeps angles; along a parallel at angle b from the pole it stretches by 1 / (1 + cos b). The area
  // of the half ball is 2π, of its image π. L2² = (π / 2π) mean of (1 + cos b)² = 7/3 / 2; the worst is at the pole: 2 / √2.
  it('of a half ball in stereographic projection', () => {
    const d = measureDistortion(
      chart,
      mapped((b) => Math.sin(b) / (1 + Math.cos(b))),
    );
    expect(d.angle).toBeCloseTo(1, 2);
    expect(d.stretchL2).toBeCloseTo(Math.sqrt(7 / 6), 2);
    expect(d.stretchLinf).toBeCloseTo(Math.SQRT2, 2);
    expect(d.flipped).toBe(0);
  });

  // Lambert's azimuthal equal-area projection: r = 2 sin(b / 2); stretches cos(b / 2) along the meridian and its inverse across.
  // Mean over the area of (cos² + 1 / cos²) / 2 of b / 2: (3/4 + 2 ln 2 ... by u = cos b: integral of ((1+u)/2 + 2/(1+u)) / 2).
  it('of a half ball in equal-area projection', () => {
    const d = measureDistortion(
      chart,
      mapped((b) => 2 * Math.sin(b / 2)),
    );
    expect(d.area).toBeCloseTo(1, 2);
    expect(d.stretchL2).toBeCloseTo(Math.sqrt((3 / 4 + 2 * Math.log(2)) / 2), 2);
  });

  // Orthographic projection squeezes meridians by cos b and leaves parallels: the rim has no width left, so its stretch has no
  // bound; angle distortion is mean of (cos b + 1 / cos b) / 2, which has none either. What is finite is the area: π of 2π.
  it('of a half ball in orthographic projection grows without bound toward the rim', () => {
    const d = measureDistortion(chart, mapped(Math.sin));
    expect(d.stretchLinf).toBeGreaterThan(20);
    expect(d.stretchL2).toBeGreaterThan(1.4);
  });

  it('tells what lies face down', () => {
    const flat = sheet(2, 2, (u, v) => [u, 0, -v]);
    const mirrored = Float64Array.from({ length: 18 }, (_, i) =>
      i % 2 ? -flat.positions[(i >> 1) * 3 + 2]! : -flat.positions[(i >> 1) * 3]!,
    );
    expect(measureDistortion(flat, mirrored).flipped).toBe(8);
  });
});
