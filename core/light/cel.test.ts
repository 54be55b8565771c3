import { describe, expect, it } from 'vitest';
import { ball } from '../../tests/shapes';
import { lightPlan, lightSlopes, toneSteps, type LightPlan } from '.';

const BLACK = { color: '#000000', strength: 0 };
/** The light is 1 at the right, 0 at the left, along x. */
const steps = (more: object = {}): NonNullable<LightPlan['steps']> =>
  lightPlan.parse({
    key: { direction: [1, 0, 0], color: '#ffffff', strength: 1, wrap: 0 },
    sky: BLACK,
    ground: BLACK,
    steps: { count: 2, edge: 0, ramp: null, ramps: [], ...more },
  }).steps!;
const LINE = { waver: 0, scale: 0.1, width: 0.04, strength: 1, color: '#ff0000', seed: 3 };

/** Tones along a row of texels over which the light rises from 0 to 1 on a length of 1. */
function row(plan: NonNullable<LightPlan['steps']>, count = 400, z = 0): number[][] {
  const tone = toneSteps(plan, 1);
  return Array.from({ length: count }, (_, i) => {
    const x = (i + 0.5) / count;
    const light = [x, x, x];
    tone(light, '', { x, y: 0, z, slope: 1, texel: 1 / count, seen: 1 });
    return light;
  });
}
const isRed = (c: number[]): boolean => c[0]! > 0.99 && c[1]! < 0.01;
/** Where the lighter tone begins. */
const borderOf = (tones: number[][]): number => tones.findIndex((c) => c[1]! > 0.5) / tones.length;

describe('borders drawn like a line', () => {
  it('are sharp to one texel where no edge is wanted', () => {
    const tones = row(steps({ line: { ...LINE, width: 0 } }));
    expect(borderOf(tones)).toBeCloseTo(0.5, 2);
    expect(tones.filter((c) => c[1]! > 0.01 && c[1]! < 0.99).length).toBeLessThanOrEqual(1);
  });

  it('have an edge on the darker side, as wide on a steep light as on a flat one', () => {
    for (const slope of [0.5, 1, 4]) {
      const tone = toneSteps(steps({ line: LINE }), 1);
      const covered = Array.from({ length: 4000 }, (_, i) => {
        const distance = (i - 2000) / 4000;
        const v = 0.5 + distance * slope;
        const light = [v, v, v];
        tone(light, '', { x: 0, y: 0, z: 0, slope, texel: 1 / 4000, seen: 1 });
        return { distance, red: isRed(light) };
      }).filter((t) => t.red);
      // Its width wavers by 45 % at the most.
      expect(covered.length / 4000).toBeGreaterThan(0.04 * 0.5);
      expect(covered.length / 4000).toBeLessThan(0.04 * 1.5);
      expect(Math.max(...covered.map((t) => t.distance))).toBeLessThanOrEqual(0);
    }
  });

  it('waver by no more than the plan says, each seed its own way, and the same seed the same', () => {
    const borders = (seed: number): number[] =>
      Array.from({ length: 60 }, (_, k) =>
        borderOf(row(steps({ line: { ...LINE, width: 0, waver: 0.5, seed } }), 400, k * 0.03)),
      );
    const one = borders(1);
    expect(Math.max(...one) - Math.min(...one)).toBeGreaterThan(0.02);
    for (const b of one) expect(Math.abs(b - 0.5)).toBeLessThanOrEqual(0.5 * 0.1 + 0.005);
    expect(borders(1)).toEqual(one);
    expect(borders(2)).not.toEqual(one);
  });

  it('an edge without a colour is darker and more saturated than its tone', () => {
    const tone = toneSteps(steps({ count: 3, line: { ...LINE, color: null } }), 1);
    const at = { x: 0, y: 0, z: 0, slope: 1, texel: 1e-3, seen: 1 };
    // In the middle of three tones, once well inside of it and once just below the border to the lightest.
    const [inside, turn] = [0.5, 0.66].map((v) => {
      const light = [v * 1.2, v, v * 0.7];
      const k = v / (0.2126 * light[0]! + 0.7152 * light[1]! + 0.0722 * light[2]!);
      const scaled = light.map((c) => c * k);
      tone(scaled, '', at);
      return scaled;
    }) as [number[], number[]];
    expect(turn[1]!).toBeLessThan(inside[1]!);
    expect(turn[0]! / turn[2]!).toBeGreaterThan(inside[0]! / inside[2]!);
  });
});

describe('the cast shadow as a tone of its own', () => {
  const plan = steps({ shadow: '#404080' });
  const at = (v: number, seen: number): number[] => {
    const light = [v, v, v];
    toneSteps(plan, 1)(light, '', { x: 0, y: 0, z: 0, slope: 1, texel: 1e-3, seen });
    return light.map((c) => Math.round(c * 255));
  };

  it('lies flat over what the key would reach, and leaves what is darker of itself', () => {
    expect(at(0.9, 0)).toEqual([0x40, 0x40, 0x80]);
    expect(at(0.6, 0)).toEqual([0x40, 0x40, 0x80]);
    expect(at(0.9, 1)).toEqual([255, 255, 255]);
    expect(at(0.2, 0)).toEqual([0, 0, 0]);
  });
});

describe('how fast the light falls off', () => {
  // Lambert's cosine on a ball of radius r lit from above: its slope along the surface is sin(t) / r.
  it('is sin t / r on a ball', () => {
    for (const radius of [1, 2]) {
      const mesh = ball(96, 48, radius, [0, 0, 0]);
      const plan = lightPlan.parse({
        key: { direction: [0, 1, 0], color: '#ffffff', strength: 1, wrap: 0 },
        sky: BLACK,
        ground: BLACK,
      });
      const slopes = lightSlopes(mesh, plan, mesh.normals);
      for (let v = 0; v < slopes.length; v += 7) {
        const t = Math.acos(mesh.positions[v * 3 + 1]! / radius);
        if (t < 0.2 || t > Math.PI / 2 - 0.1) continue;
        expect(slopes[v]!).toBeCloseTo(Math.sin(t) / radius, 1);
      }
    }
  });
});
