import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  DabWalker,
  NO_DRIVES,
  PLAIN_BRUSH,
  roundSample,
  SAMPLE_STRIDE,
  STRAIGHT,
  strokeSchema,
  type BrushShape,
  type Dab,
  type StyleOf,
} from '.';
import { sampleAt } from '../../tests/strokes';

const STYLE: StyleOf<'brush'> = {
  tool: 'brush',
  erase: false,
  color: '#123456',
  opacity: 1,
  brush: { ...PLAIN_BRUSH, spacing: 0.25 },
  seed: 1,
  up: [0, 1, 0],
  eye: [0, 0, 1],
  nearSide: true,
};
const TEXEL = 0.001;

const sample = (x: number, y = 0, radius = 0.1, pressure = 1): number[] =>
  sampleAt([x, y, 0], [0, 0, 1], radius, pressure);

function walk(
  { nearSide = true, ...brush }: Partial<BrushShape> & { nearSide?: boolean },
  ...runs: number[][][]
): Dab[] {
  const walker = new DabWalker({ ...STYLE, nearSide, brush: { ...STYLE.brush, ...brush } }, TEXEL);
  return runs.flatMap((run) => [...run.flatMap((samples) => walker.walk(samples)), ...walker.lift()]);
}

const gaps = (dabs: readonly Dab[]): number[] =>
  dabs.slice(1).map((d, i) => Math.hypot(d.x - dabs[i]!.x, d.y - dabs[i]!.y, d.z - dabs[i]!.z));

describe('the way of a stroke', () => {
  it('sets dabs at the spacing, in parts of the diameter', () => {
    const dabs = walk({}, [[...sample(0), ...sample(1.01)]]);
    expect(dabs).toHaveLength(21);
    for (const gap of gaps(dabs)) expect(gap).toBeCloseTo(0.05, 9);
  });

  it('a click without a move is one dab', () => {
    expect(walk({}, [sample(0.3)])).toHaveLength(1);
    expect(walk({}, [[...sample(0.3), ...sample(0.3), ...sample(0.3)]])).toHaveLength(1);
  });

  it('does not depend on how the samples were cut up', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(fc.double({ min: -1, max: 1, noNaN: true }), fc.double({ min: -1, max: 1, noNaN: true })),
          { minLength: 2, maxLength: 12 },
        ),
        fc.array(fc.boolean(), { minLength: 12, maxLength: 12 }),
        (points, cuts) => {
          const all = points.map(([x, y]) => sample(x, y));
          const pieces: number[][] = [[]];
          all.forEach((s, i) => {
            if (cuts[i]) pieces.push([]);
            pieces.at(-1)!.push(...s);
          });
          expect(walk({}, pieces)).toEqual(walk({}, [all.flat()]));
        },
      ),
      { numRuns: 80 },
    );
  });

  it('is not joined across a lift', () => {
    const dabs = walk({}, [[...sample(0), ...sample(0.1)]], [[...sample(2), ...sample(2.1)]]);
    expect(dabs.every((d) => d.x <= 0.11 || d.x >= 2)).toBe(true);
  });

  it('pressure makes the dab smaller or fainter, as asked', () => {
    const [light] = walk({ pressure: { ...NO_DRIVES, size: STRAIGHT } }, [sample(0, 0, 0.1, 0.5)]);
    expect([light!.radius, light!.strength]).toEqual([0.05, 1]);
    const [faint] = walk({ pressure: { ...NO_DRIVES, opacity: STRAIGHT } }, [sample(0, 0, 0.1, 0.5)]);
    expect([faint!.radius, faint!.strength]).toEqual([0.1, 0.5]);
  });

  it('edge 0 is hard but for one texel, edge 1 soft to the middle', () => {
    expect(walk({ edge: 0 }, [sample(0)])[0]!.inner).toBeCloseTo(0.1 - TEXEL, 9);
    expect(walk({ edge: 1 }, [sample(0)])[0]!.inner).toBe(0);
  });

  it('the thinnest brush still leaves a mark, and never walks for ever', () => {
    const dabs = walk({ spacing: 0.02 }, [[...sample(0, 0, 1e-9), ...sample(0.01, 0, 1e-9)]]);
    expect(dabs[0]!.radius).toBeCloseTo(0.8 * TEXEL, 9);
    expect(dabs.length).toBeLessThan(50);
  });

  it('takes unit normals from between two samples', () => {
    const up = sampleAt([0, 0, 0], [0, 1, 0], 0.1);
    const side = sampleAt([0.2, 0, 0], [1, 0, 0], 0.1);
    const dabs = walk({}, [[...up, ...side]]);
    for (const { facing } of dabs) expect(Math.hypot(...facing!)).toBeCloseTo(1, 9);
    expect(walk({ nearSide: false }, [up])[0]!.facing).toBeNull();
  });
});

describe('a stroke as data', () => {
  it('is the same after storage: samples are rounded once, and rounding again changes nothing', () => {
    fc.assert(
      fc.property(fc.double({ min: -1e4, max: 1e4, noNaN: true }), (x) => {
        const once = roundSample(x);
        expect(roundSample(once)).toBe(once);
        expect(JSON.parse(JSON.stringify(once + 0))).toBe(once + 0);
        expect(Math.abs(once - x)).toBeLessThanOrEqual(Math.abs(x) * 1e-6);
      }),
    );
    expect(sample(0)).toHaveLength(SAMPLE_STRIDE);
  });

  it('is refused when it is none', () => {
    expect(
      strokeSchema.safeParse({ ...STYLE, keepAlpha: false, within: null, frame: 0, runs: [sample(0)] })
        .success,
    ).toBe(true);
    expect(
      strokeSchema.safeParse({ ...STYLE, keepAlpha: false, within: null, frame: 0, runs: [[NaN]] }).success,
    ).toBe(false);
    expect(
      strokeSchema.safeParse({ ...STYLE, keepAlpha: false, within: null, frame: 0, opacity: 2, runs: [] })
        .success,
    ).toBe(false);
    expect(
      strokeSchema.safeParse({ ...STYLE, keepAlpha: false, within: null, frame: 0, color: 'red', runs: [] })
        .success,
    ).toBe(false);
  });
});
