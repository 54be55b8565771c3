import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ball, floor, quads } from '../../tests/shapes';
import type { z } from 'zod';
import {
  calmNormals,
  DEFAULT_LIGHT_PLAN,
  fitStandIn,
  lightAt,
  lightPlan,
  patchedPlan,
  planWithoutRegion,
  prepareLight,
  standInNormal,
  stepped,
  toneSteps,
  type LightPlan,
  type LightSurroundings,
  type StandIn,
} from '.';

const BLACK = { color: '#000000', strength: 0 };
const WHITE = { color: '#ffffff', strength: 1 };
const HERE = { x: 0, y: 0, z: 0, slope: 0, texel: 1, seen: 1 };
const OPEN: LightSurroundings = { seen: 1, ridge: 0, below: null };
const planOf = (plan: Partial<z.input<typeof lightPlan>>): LightPlan =>
  lightPlan.parse({ key: { direction: [0, 1, 0], ...BLACK, wrap: 0 }, sky: BLACK, ground: BLACK, ...plan });
const keyOnly = (wrap: number, more: object = {}): LightPlan =>
  planOf({ key: { direction: [0, 2, 0], ...WHITE, wrap, ...more } });

/** Light on a surface tilted by `degrees` from facing up. */
function lit(plan: LightPlan, degrees: number, around = OPEN): number {
  const out = [0, 0, 0];
  const t = (degrees * Math.PI) / 180;
  lightAt(prepareLight(plan), Math.sin(t), Math.cos(t), 0, around, out);
  return out[0]!;
}

