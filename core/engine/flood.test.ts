import { describe, expect, it } from 'vitest';
import { engineOn, LOCAL, PAINT } from '../../tests/engines';
import { ball, plate, seamedFloor } from '../../tests/shapes';
import { HARD, PLAIN_STROKE, sampleAt } from '../../tests/strokes';
import { codeAt, isCovered, texelIndex, TILE_TEXELS } from '../surface';
import { compositeSheet } from './pictures/flatten';
import type { Engine } from './engine';

const SIZE = 128;

/** A floor of one grey with a dark line across it, left to right, at a height of the model. */
function lined(z: number): Engine {
  const engine = engineOn(seamedFloor(), SIZE);
  const line = Array.from({ length: 21 }, (_, i) => sampleAt([-1 + i / 10, 0, z], [0, 1, 0], 0.12)).flat();
  engine.apply({
    do: 'stroke',
    layer: PAINT,
    stroke: { ...PLAIN_STROKE, color: '#101010', brush: HARD, opacity: 1, runs: [line] },
  });
  return engine;
}

/** The floor's left half runs from u 0.05 to 0.4, its right one from 0.6 to 0.95; z = 1 is v = 0.05, z = -1 is v = 0.75. */
const texelAt = (x: number, z: number): number => {
  const u = x < 0 ? 0.05 + 0.35 * (x + 1) : 0.6 + 0.35 * x;
  const v = 0.05 + 0.35 * (1 - z);
  return texelIndex(SIZE, Math.floor(u * SIZE), Math.floor((1 - v) * SIZE));
};
const isRed = (engine: Engine, x: number, z: number): boolean => {
  const { r, g, b } = engine.colorAt(texelAt(x, z));
  return r === 255 && g === 0 && b === 0;
};
const flood = (engine: Engine, x: number, z: number, more: object = {}) =>
  engine.apply({ do: 'flood', layer: PAINT, color: '#ff0000', texel: texelAt(x, z), tolerance: 5, ...more });

describe('a flood over like colours', () => {
  it('goes over the seam, and stops at the line', () => {
    const engine = lined(0);
    flood(engine, -0.6, 0.6);
    for (const x of [-0.9, -0.3, 0.3, 0.9]) {
      expect(isRed(engine, x, 0.8)).toBe(true);
      expect(isRed(engine, x, -0.6)).toBe(false);
      expect(engine.colorAt(texelAt(x, 0)).r).toBeLessThan(40);
    }
  });

  it('everywhere takes what lies beyond the line too', () => {
    const engine = lined(0);
    flood(engine, -0.6, 0.6, { everywhere: true });
    expect(isRed(engine, 0.5, -0.6)).toBe(true);
    expect(engine.colorAt(texelAt(0.5, 0)).r).toBeLessThan(40);
  });

  it('with a tolerance that spans both colours goes over the line', () => {
    const engine = lined(0);
    flood(engine, -0.6, 0.6, { tolerance: 100 });
    expect(isRed(engine, 0.5, -0.6)).toBe(true);
    expect(isRed(engine, 0.5, 0)).toBe(true);
  });

  it('leaves no unpainted border: gutter texels have it too', () => {
    const engine = lined(0);
    flood(engine, -0.6, 0.6);
    const { codes, slotOfTile } = engine.surface;
    let gutter = 0;
    for (let y = 86; y < 128; y++) {
      for (let x = 0; x < SIZE; x++) {
        const index = texelIndex(SIZE, x, y);
        const slot = slotOfTile[Math.floor(index / TILE_TEXELS)]!;
        const code = codes[slot * TILE_TEXELS + (index % TILE_TEXELS)]!;
        if (code < 0 || (code & 3) === 3) continue;
        gutter++;
        expect(engine.colorAt(index).g).toBe(0);
      }
    }
    expect(gutter).toBeGreaterThan(250);
  });

  it('is one step, begun on gutter too; on nothing it is refused', () => {
    const engine = lined(0);
    const before = compositeSheet(engine);
    engine.apply({
      do: 'flood',
      layer: PAINT,
      color: '#ff0000',
      texel: texelIndex(SIZE, 5, 110),
      tolerance: 5,
    });
    expect(isRed(engine, -0.5, 0.6)).toBe(true);
    engine.undo();
    expect(compositeSheet(engine)).toEqual(before);
    for (const texel of [texelIndex(SIZE, 64, 2), 1e9])
      expect(() =>
        engine.apply({ do: 'flood', layer: PAINT, color: '#ff0000', texel, tolerance: 5 }),
      ).toThrow(expect.objectContaining({ code: 'bad-argument' }));
    expect(() => flood(engine, 0, 0.5, { layer: LOCAL })).toThrow(
      expect.objectContaining({ code: 'bad-argument' }),
    );
  });

  it('keeps to what is painted where transparency is locked', () => {
    const engine = lined(0);
    engine.apply({ do: 'patch-layer', layer: PAINT, patch: { lock: 'transparent' } });
    flood(engine, -0.6, 0, { tolerance: 30 });
    expect(isRed(engine, -0.6, 0)).toBe(true);
    flood(engine, -0.6, 0.6);
    expect(isRed(engine, -0.6, 0.6)).toBe(false);
  });

  it('leaves alone parts that aren’t shown', () => {
    const engine = engineOn(plate(0.2, 'Under'), SIZE);
    const texel = [...Array(SIZE * SIZE).keys()].find((i) => isCovered(engine.surface, i))!;
    engine.apply({
      do: 'flood',
      layer: PAINT,
      color: '#ff0000',
      texel,
      tolerance: 5,
      everywhere: true,
      except: ['Under'],
    });
    const red = new Set<string>();
    for (let i = 0; i < SIZE * SIZE; i++) {
      if (!isCovered(engine.surface, i)) continue;
      const part = engine.mesh.parts[engine.mesh.faceParts[codeAt(engine.surface, i) >> 2]!]!;
      red.add(`${part} ${engine.colorAt(i).g === 0}`);
    }
    expect([...red].sort()).toEqual(['Plate true', 'Under false']);
  });

  it('goes all round a ball', () => {
    const engine = engineOn(ball(48, 24), SIZE);
    engine.apply({
      do: 'flood',
      layer: PAINT,
      color: '#ff0000',
      texel: texelIndex(SIZE, 4, 64),
      tolerance: 1,
    });
    let other = 0;
    for (let i = 0; i < SIZE * SIZE; i++)
      if (isCovered(engine.surface, i) && engine.colorAt(i).g !== 0) other++;
    expect(other).toBe(0);
  });
});
