import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { floor, plate } from '../../../tests/shapes';
import { placeOnRamp, type RampAssignment } from '../../../core/ramps';
import { extentOf, isFlatRun, placeAlong, rampEnds, runBetween } from './run-geometry';

const seat = (patch: Partial<RampAssignment> = {}): RampAssignment => ({
  id: 1,
  of: { part: 'Floor' },
  ramp: 0,
  run: { kind: 'straight', direction: [1, 0, 0] },
  from: 0,
  to: 1,
  rings: [],
  ...patch,
});

describe('the handles of a run', () => {
  it('stand where the ramp has its first and its last colour, and a run between two places has them there', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -1, max: 1, noNaN: true }),
        fc.double({ min: 0.25, max: 2, noNaN: true }),
        fc.boolean(),
        (first, length, isFlipped) => {
          const last = isFlipped ? first - length : first + length;
          const run = { ...runBetween(first, last), rings: [] };
          expect(placeOnRamp(run, first)).toBeCloseTo(0, 1);
          expect(placeOnRamp(run, last)).toBeCloseTo(1, 1);
          const [a, b] = rampEnds(run);
          expect(a).toBeCloseTo(first, 2);
          expect(b).toBeCloseTo(last, 2);
        },
      ),
    );
  });

  it('have places also where the run has one colour only, or its ends lie far away', () => {
    expect(rampEnds({ from: 0.4, to: 0.4 })).toEqual([0, 1]);
    for (const t of rampEnds({ from: 0.5, to: 0.501 })) expect(Math.abs(t)).toBeLessThanOrEqual(4);
    // Two handles on one place would be a run of no length.
    const { from, to } = runBetween(0.3, 0.3);
    expect(Math.abs(to - from)).toBeLessThanOrEqual(8);
  });

  it('lie on a line through the middle of what lies on the ramp', () => {
    const mesh = floor(2);
    const extent = extentOf(mesh, seat(), [], [1, 0, 0])!;
    expect([extent.low, extent.high]).toEqual([-1, 1]);
    expect(placeAlong(extent, [1, 0, 0], 0)).toEqual([-1, 0, 0]);
    expect(placeAlong(extent, [1, 0, 0], 0.75)).toEqual([0.5, 0, 0]);
    expect(extentOf(mesh, seat({ of: { region: 9 } }), [], [1, 0, 0])).toBeNull();
  });

  it('tell what has no extent along its run', () => {
    const up = { kind: 'straight' as const, direction: [0, 1, 0] as [number, number, number] };
    expect(isFlatRun(floor(2), seat({ run: up }), [])).toBe(true);
    expect(isFlatRun(floor(2), seat(), [])).toBe(false);
    expect(isFlatRun(floor(2), seat({ run: { kind: 'round', centre: [0, 0, 0] } }), [])).toBe(false);
    expect(isFlatRun(plate(0.5, 'Under'), seat({ of: { part: 'Plate' }, run: up }), [])).toBe(true);
  });
});