describe('the key light', () => {
  // Lambert's cosine law.
  it('without wrap falls off as the cosine and ends where the surface turns away', () => {
    for (const t of [0, 30, 45, 60, 89])
      expect(lit(keyOnly(0), t)).toBeCloseTo(Math.cos((t * Math.PI) / 180), 6);
    expect(lit(keyOnly(0), 90)).toBeCloseTo(0, 9);
    expect(lit(keyOnly(0), 140)).toBe(0);
  });

  it('with full wrap reaches round to the very back', () => {
    expect(lit(keyOnly(1), 0)).toBe(1);
    expect(lit(keyOnly(1), 90)).toBeCloseTo(0.5);
    expect(lit(keyOnly(1), 179)).toBeLessThan(0.01);
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

  it('is kept off where it is not seen, as strongly as the plan says, and leaves its tint there', () => {
    const hidden = { seen: 0, ridge: 0, below: null };
    expect(lit(keyOnly(0, { shadow: 1 }), 0, hidden)).toBe(0);
    expect(lit(keyOnly(0, { shadow: 0.4 }), 0, hidden)).toBeCloseTo(0.6);
    expect(lit(keyOnly(0, { shadow: 1, tint: '#330000' }), 0, hidden)).toBeCloseTo(0.2);
    expect(lit(keyOnly(0, { shadow: 1 }), 0, { seen: 0.5, ridge: 0, below: null })).toBeCloseTo(0.5);
  });
});

describe('sky, horizon and ground', () => {
  // Liu and Jordan 1963: the sky's part of a plane tilted by t is (1 + cos t) / 2, the ground's (1 - cos t) / 2.
  it('share a tilted plane as Liu and Jordan say', () => {
    for (const t of [0, 30, 90, 120, 180]) {
      expect(lit(planOf({ sky: WHITE }), t)).toBeCloseTo((1 + Math.cos((t * Math.PI) / 180)) / 2, 6);
      expect(lit(planOf({ ground: WHITE }), t)).toBeCloseTo((1 - Math.cos((t * Math.PI) / 180)) / 2, 6);
    }
  });

  it('the horizon is what a wall sees, a floor sees nothing of it', () => {
    const plan = planOf({ sky: { color: '#000000', strength: 1 }, horizon: WHITE });
    expect(lit(plan, 90)).toBeCloseTo(1);
    expect(lit(plan, 0)).toBe(0);
    expect(lit(plan, 180)).toBe(0);
  });

  it('each channel has its own', () => {
    const out = [9, 9, 9];
    lightAt(prepareLight(planOf({ sky: { color: '#804020', strength: 1 } })), 0, 1, 0, OPEN, out);
    expect(out.map((c) => Math.round(c * 255))).toEqual([128, 64, 32]);
  });
});

describe('other lights', () => {
  it('add to the key, each with its own wrap', () => {
    const plan = planOf({ lights: [{ direction: [0, -1, 0], ...WHITE, strength: 0.5, wrap: 0 }] });
    expect(lit(plan, 180)).toBeCloseTo(0.5);
    expect(lit(plan, 0)).toBe(0);
  });

  it('a rim from behind lies where the form turns to it, one of the view where it turns away from the eye', () => {
    const rim = {
      ...WHITE,
      direction: [0, 1, 0] as [number, number, number],
      ofView: false,
      width: 0.3,
      edge: 0,
    };
    expect(lit(planOf({ rim }), 0)).toBeCloseTo(1);
    expect(lit(planOf({ rim }), 60)).toBe(0);
    const ofView = planOf({ rim: { ...rim, ofView: true } });
    expect(lit(ofView, 0)).toBe(0);
    expect(lit(ofView, 89)).toBeCloseTo(1);
    expect(lit(ofView, 150)).toBeCloseTo(1);
  });
});

describe('polish', () => {
  const metal = (crispness: number): LightPlan =>
    planOf({
      key: { direction: [0, 1, 0], ...WHITE, wrap: 0 },
      sky: { color: '#ffffff', strength: 0.5 },
      ground: { color: '#000000', strength: 1 },
      polish: { amount: 1, crispness, highlight: 1, edges: 0 },
    });

  it('mirrors the sky in what looks half up, and the ground in what looks half down', () => {
    const matte = { ...metal(1), polish: { ...metal(1).polish, highlight: 0 } };
    expect(lit(matte, 45)).toBeGreaterThan(lit(matte, 135) + 0.5);
    // An eye before the place sees a key overhead mirrored at half the angle.
    expect(lit(metal(1), 45)).toBeGreaterThan(lit(matte, 45) + 0.9);
    expect(lit(metal(1), 70)).toBeCloseTo(lit(matte, 70), 6);
  });

  it('has a highlight that is the narrower the crisper it is', () => {
    const wide = (plan: LightPlan): number => {
      const bare = { ...plan, polish: { ...plan.polish, highlight: 0 } };
      let n = 0;
      for (let t = 1; t < 90; t++) if (lit(plan, t) > lit(bare, t) + 0.05) n++;
      return n;
    };
    expect(wide(metal(1))).toBeLessThan(wide(metal(0.5)));
    expect(wide(metal(0.5))).toBeLessThan(wide(metal(0)));
  });
});

describe('tones', () => {
  it('are as many as the plan says, from dark to light', () => {
    for (const count of [2, 3, 6]) {
      const seen = new Set(
        Array.from({ length: 400 }, (_, i) => stepped((i + 0.5) / 400, count, 0).toFixed(6)),
      );
      expect(seen.size).toBe(count);
      expect([stepped(0, count, 0), stepped(1, count, 0)]).toEqual([0, 1]);
    }
  });

  it('meet in borders as wide as the edge', () => {
    const between = Array.from({ length: 1001 }, (_, i) => stepped(i / 1000, 2, 0.2)).filter(
      (t) => t > 0 && t < 1,
    );
    expect(between.length / 1000).toBeCloseTo(0.1, 2);
  });

  it('take their colours from the part’s ramp, or keep those of the light', () => {
    const stops = [
      { at: 0, color: '#200040' },
      { at: 1, color: '#ffe0a0' },
    ];
    const steps = {
      count: 2,
      edge: 0,
      ramp: null,
      ramps: [['Coat', { stops, mixing: 'oklab', hardness: 0 }]],
    } as const;
    const tone = toneSteps(
      {
        ...steps,
        line: null,
        shadow: null,
        ramps: steps.ramps.map(([p, r]) => [p, { ...r, stops: [...r.stops] }]),
      },
      1,
    );
    const coat = [0.1, 0.1, 0.1];
    tone(coat, 'Coat', HERE);
    expect(coat.map((c) => Math.round(c * 255))).toEqual([0x20, 0, 0x40]);
    const scarf = [0.9, 0.6, 0.6];
    tone(scarf, 'Scarf', HERE);
    expect(scarf[0]! / scarf[1]!).toBeCloseTo(1.5);
    expect(0.2126 * scarf[0]! + 0.7152 * scarf[1]! + 0.0722 * scarf[2]!).toBeCloseTo(1);
  });
});

describe('stand-ins', () => {
  const standIn = (patch: Partial<StandIn>): StandIn => ({
    of: { part: 'Ball' },
    solid: 'ellipsoid',
    centre: [0, 0, 0],
    turn: [0, 0, 0, 1],
    half: [0.2, 0.2, 0.2],
    blend: 1,
    ...patch,
  });
  const mesh = ball(24, 12);
  const normal = (s: StandIn, at: [number, number, number]): number[] => {
    const out = [0, 0, 0];
    standInNormal(s, mesh)(...at, out);
    return out;
  };

  it('a round one has the normals of a ball, a long one those of an ellipsoid: x/a², y/b², z/c²', () => {
    expect(normal(standIn({}), [0.6, 0.8, 0])).toEqual([
      expect.closeTo(0.6),
      expect.closeTo(0.8),
      expect.closeTo(0),
    ]);
    const [x, y] = normal(standIn({ half: [0.1, 0.4, 0.1] }), [1, 1, 0]);
    expect(x! / y!).toBeCloseTo(16);
  });

  it('a capsule is level along its straight part and round at its ends; a box is flat but at its edges', () => {
    const capsule = standIn({ solid: 'capsule', half: [0.1, 0.5, 0.1] });
    expect(normal(capsule, [0.3, 0.5, 0])).toEqual([expect.closeTo(1), expect.closeTo(0), expect.closeTo(0)]);
    expect(normal(capsule, [0, 1.9, 0])[1]).toBeCloseTo(1);
    const box = normal(standIn({ solid: 'box' }), [0.6, 0.3, 0.2]);
    expect(box[0]).toBeGreaterThan(0.98);
  });

  it('are laid about a part along its main directions, with its extent', () => {
    // A bar of 4 x 1 x 0.5, turned by 30° about z.
    const [c, s] = [Math.cos(Math.PI / 6), Math.sin(Math.PI / 6)];
    const bar = ball(24, 12);
    const positions = bar.positions.map((_, i) => {
      const [x, y, z] = [
        bar.positions[i - (i % 3)]! * 2,
        bar.positions[i - (i % 3) + 1]! * 0.5,
        bar.positions[i - (i % 3) + 2]! * 0.25,
      ];
      return [x * c - y * s, x * s + y * c, z][i % 3]!;
    });
    const turned = { ...bar, positions };
    const all = [...bar.faceParts.keys()];
    const fit = fitStandIn(turned, all);
    const diagonal = Math.hypot(
      ...[0, 1, 2].map((k) => {
        const along = positions.filter((_, i) => i % 3 === k);
        return Math.max(...along) - Math.min(...along);
      }),
    );
    expect(fit.half.map((h) => h * diagonal)).toEqual([
      expect.closeTo(0.5, 1),
      expect.closeTo(2, 1),
      expect.closeTo(0.25, 1),
    ]);
    // Its own y lies along the bar.
    const [x, y, z, w] = fit.turn;
    const along = [2 * (x * y - z * w), 1 - 2 * (x * x + z * z)];
    expect(Math.abs(along[0]! * c + along[1]! * s)).toBeGreaterThan(0.99);
  });

  it('can’t be laid about nothing', () => {
    expect(() => fitStandIn(floor(), [])).toThrow(expect.objectContaining({ code: 'bad-argument' }));
  });
});

describe('calm normals', () => {
  it('even out a roof’s edge and leave a plane and a ball as they are', () => {
    const roof = quads([
      {
        part: 'Roof',
        corners: [
          [-1, 0, 1],
          [0, 1, 1],
          [0, 1, -1],
          [-1, 0, -1],
        ],
        place: [0, 0, 0.4, 1],
      },
      {
        part: 'Roof',
        corners: [
          [0, 1, 1],
          [1, 0, 1],
          [1, 0, -1],
          [0, 1, -1],
        ],
        place: [0.5, 0, 0.9, 1],
      },
    ]);
    const calm = calmNormals(roof, 0.5);
    // At the ridge both sides have one normal, and it looks up.
    const ridge = [...roof.positions.keys()].filter((i) => i % 3 === 1 && roof.positions[i] === 1);
    for (const i of ridge) expect(calm[i]).toBeGreaterThan(roof.normals[i]!);
    const plane = floor();
    expect([...calmNormals(plane, 1)]).toEqual([...plane.normals]);
    const round = ball(32, 16);
    const still = calmNormals(round, 0.2);
    // This ball is cut open where its columns begin, and at its poles.
    const off = still.reduce((most, x, i) => {
      const y = round.positions[i - (i % 3) + 1]!;
      return Math.abs(y) > 0.8 ? most : Math.max(most, Math.abs(x - round.normals[i]!));
    }, 0);
    expect(off).toBeLessThan(0.15);
    expect(calmNormals(round, 0)).toBe(round.normals);
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

  it('of an older project gets what that had none of, so that it looks as before', () => {
    const { key, sky, ground } = DEFAULT_LIGHT_PLAN;
    const { direction, color, strength, wrap } = key;
    const old = lightPlan.parse({ key: { direction, color, strength, wrap }, sky, ground });
    expect(old).toEqual(DEFAULT_LIGHT_PLAN);
    expect(old.key.shadow + old.rim.strength + old.polish.amount + old.horizon.strength + old.calm).toBe(0);
  });

  it('changes only what a patch names', () => {
    const next = patchedPlan(DEFAULT_LIGHT_PLAN, { key: { shadow: 0.5 }, calm: 0.02 });
    expect(next).toEqual({
      ...DEFAULT_LIGHT_PLAN,
      calm: 0.02,
      key: { ...DEFAULT_LIGHT_PLAN.key, shadow: 0.5 },
    });
    const steps = { count: 3, edge: 0.1, ramp: null, ramps: [], line: null, shadow: null };
    expect(patchedPlan(next, { steps }).steps).toEqual(steps);
    expect(patchedPlan(patchedPlan(next, { steps }), { steps: null }).steps).toBeNull();
  });

  it('lets go of the stand-ins of a region that goes', () => {
    const mine: StandIn = {
      of: { region: 3 },
      solid: 'box',
      centre: [0, 0, 0],
      turn: [0, 0, 0, 1],
      half: [1, 1, 1],
      blend: 1,
    };
    const plan = { ...DEFAULT_LIGHT_PLAN, standIns: [mine, { ...mine, of: { part: 'Head' } }] };
    expect(planWithoutRegion(plan, 3).standIns).toHaveLength(1);
    expect(planWithoutRegion(plan, 4)).toBe(plan);
  });
});
