import { describe, expect, it } from 'vitest';
import { ciede2000, hexToRgb, paletteOf, rgbToCielab, withinOutline } from '.';
import { seededRandom } from '../math';

/** A picture of colours with shares, in 100ths, each pixel off by up to `noise` a channel. */
function picture(colors: readonly (readonly [hex: string, share: number])[], noise = 0): Uint8Array {
  const random = seededRandom(9);
  return Uint8Array.from(
    colors.flatMap(([hex, share]) =>
      Array.from({ length: share * 40 }, () => {
        const { r, g, b } = hexToRgb(hex);
        return [
          ...[r, g, b].map((c) => Math.min(255, Math.max(0, Math.round(c + (random() * 2 - 1) * noise)))),
          255,
        ];
      }).flat(),
    ),
  );
}

describe('the palette of a picture', () => {
  const known = [
    ['#2f7475', 40],
    ['#cf5a2e', 25],
    ['#efcfa0', 20],
    ['#241823', 15],
  ] as const;

  it('of as few colours as are asked for is just those, with their shares', () => {
    expect(paletteOf(picture(known), 4)).toEqual(known.map(([hex, share]) => ({ hex, share: share / 100 })));
    expect(paletteOf(picture(known), 12)).toHaveLength(4);
  });

  it('finds known colours and shares under noise', () => {
    const found = paletteOf(picture(known, 12), 4);
    found.forEach(({ hex, share }, i) => {
      const [color, part] = known[i]!;
      expect(ciede2000(rgbToCielab(hexToRgb(hex)), rgbToCielab(hexToRgb(color))).deltaE).toBeLessThan(1.5);
      expect(Math.abs(share - part / 100)).toBeLessThan(0.01);
    });
  });

  it('of one colour is that one, of nothing none; what is transparent doesn’t count', () => {
    expect(paletteOf(picture([['#808080', 3]]), 6)).toEqual([{ hex: '#808080', share: 1 }]);
    expect(paletteOf(new Uint8Array(), 6)).toEqual([]);
    const half = picture([
      ['#ff0000', 1],
      ['#0000ff', 1],
    ]);
    for (let i = 3; i < half.length / 2; i += 4) half[i] = 0;
    expect(paletteOf(half, 3)).toEqual([{ hex: '#0000ff', share: 1 }]);
  });

  it('is the same each time, and its shares make up the whole', () => {
    const random = seededRandom(4);
    const noise = Uint8Array.from({ length: 40_000 * 4 }, (_, i) =>
      i % 4 === 3 ? 255 : Math.floor(random() * 256),
    );
    const found = paletteOf(noise, 8);
    expect(found).toHaveLength(8);
    expect(found.reduce((sum, c) => sum + c.share, 0)).toBeCloseTo(1, 6);
    expect(paletteOf(noise, 8)).toEqual(found);
  });
});

describe('the colours within a line', () => {
  it('are those of the pixels whose middles it holds, and no others', () => {
    const rgba = new Uint8Array(100 * 100 * 4);
    for (let y = 0; y < 100; y++)
      for (let x = 0; x < 100; x++) rgba.set(x < 50 ? [200, 0, 0, 255] : [0, 0, 200, 255], (y * 100 + x) * 4);
    // A square of 40 that takes 30 columns of red and 10 of blue.
    const square = [
      [20, 10],
      [60, 10],
      [60, 50],
      [20, 50],
    ] as const;
    const inside = withinOutline(rgba, 100, 100, square);
    expect(paletteOf(inside, 4)).toEqual([
      { hex: '#c80000', share: 0.75 },
      { hex: '#0000c8', share: 0.25 },
    ]);
    // A triangle of half the area, up to one pixel of its border.
    const triangle = withinOutline(rgba, 100, 100, [
      [0, 0],
      [100, 0],
      [0, 100],
    ]);
    const count = triangle.reduce((n, v, i) => n + Number(i % 4 === 3 && v > 0), 0);
    expect(Math.abs(count - 5000)).toBeLessThanOrEqual(100);
    expect(withinOutline(rgba, 100, 100, []).every((v) => v === 0)).toBe(true);
  });
});
