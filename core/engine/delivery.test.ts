import { describe, expect, it } from 'vitest';
import { expanded } from '../../tests/expanded';
import { seamedFloor } from '../../tests/shapes';
import { toRows } from '../surface';
import { compositeSheet, flattenAlbedo } from './pictures/flatten';
import { LOCAL, PAINT, watchedEngine } from '../../tests/engines';
import { line, SOFT_STROKE } from '../../tests/strokes';

/** A bleed longer than the gutter starts from the gutter's end. */
const GUTTER_ROOM = 9;

describe('delivery', () => {
  it('delivers every covered texel as it is stored and fills the rest of the sheet', () => {
    const { engine } = watchedEngine(seamedFloor());
    engine.apply({
      do: 'stroke',
      layer: PAINT,
      stroke: { ...SOFT_STROKE, runs: [line([-0.6, 0, 0], [0.6, 0, 0], 0.2)] },
    });
    const stored = compositeSheet(engine);
    const picture = flattenAlbedo(engine, { size: 128, bleed: Infinity });
    const covered = toRows(128, expanded(engine.surface).covered, new Uint8Array(128 * 128));
    const words = (bytes: Uint8Array): Uint32Array =>
      new Uint32Array(bytes.buffer, bytes.byteOffset, bytes.length / 4);
    const [out, kept] = [words(picture.rgba), words(stored)];
    expect(out.every((w) => w >>> 24 === 255)).toBe(true);
    expect(covered.every((c, i) => c === 0 || out[i] === kept[i])).toBe(true);
  });

  it.each([6, 16])('bleeds %i texels and no further', (reach) => {
    const { engine } = watchedEngine(seamedFloor(), 256);
    const { rgba } = flattenAlbedo(engine, { size: 256, bleed: reach });
    const right = Math.floor(0.4 * 256);
    const alpha = (x: number): number => rgba[(150 * 256 + x) * 4 + 3]!;
    expect(alpha(right + reach - 1)).toBe(255);
    expect(alpha(right + reach + GUTTER_ROOM)).toBe(0);
  });

  it.each([64, 256] as const)('at %i texels keeps flat colours flat', (size) => {
    const { engine } = watchedEngine(seamedFloor());
    engine.apply({ do: 'patch-layer', layer: LOCAL, patch: { colors: [['Floor', '#4a90d0']] } });
    const { rgba, width } = flattenAlbedo(engine, { size, bleed: Infinity });
    expect(width).toBe(size);
    expect(rgba.every((b, i) => b === [0x4a, 0x90, 0xd0, 255][i % 4])).toBe(true);
  });
});
