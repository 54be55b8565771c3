import { interpolate, rgb } from 'culori';
import { describe, expect, it } from 'vitest';
import { rampSchema, rampTable, type Ramp } from '.';

const ramp = (colors: string[], mixing: Ramp['mixing'] = 'oklab', hardness = 0): Ramp =>
  rampSchema.parse({
    stops: colors.map((color, i) => ({ at: i / (colors.length - 1), color })),
    mixing,
    hardness,
  });

/** Where colours of the two agree, in steps of 8 bit. */
function worst(of: Ramp, mode: 'oklab' | 'oklch'): number {
  const table = rampTable(of, 65);
  const oracle = interpolate(
    of.stops.map((s) => s.color),
    mode,
  );
  let most = 0;
  for (let i = 0; i < 65; i++) {
    const { r, g, b } = rgb(oracle(i / 64));
    [r, g, b].forEach((c, k) => {
      most = Math.max(most, Math.abs(Math.min(1, Math.max(0, c)) - table[i * 3 + k]!) * 255);
    });
  }
  return most;
}

// culori 4 (npm), an independent implementation of OKLab, OKLCH and of mixing in them.
describe('ramps against culori', () => {
  it('are mixed in OKLab as culori mixes', () => {
    expect(worst(ramp(['#2c1e3d', '#c0703c', '#fff2d0']), 'oklab')).toBeLessThan(0.6);
    expect(worst(ramp(['#000000', '#ffffff']), 'oklab')).toBeLessThan(0.6);
  });

  it('go the shorter way round in OKLCH, also past red, and take a grey’s hue from its neighbour', () => {
    expect(worst(ramp(['#c02060', '#d08020', '#60a040'], 'oklch'), 'oklch')).toBeLessThan(1);
    expect(worst(ramp(['#a02040', '#8030c0'], 'oklch'), 'oklch')).toBeLessThan(1);
    const grey = rampTable(ramp(['#202020', '#d06030'], 'oklch'), 5);
    // No detour through other hues: red stays over green, green over blue.
    for (let i = 1; i < 5; i++)
      expect(grey[i * 3]! > grey[i * 3 + 1]! && grey[i * 3 + 1]! > grey[i * 3 + 2]!).toBe(true);
  });
});

describe('ramps', () => {
  it('have a hard border halfway between stops where they are hard', () => {
    const table = rampTable(ramp(['#000000', '#ffffff'], 'oklab', 1), 101);
    expect(new Set(Array.from(table, (c) => Math.round(c * 255)))).toEqual(new Set([0, 255]));
    expect(table[49 * 3]).toBe(0);
    expect(Math.round(table[51 * 3]! * 255)).toBe(255);
  });

  it('go on before the first and after the last stop', () => {
    const inner = rampSchema.parse({
      stops: [
        { at: 0.4, color: '#ff0000' },
        { at: 0.6, color: '#0000ff' },
      ],
      mixing: 'oklab',
      hardness: 0,
    });
    const table = rampTable(inner, 11);
    expect([...table.slice(0, 3)].map((c) => Math.round(c * 255))).toEqual([255, 0, 0]);
    expect([...table.slice(30)].map((c) => Math.round(c * 255))).toEqual([0, 0, 255]);
  });

  it('refuse stops out of order, and fewer than two', () => {
    const stops = [
      { at: 0.6, color: '#ff0000' },
      { at: 0.4, color: '#0000ff' },
    ];
    expect(rampSchema.safeParse({ stops, mixing: 'oklab', hardness: 0 }).success).toBe(false);
    expect(rampSchema.safeParse({ stops: stops.slice(1), mixing: 'oklab', hardness: 0 }).success).toBe(false);
  });
});
