import { describe, expect, it } from 'vitest';
import { ball, floor } from '../../tests/shapes';
import { measureSurface, PlaceReader, texelIndex, TILE_TEXELS } from '../surface';
import { noLarger } from '../picture';
import { colorPyramid, greyPyramid, samplePyramid, tilePattern, usualPattern } from '.';

/** A picture out of greys, row by row. */
function greys(width: number, values: readonly number[]) {
  const rgba = new Uint8Array(values.flatMap((v) => [v, v, v, 255]));
  return { width, height: values.length / width, rgba };
}

const at = (pyramid: ReturnType<typeof greyPyramid>, u: number, v: number, level: number): number => {
  const out = new Float64Array(pyramid.channels);
  samplePyramid(pyramid, u, v, level, 1, out);
  return out[0]!;
};

describe('a picture and its halvings', () => {
  it('weighs every pixel once, also where a side is odd', () => {
    const values = Array.from({ length: 15 }, (_, i) => i * 17);
    const { levels, mean } = colorPyramid(greys(5, values));
    expect(levels.map((l) => [l.width, l.height])).toEqual([
      [5, 3],
      [2, 1],
      [1, 1],
    ]);
    expect(mean[0]).toBeCloseTo(values.reduce((a, b) => a + b) / values.length / 255, 5);
  });

  it('is worth the lightness of the eye as a mask: mid grey #777777 is 0.57 (OKLab L; Ottosson 2020, by culori)', async () => {
    const { oklab } = await import('culori');
    const { levels } = greyPyramid(greys(1, [0x77]));
    expect(levels[0]!.data[0]).toBeCloseTo(oklab('#777777')!.l, 5);
  });

  it('repeats without a seam, and lies the right way up', () => {
    const pyramid = colorPyramid(greys(2, [255, 0, 0, 0]));
    // The white pixel is the upper left one: u from the left, v from below.
    expect(at(pyramid, 0.25, 0.75, 0)).toBeCloseTo(1);
    expect(at(pyramid, 0.75, 0.75, 0)).toBeCloseTo(0);
    expect(at(pyramid, 0.25, 0.25, 0)).toBeCloseTo(0);
    for (const [u, v] of [
      [0.1, 0.3],
      [0.99, 0.02],
    ] as const)
      expect(at(pyramid, u - 3, v + 7, 0)).toBeCloseTo(at(pyramid, u, v, 0), 9);
    expect(at(pyramid, 1 - 1e-9, 0.75, 0)).toBeCloseTo(at(pyramid, 1e-9, 0.75, 0), 6);
  });

  it('is made smaller by halves until it fits, alpha and all', () => {
    const rgba = new Uint8Array(8 * 4 * 4);
    for (let i = 0; i < 32; i++) rgba.set(i % 2 ? [200, 100, 0, 255] : [9, 9, 9, 0], i * 4);
    const small = noLarger({ width: 8, height: 4, rgba }, 4);
    expect([small.width, small.height]).toEqual([4, 2]);
    // What is transparent has no say in the colour.
    expect([...small.rgba.slice(0, 4)]).toEqual([200, 100, 0, 128]);
    expect(noLarger(small, 4)).toEqual(small);
    // One that is very much larger is brought down in whole pixels: half of it is green, a tenth of that seen through.
    const wide = 1000;
    const large = new Uint8Array(wide * 10 * 4);
    for (let p = 0; p < wide * 10; p++) large.set(p % wide < 500 ? [255, 0, 0, 255] : [0, 255, 0, 51], p * 4);
    const brought = noLarger({ width: wide, height: 10, rgba: large }, 50);
    expect(brought.width).toBeLessThanOrEqual(50);
    expect([...brought.rgba.subarray(0, 4)]).toEqual([255, 0, 0, 255]);
    expect([...brought.rgba.subarray(-4)]).toEqual([0, 255, 0, 51]);
  });
});

