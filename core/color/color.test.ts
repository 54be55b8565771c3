import { converter } from 'culori';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { CIEDE2000_PAIRS } from '../../tests/data/ciede2000-pairs';
import {
  ciede2000,
  compareColors,
  hexToRgb,
  linearToSrgb,
  oklchToRgb,
  rgbToCielab,
  rgbToHex,
  rgbToOklab,
  rgbToOklch,
  srgbToLinear,
} from '.';

const byte = fc.integer({ min: 0, max: 255 });
const rgb = fc.record({ r: byte, g: byte, b: byte });

describe('CIEDE2000', () => {
  // Sharma, Wu and Dalal 2005, table 1, printed to four decimals.
  it.each(CIEDE2000_PAIRS.map((p, i) => [i + 1, ...p] as const))(
    'pair %i of the published table',
    (_n, L1, a1, b1, L2, a2, b2, dE) => {
      expect(ciede2000({ L: L1, a: a1, b: b1 }, { L: L2, a: a2, b: b2 }).deltaE).toBeCloseTo(dE, 4);
    },
  );

  it('is the same both ways round', () => {
    fc.assert(
      fc.property(rgb, rgb, (one, two) => {
        const a = rgbToCielab(one);
        const b = rgbToCielab(two);
        expect(ciede2000(a, b).deltaE).toBeCloseTo(ciede2000(b, a).deltaE, 9);
      }),
    );
  });
});

// culori 4.0.2 as oracle: an independent implementation of sRGB, OKLab and CIELAB D65.
describe('colour spaces beside culori', () => {
  const toLrgb = converter('lrgb');
  const toOklab = converter('oklab');
  const toLab65 = converter('lab65');

  it('takes the sRGB curve off, for all 256 codes, and puts it back', () => {
    for (let i = 0; i < 256; i++) {
      const c = i / 255;
      expect(srgbToLinear(c)).toBeCloseTo(toLrgb({ mode: 'rgb', r: c, g: 0, b: 0 })!.r, 12);
      expect(linearToSrgb(srgbToLinear(c))).toBeCloseTo(c, 6);
    }
  });

  it('agrees in OKLab and CIELAB', () => {
    fc.assert(
      fc.property(rgb, (c) => {
        const theirs = { mode: 'rgb', r: c.r / 255, g: c.g / 255, b: c.b / 255 } as const;
        const ok = toOklab(theirs)!;
        const ours = rgbToOklab(c);
        expect(ours.L).toBeCloseTo(ok.l, 5);
        expect(ours.a).toBeCloseTo(ok.a, 5);
        expect(ours.b).toBeCloseTo(ok.b, 5);
        const lab = toLab65(theirs)!;
        const mine = rgbToCielab(c);
        expect(mine.L).toBeCloseTo(lab.l, 2);
        expect(mine.a).toBeCloseTo(lab.a, 1);
        expect(mine.b).toBeCloseTo(lab.b, 1);
      }),
    );
  });

  it('comes back from OKLCH to the very same 8-bit colour', () => {
    fc.assert(
      fc.property(rgb, (c) => {
        expect(oklchToRgb(rgbToOklch(c))).toEqual(c);
      }),
    );
  });

  it('lowers chroma, not lightness, where a colour lies outside the gamut', () => {
    const wild = { L: 0.7, C: 0.4, h: 140 };
    const tamed = rgbToOklch(oklchToRgb(wild));
    expect(tamed.L).toBeCloseTo(0.7, 1);
    expect(tamed.C).toBeLessThan(0.3);
    expect(Math.abs(tamed.h - 140)).toBeLessThan(4);
  });
});

describe('a difference in words', () => {
  const words = (painted: string, wanted: string): string =>
    compareColors(hexToRgb(painted), hexToRgb(wanted)).words;

  it('says nothing of what nobody sees', () => {
    expect(words('#d9a987', '#d9a987')).toBe('no visible difference');
    expect(words('#d9a987', '#d9a988')).toBe('no visible difference');
  });

  it('names light and dark', () => {
    expect(words('#a0a0a0', '#808080')).toMatch(/too light$/);
    expect(words('#606060', '#808080')).toMatch(/too dark$/);
  });

  it('names warm and cool beside it, and grows with the distance', () => {
    expect(words('#b07040', '#b08070')).toMatch(/warm|vivid/);
    expect(words('#7080b0', '#908080')).toMatch(/cool/);
    expect(words('#828080', '#7d7d7d')).toMatch(/^a touch too/);
    expect(words('#ffffff', '#000000')).toMatch(/^far too/);
  });
});

describe('hexadecimal colours', () => {
  it('go there and back', () => {
    fc.assert(fc.property(rgb, (c) => void expect(hexToRgb(rgbToHex(c))).toEqual(c)));
  });
  it('refuse anything else with a sentence', () => {
    expect(() => hexToRgb('red')).toThrow(/#rrggbb/);
  });
});
