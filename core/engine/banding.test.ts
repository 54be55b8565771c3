import { describe, expect, it } from 'vitest';
import { brushed, engineFor, fill, lay, texels, UP } from '../../tests/painted';
import { floor } from '../../tests/shapes';
import { sampleAt } from '../../tests/strokes';
import { measureCue } from '../cues';
import { PLAIN_BRUSH } from '../paint';
import { PLAIN_LEVELS } from '../layers';
import type { Engine } from './engine';
import type { NewLayer } from '../commands';

/** Texels a side of the floor. */
const SIDE = 256;

/** One channel over the floor, row by row. */
function greys(engine: Engine): Float64Array {
  const out = new Float64Array(SIDE * SIDE);
  for (const { at, rgba } of texels(engine)) {
    const [x, y] = [at[0], at[2]].map((v) => Math.floor((v * 0.5 + 0.5) * SIDE)) as [number, number];
    out[y * SIDE + x] = rgba[0];
  }
  return out;
}

/** The farthest that the mean of a block of 8 x 8 lies off: what an eye sees of bands. */
function worstBlock(off: Float64Array, inside: (i: number) => boolean): number {
  let worst = 0;
  for (let by = 0; by < SIDE; by += 8) {
    for (let bx = 0; bx < SIDE; bx += 8) {
      const at = Array.from({ length: 64 }, (_, k) => (by + (k >> 3)) * SIDE + bx + (k & 7));
      if (!at.every(inside)) continue;
      worst = Math.max(worst, Math.abs(at.reduce((sum, i) => sum + off[i]!, 0) / 64));
    }
  }
  return worst;
}

/** How much of the power of rows of 64 lies in waves longer than 16 texels (a plain discrete Fourier transform). */
function coarseShare(off: Float64Array, inside: (i: number) => boolean): number {
  const n = 64;
  let [coarse, all] = [0, 0];
  for (let y = 0; y < SIDE; y++) {
    for (let x = 0; x + n <= SIDE; x += n) {
      const from = y * SIDE + x;
      if (!inside(from) || !inside(from + n - 1)) continue;
      for (let k = 1; k < n / 2; k++) {
        let [re, im] = [0, 0];
        for (let i = 0; i < n; i++) {
          re += off[from + i]! * Math.cos((2 * Math.PI * k * i) / n);
          im += off[from + i]! * Math.sin((2 * Math.PI * k * i) / n);
        }
        all += re * re + im * im;
        if (k <= 4) coarse += re * re + im * im;
      }
    }
  }
  return coarse / all;
}

/** What rounding to the nearest level would be off by. */
const rounded = (ideal: Float64Array): Float64Array => ideal.map((v) => Math.round(v) - v);

// R. Ulichney, “Digital Halftoning” (1987): an eye forgives noise without low frequencies, and sees bands.
describe('a ramp of two levels', () => {
  const soft = { tool: 'brush', erase: false, ...brushed, brush: { ...PLAIN_BRUSH, edge: 1 } } as const;
  const dab = [sampleAt([0, 0, 0], UP, 0.95)];

  it('in a soft stroke has no bands: its noise is fine, and its mean right everywhere', () => {
    const paint = (ground: string, color: string): Float64Array => {
      const engine = engineFor(floor(), SIDE);
      fill(engine, ground, () => true);
      lay(engine, { ...soft, color, runs: dab });
      return greys(engine);
    };
    const coverage = paint('#000000', '#ffffff').map((v) => v / 255);
    const ideal = coverage.map((w) => 100 + 2 * w);
    const off = paint('#646464', '#666666').map((v, i) => v - ideal[i]!);
    const inSoft = (i: number): boolean => coverage[i]! > 0.02 && coverage[i]! < 0.98;
    expect(worstBlock(off, inSoft)).toBeLessThan(0.12);
    expect(worstBlock(rounded(ideal), inSoft)).toBeGreaterThan(0.35);
    expect(coarseShare(off, inSoft)).toBeLessThan(0.1);
    expect(coarseShare(rounded(ideal), inSoft)).toBeGreaterThan(0.4);
    // Beyond it, and where it covers fully, flat stays flat.
    expect(new Set([...coverage.keys()].filter((i) => coverage[i] === 0).map((i) => off[i]))).toEqual(
      new Set([0]),
    );
  });

  it('in a tone ramp has none either, and its ends are flat', () => {
    const engine = engineFor(floor(), SIDE);
    const layer: NewLayer = {
      kind: 'tone',
      name: 'Ramp',
      mix: [
        {
          from: 'cue',
          cue: { cue: 'height', direction: [1, 0, 0], from: 0.2, to: 0.8 },
          join: 'mix',
          weight: 1,
          levels: PLAIN_LEVELS,
          invert: false,
        },
      ],
      levels: PLAIN_LEVELS,
      ramp: {
        stops: [
          { at: 0, color: '#646464' },
          { at: 1, color: '#666666' },
        ],
        mixing: 'oklab',
        hardness: 0,
      },
      ramps: [],
    };
    engine.apply({ do: 'add-layer', layer, into: null, at: 0 });
    for (const spec of engine.missingCues()) engine.setCue(spec, measureCue(engine.surface, spec));
    const found = greys(engine);
    const ideal = found.map(
      (_, i) => 100 + 2 * Math.min(1, Math.max(0, (((i % SIDE) + 0.5) / SIDE - 0.2) / 0.6)),
    );
    const off = found.map((v, i) => v - ideal[i]!);
    const inside = (i: number): boolean => i % SIDE > 56 && i % SIDE < 200;
    expect(worstBlock(off, inside)).toBeLessThan(0.12);
    expect(worstBlock(rounded(ideal), inside)).toBeGreaterThan(0.35);
    const ends = [...found.keys()].filter((i) => i % SIDE < 48 || i % SIDE > 208);
    expect(new Set(ends.map((i) => found[i]))).toEqual(new Set([100, 102]));
  });
});
