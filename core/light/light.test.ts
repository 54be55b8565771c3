import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DEFAULT_LIGHT_PLAN, lightAt, lightPlan, prepareLight, type LightPlan } from '.';

const BLACK = { color: '#000000', strength: 0 };
const keyOnly = (wrap: number): LightPlan => ({
  key: { direction: [0, 2, 0], color: '#ffffff', strength: 1, wrap },
  sky: BLACK,
  ground: BLACK,
});

/** Light on a surface tilted by `degrees` from facing the key. */
function lit(plan: LightPlan, degrees: number): number {
  const out = [0, 0, 0];
  const t = (degrees * Math.PI) / 180;
  lightAt(prepareLight(plan), Math.sin(t), Math.cos(t), 0, out, 0);
  return out[0]!;
}

describe('the key light', () => {
  // Lambert's cosine law.
  it('without wrap falls off as the cosine and ends where the surface turns away', () => {
    for (const t of [0, 30, 45, 60, 89])
      expect(lit(keyOnly(0), t)).toBe(Math.round(Math.cos((t * Math.PI) / 180) * 255));
    expect(lit(keyOnly(0), 90)).toBe(0);
    expect(lit(keyOnly(0), 140)).toBe(0);
  });

  it('with full wrap reaches round to the very back', () => {
    expect(lit(keyOnly(1), 0)).toBe(255);
    expect(lit(keyOnly(1), 90)).toBe(128);
    expect(lit(keyOnly(1), 179)).toBeLessThan(2);
  });

  it('never grows when the surface turns away', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 175, noNaN: true }),
        (wrap, t) => {
          expect(lit(keyOnly(wrap), t + 5)).toBeLessThanOrEqual(lit(keyOnly(wrap), t));
        },
      ),
    );
  });
});

describe('sky and ground', () => {
  // Liu and Jordan 1963: the sky's part of a plane tilted by t is (1 + cos t) / 2, the ground's (1 - cos t) / 2.
  it('share a tilted plane as Liu and Jordan say', () => {
    const plan: LightPlan = {
      key: { direction: [0, 1, 0], color: '#000000', strength: 0, wrap: 0 },
      sky: { color: '#ffffff', strength: 1 },
      ground: BLACK,
    };
    for (const t of [0, 30, 90, 120, 180]) {
      expect(lit(plan, t)).toBe(Math.floor(((1 + Math.cos((t * Math.PI) / 180)) / 2) * 255 + 0.5));
    }
  });

  it('add up, and stop at white', () => {
    const plan: LightPlan = {
      key: { direction: [0, 1, 0], color: '#ffffff', strength: 2, wrap: 0 },
      sky: { color: '#ffffff', strength: 2 },
      ground: { color: '#ffffff', strength: 2 },
    };
    expect(lit(plan, 0)).toBe(255);
    expect(lit(plan, 180)).toBe(255);
  });

  it('each channel has its own', () => {
    const out = [9, 9, 9, 9];
    const plan = {
      ...keyOnly(0),
      sky: { color: '#804020', strength: 1 },
      key: { ...keyOnly(0).key, strength: 0 },
    };
    lightAt(prepareLight(plan), 0, 1, 0, out, 1);
    expect(out).toEqual([9, 128, 64, 32]);
  });
});

describe('a light plan', () => {
  it('is checked at the door', () => {
    expect(lightPlan.safeParse(DEFAULT_LIGHT_PLAN).success).toBe(true);
    expect(lightPlan.safeParse({ ...DEFAULT_LIGHT_PLAN, sky: { color: '#fff', strength: 1 } }).success).toBe(
      false,
    );
    expect(lightPlan.safeParse({ ...DEFAULT_LIGHT_PLAN, moon: 1 }).success).toBe(false);
  });
});
