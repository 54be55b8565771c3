import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ball, floor, plate, seamedFloor } from '../../tests/shapes';
import {
  isInsideRamp,
  placeOnRamp,
  rampBands,
  RampAssignments,
  splitSeated,
  wrongRamps,
  type ProjectRamps,
  type RampAssignment,
} from '.';

const RAMPS: ProjectRamps = {
  size: 64,
  lie: 'columns',
  shared: null,
  ramps: [
    { id: 10, name: 'Wood', colors: ['#3b2418', '#d9b37a'] },
    { id: 11, name: 'Iron', colors: ['#1c1c24', '#9aa2b0'] },
  ],
  seats: [],
};
const seat = (patch: Partial<RampAssignment> = {}): RampAssignment => ({
  id: 20,
  of: { part: 'Floor' },
  ramp: 10,
  run: { kind: 'straight', direction: [1, 0, 0] },
  from: 0,
  to: 1,
  rings: [],
  ...patch,
});
const none = (): readonly number[] => [];
/** Where along its ramp, 0..1, each corner of a triangle lies. */
const along = (uvs: Float32Array, face: number): number[] =>
  [0, 1, 2].map((c) => (uvs[face * 6 + c * 2 + 1]! * 64 - 0.5) / 63);

describe('what lies on a ramp', () => {
  it('runs straight from its lowest to its highest place, flipped where from and to are', () => {
    const mesh = floor(2);
    for (const [from, to] of [
      [0, 1],
      [1, 0],
      [0.25, 0.5],
    ] as const) {
      const { seatOf, uvs } = new RampAssignments(mesh).reckon(
        { ...RAMPS, seats: [seat({ from, to })] },
        none,
      );
      expect([...seatOf]).toEqual([0, 0]);
      for (let c = 0; c < 6; c++) {
        const t = (mesh.positions[mesh.indices[c]! * 3]! + 1) / 2;
        expect(along(uvs, Math.floor(c / 3))[c % 3]).toBeCloseTo(from + (to - from) * t, 5);
      }
    }
  });

  // On a ball seen from its lowest point the way over the surface is the polar angle, and the straight distance 2 r sin(t / 2).
  it('runs round a place by distance, and along the surface by the way over it', () => {
    const mesh = ball(64, 32, 1, [0, 0, 0]);
    const part = mesh.parts[0]!;
    const foot: [number, number, number] = [0, -1 / Math.sqrt(12), 0];
    const at = (run: RampAssignment['run']): { t: number; u: number }[] => {
      const { uvs } = new RampAssignments(mesh).reckon(
        { ...RAMPS, seats: [seat({ of: { part }, run })] },
        none,
      );
      return [...mesh.indices].map((v, c) => ({
        t: Math.acos(Math.max(-1, Math.min(1, -mesh.positions[v * 3 + 1]!))),
        u: (uvs[c * 2 + 1]! * 64 - 0.5) / 63,
      }));
    };
    for (const { t, u } of at({ kind: 'round', centre: foot })) expect(u).toBeCloseTo(Math.sin(t / 2), 2);
    for (const { t, u } of at({ kind: 'along', from: foot }))
      expect(Math.abs(u - t / Math.PI)).toBeLessThan(0.02);
  });

  it('never leaves its ramp, however it is slid, stretched or ringed', () => {
    const mesh = plate(0.5, 'Under');
    const far = fc.double({ min: -8, max: 8, noNaN: true });
    fc.assert(
      fc.property(far, far, fc.double({ min: -2, max: 2, noNaN: true }), (from, to, slid) => {
        const seats = [seat({ of: { part: 'Plate' }, ramp: 11, from, to, rings: [[0.4, slid]] })];
        const { seatOf, uvs } = new RampAssignments(mesh).reckon({ ...RAMPS, seats }, none);
        const bands = rampBands(2, 64);
        seatOf.forEach((s, f) => {
          if (s < 0) return;
          for (let c = 0; c < 3; c++) {
            const uv = [uvs[f * 6 + c * 2]!, uvs[f * 6 + c * 2 + 1]!] as const;
            expect(isInsideRamp(bands[1]!, uv, 64, 'columns')).toBe(true);
            expect(isInsideRamp(bands[0]!, uv, 64, 'columns')).toBe(false);
          }
        });
      }),
    );
  });

  it('a ring is slid by what is told, its neighbours by less, the ends not at all', () => {
    const rings: RampAssignment['rings'] = [[0.5, 0.3]];
    const at = (t: number): number => placeOnRamp({ from: 0, to: 1, rings }, t);
    expect([at(0), at(0.5), at(1)]).toEqual([0, expect.closeTo(0.8), 1]);
    expect(at(0.25)).toBeCloseTo(0.25 + 0.15);
    expect(at(0.75)).toBeCloseTo(0.75 + 0.15);
  });

  it('a region wins over its part, with a hard step along its border', () => {
    // Two squares that meet at x = 0; the right one is a region with a run of its own.
    const mesh = seamedFloor();
    const seats = [seat(), seat({ id: 21, of: { region: 5 }, ramp: 11, from: 1, to: 0 })];
    const { seatOf, uvs } = new RampAssignments(mesh).reckon({ ...RAMPS, seats }, (id) =>
      id === 5 ? [2, 3] : [],
    );
    expect([...seatOf]).toEqual([0, 0, 1, 1]);
    const { own, onRamps } = splitSeated(mesh, { seatOf, uvs });
    expect(own.indices.length).toBe(0);
    // At the place where both meet there are two vertices, at 0.5 of one ramp and at 1 of the other.
    const bands = rampBands(2, 64);
    const meeting = [...onRamps.indices].filter((v) => Math.abs(onRamps.positions[v * 3]!) < 1e-6);
    const places = new Set(meeting.map((v) => `${onRamps.uvs[v * 2]} ${onRamps.uvs[v * 2 + 1]}`));
    expect(places.size).toBe(2);
    const spans = meeting.map((v) => onRamps.uvs[v * 2]! * 64);
    expect(Math.min(...spans)).toBeLessThan(bands[0]!.to);
    expect(Math.max(...spans)).toBeGreaterThan(bands[1]!.from);
  });

  it('what isn’t seated stays on its sheet, triangle for triangle', () => {
    const mesh = plate(0.5, 'Under');
    const seated = new RampAssignments(mesh).reckon(
      { ...RAMPS, seats: [seat({ of: { part: 'Plate' } })] },
      none,
    );
    const { own, onRamps } = splitSeated(mesh, seated);
    expect(own.indices.length + onRamps.indices.length).toBe(mesh.indices.length);
    expect(new Set([...own.faceParts].map((p) => mesh.parts[p]))).toEqual(new Set(['Under']));
    expect(own.uvs).toEqual(mesh.uvs);
  });
});

describe('a project’s ramps', () => {
  it('are refused with too few, two of one name, or none for what lies on it', () => {
    expect(wrongRamps(RAMPS)).toBeNull();
    expect(wrongRamps({ ...RAMPS, ramps: RAMPS.ramps.slice(1) })).toMatch(/2 ramps or more/);
    const [wood, iron] = RAMPS.ramps;
    expect(wrongRamps({ ...RAMPS, ramps: [wood!, { ...iron!, name: 'Wood' }] })).toMatch(/called “Wood”/);
    expect(wrongRamps({ ...RAMPS, seats: [seat({ ramp: 99 })] })).toMatch(/number 99/);
    const many = Array.from({ length: 6 }, (_, i) => ({ ...wood!, id: i, name: `${i}` }));
    expect(wrongRamps({ ...RAMPS, size: 16, ramps: many })).toMatch(/don't fit on a sheet of 16/);
  });
});