describe('a pattern over the form', () => {
  const checks = greyPyramid(greys(2, [255, 0, 0, 255]));

  it('repeats at its size along the model, straight from the side that a place faces', () => {
    const surface = measureSurface(floor(), 128);
    const places = new PlaceReader(surface);
    const diagonal = Math.hypot(2, 2);
    const paint = tilePattern({ ...usualPattern(1), size: 1 / diagonal, blend: 0 }, checks, surface, places);
    // The floor looks up: tiles one unit wide lie from its middle on, x to the right and -z up.
    let seen = 0;
    for (let tile = 0; tile < surface.slotOfTile.length; tile++) {
      const values = paint(tile);
      const p = places.tile(tile);
      if (!values || !p) continue;
      for (let i = 0; i < TILE_TEXELS; i++) {
        if (p.px[i]! > 1e6 || values[i] === 0) continue;
        const [u, v] = [p.px[i]! - Math.floor(p.px[i]!), -p.pz[i]! - Math.floor(-p.pz[i]!)];
        const [du, dv] = [Math.abs(u - 0.5), Math.abs(v - 0.5)];
        if (Math.abs(du - 0.25) > 0.12 || Math.abs(dv - 0.25) > 0.12) continue;
        seen++;
        expect(values[i]! > 0.5).toBe(u < 0.5 !== v < 0.5);
      }
    }
    expect(seen).toBeGreaterThan(1000);
  });

  it('is its mean where it is far smaller than a texel, and everywhere without contrast', () => {
    const surface = measureSurface(ball(24, 12), 64);
    const tiny = tilePattern({ ...usualPattern(1), size: 0.005 }, checks, surface, new PlaceReader(surface));
    const flat = tilePattern({ ...usualPattern(1), contrast: 0 }, checks, surface, new PlaceReader(surface));
    for (const values of [tiny(0)!, flat(0)!]) {
      const there = [...values].filter((v) => v > 0);
      expect(there.length).toBeGreaterThan(1000);
      for (const v of there) expect(v).toBeCloseTo(0.5, 1);
    }
  });

  it('has no seam on a ball: both sides of its island’s border show the same', () => {
    const size = 256;
    const surface = measureSurface(ball(48, 24), size);
    const places = new PlaceReader(surface);
    const paint = tilePattern({ ...usualPattern(1), size: 0.4 }, checks, surface, places);
    const valueAt = (x: number, y: number): number => {
      const index = texelIndex(size, x, y);
      return paint(Math.floor(index / TILE_TEXELS))![index % TILE_TEXELS]!;
    };
    const covered = (x: number, y: number): boolean => {
      const index = texelIndex(size, x, y);
      const slot = surface.slotOfTile[Math.floor(index / TILE_TEXELS)]!;
      return slot >= 0 && (surface.codes[slot * TILE_TEXELS + (index % TILE_TEXELS)]! & 3) === 3;
    };
    const y = size / 2;
    const xs = Array.from({ length: size }, (_, x) => x).filter((x) => covered(x, y));
    expect(Math.abs(valueAt(xs[0]!, y) - valueAt(xs.at(-1)!, y))).toBeLessThan(0.06);
  });

  it('is never seen mirrored: from each of six sides it runs to the right', () => {
    // Dark on the left, light on the right of each tile.
    const ramp = greyPyramid(greys(4, [0, 80, 160, 255]));
    const box = measureSurface(ball(64, 32), 256);
    const places = new PlaceReader(box);
    const paint = tilePattern({ ...usualPattern(1), size: 3, blend: 0 }, ramp, box, places);
    const right: Record<string, readonly [number, number]> = {
      '+x': [2, -1],
      '-x': [2, 1],
      '+z': [0, 1],
      '-z': [0, -1],
      '+y': [0, 1],
      '-y': [0, 1],
    };
    const sums = new Map<string, { xy: number; n: number; x: number; y: number }>();
    for (let tile = 0; tile < box.slotOfTile.length; tile++) {
      const values = paint(tile);
      const p = places.tile(tile);
      if (!values || !p) continue;
      for (let i = 0; i < TILE_TEXELS; i++) {
        if (p.px[i]! > 1e6) continue;
        const n = [p.nx[i]!, p.ny[i]!, p.nz[i]!].map((v) => v / 32767);
        const axis = n.findIndex((v) => Math.abs(v) > 0.9);
        if (axis < 0) continue;
        const side = `${n[axis]! > 0 ? '+' : '-'}${'xyz'[axis]}`;
        const [along, way] = right[side]!;
        const x = [p.px[i]!, p.py[i]!, p.pz[i]!][along]! * way;
        const s = sums.get(side) ?? { xy: 0, n: 0, x: 0, y: 0 };
        sums.set(side, { xy: s.xy + x * values[i]!, n: s.n + 1, x: s.x + x, y: s.y + values[i]! });
      }
    }
    expect([...sums.keys()].sort()).toEqual(Object.keys(right).sort());
    // Near the middle the picture's wrap-around lies: to either side of it, it falls from light to dark the same way everywhere.
    const signs = [...sums.values()].map((s) => Math.sign(s.xy / s.n - (s.x / s.n) * (s.y / s.n)));
    expect(new Set(signs).size).toBe(1);
  });
});
