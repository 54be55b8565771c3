import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { plate, seamedFloor } from '../../tests/shapes';
import { hexToRgb } from '../color';
import { CoreError } from '../errors';
import {
  isInsideRamp,
  onRamp,
  putOnRamps,
  rampBands,
  rampPicture,
  rampSheetSchema,
  RAMP_SIZES,
  type RampMapping,
  type RampSheet,
} from '.';

const SHEET: RampSheet = {
  ramps: [
    { name: 'Wood', colors: ['#3b2418', '#8a5a33', '#d9b37a'] },
    { name: 'Iron', colors: ['#1c1c24', '#9aa2b0'] },
    { name: 'Leaf', colors: ['#0f2a12', '#2f7a2a', '#9bd35a', '#f2ffd0'] },
  ],
  lie: 'columns',
};

const up: RampMapping = { ramp: 'Wood', direction: [0, 1, 0], from: 0, to: 1 };

describe('a ramp sheet', () => {
  it('has every ramp’s colours where they belong, columns from below, rows from the left', () => {
    for (const lie of ['columns', 'rows'] as const) {
      const { width, rgba } = rampPicture({ ...SHEET, lie }, 64);
      const bands = rampBands(3, 64);
      SHEET.ramps.forEach(({ colors }, i) => {
        for (const [at, color] of [
          [0, colors[0]!],
          [1, colors.at(-1)!],
        ] as const) {
          const [u, v] = onRamp(bands[i]!, at, 64, lie);
          const o = (Math.floor((1 - v) * 64) * width + Math.floor(u * 64)) * 4;
          const { r, g, b } = hexToRgb(color);
          expect([...rgba.subarray(o, o + 4)]).toEqual([r, g, b, 255]);
        }
      });
    }
  });

  it('shares the texels out so that each is in one ramp, and none is narrower than its guard needs', () => {
    fc.assert(
      fc.property(fc.constantFrom(...RAMP_SIZES), fc.integer({ min: 2, max: 64 }), (size, count) => {
        if (count > Math.floor(size / 3)) {
          expect(() => rampBands(count, size)).toThrow(/don't fit on a sheet/);
          return;
        }
        const bands = rampBands(count, size);
        expect(bands[0]!.from).toBe(0);
        expect(bands.at(-1)!.to).toBe(size - 1);
        bands.forEach(({ from, to }, i) => {
          expect(to - from).toBeGreaterThanOrEqual(2);
          if (i > 0) expect(from).toBe(bands[i - 1]!.to + 1);
          for (const at of [0, 0.31, 1]) {
            for (const lie of ['columns', 'rows'] as const) {
              const place = onRamp({ from, to }, at, size, lie);
              expect(isInsideRamp({ from, to }, place, size, lie)).toBe(true);
              const next = bands[i + 1];
              if (next) expect(isInsideRamp(next, place, size, lie)).toBe(false);
            }
          }
        });
      }),
    );
  });

  it('is refused with one colour, one ramp or two of one name', () => {
    const told = (sheet: object): string | undefined =>
      rampSheetSchema.safeParse(sheet).error?.issues[0]?.message;
    const [wood, iron] = SHEET.ramps;
    expect(told({ ramps: [wood, { name: 'Flat', colors: ['#000000'] }] })).toMatch(/two colours or more/);
    expect(told({ ramps: [wood] })).toMatch(/two ramps or more/);
    expect(told({ ramps: [iron, iron] })).toMatch(/one name/);
  });
});

describe('parts on ramps', () => {
  const mesh = plate(0.5, 'Under');
  const along = { ...up, direction: [1, 0, 0] } as RampMapping;

  it('run from their lowest to their highest place along the direction', () => {
    const runs = new Map([
      ['Plate', along],
      ['Under', { ...along, ramp: 'Leaf', from: 0.75, to: 0.25 }],
    ]);
    const put = putOnRamps(mesh, SHEET, 64, runs);
    expect(put.parts).toEqual([
      { name: 'Plate', ramp: 'Wood', inside: true },
      { name: 'Under', ramp: 'Leaf', inside: true },
    ]);
    const bands = rampBands(3, 64);
    put.mesh.indices.forEach((v, c) => {
      const part = put.mesh.faceParts[Math.floor(c / 3)]!;
      const t = (put.mesh.positions[v * 3]! + 1) / 2;
      const wanted =
        part === 0 ? onRamp(bands[0]!, t, 64, 'columns') : onRamp(bands[2]!, 0.75 - t / 2, 64, 'columns');
      expect(put.mesh.uvs[v * 2]).toBeCloseTo(wanted[0], 6);
      expect(put.mesh.uvs[v * 2 + 1]).toBeCloseTo(wanted[1], 6);
    });
  });

  it('that share vertices are parted', () => {
    const joined = { ...seamedFloor(), parts: ['Left', 'Right'], faceParts: Uint16Array.from([0, 0, 1, 1]) };
    // Both squares on the same four vertices.
    const shared = {
      ...joined,
      indices: Uint32Array.from([...joined.indices.slice(0, 6), ...joined.indices.slice(0, 6)]),
    };
    const put = putOnRamps(
      shared,
      SHEET,
      16,
      new Map([
        ['Left', along],
        ['Right', { ...along, ramp: 'Iron' }],
      ]),
    );
    expect(put.mesh.positions.length / 3).toBe(8);
    expect(put.parts.every((part) => part.inside)).toBe(true);
  });

  it('what can’t be done is told with the part’s or the ramp’s name', () => {
    const both = (run: RampMapping): Map<string, RampMapping> =>
      new Map([
        ['Plate', run],
        ['Under', run],
      ]);
    const cases: [ReadonlyMap<string, RampMapping>, RegExp][] = [
      [both(up), /“Plate” has no extent along 0, 1, 0/],
      [both({ ...along, ramp: 'Gold' }), /“Gold”, which isn't there\. There are: Wood, Iron, Leaf/],
      [new Map([['Plate', along]]), /“Under” is on no ramp yet/],
      [new Map([...both(along), ['Lid', along]]), /no part called “Lid”/],
    ];
    for (const [runs, words] of cases) {
      expect(() => putOnRamps(mesh, SHEET, 64, runs)).toThrow(words);
      expect(() => putOnRamps(mesh, SHEET, 64, runs)).toThrow(CoreError);
    }
  });
});
