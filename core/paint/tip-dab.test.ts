import { describe, expect, it } from 'vitest';
import { ball, floor, plate, together } from '../../tests/shapes';
import { sampleAt } from '../../tests/strokes';
import { createPlainKernels } from '../kernels';
import { measureSurface, PlaceReader, TILE_TEXELS, type SurfaceMap } from '../surface';
import {
  LiveStroke,
  NO_DRIVES,
  StrokeRasterizer,
  PLAIN_BRUSH,
  TIPS,
  tipPicture,
  type BrushShape,
  type StyleOf,
} from '.';

const STYLE: StyleOf<'brush'> = {
  tool: 'brush',
  erase: false,
  color: '#ff0000',
  opacity: 1,
  brush: PLAIN_BRUSH,
  seed: 7,
  up: [0, 0, -1],
  eye: [0, 1, 0],
  nearSide: false,
};

/** Alpha 0..1 of every texel that a stroke touches, by place on the model. */
function painted(
  surface: SurfaceMap,
  brush: Partial<BrushShape>,
  samples: number[],
  style: Partial<StyleOf<'brush'>> = {},
): { readonly at: readonly [number, number, number]; readonly alpha: number }[] {
  const kernels = createPlainKernels();
  const rasterizer = new StrokeRasterizer(surface, kernels);
  const live = new LiveStroke({
    style: { ...STYLE, ...style, brush: { ...PLAIN_BRUSH, ...brush } },
    keepAlpha: false,
    guard: null,
    rasterizer,
    kernels,
    plane: new Map(),
  });
  const tiles = new Set([...live.replay([samples])].map((sub) => sub >> 2));
  const reader = new PlaceReader(surface);
  return [...tiles].flatMap((tile) => {
    const bytes = live.paint(tile, undefined);
    const { px, py, pz } = reader.tile(tile)!;
    return Array.from({ length: TILE_TEXELS }, (_, i) => i)
      .filter((i) => bytes[i * 4 + 3]! > 0)
      .map((i) => ({ at: [px[i]!, py[i]!, pz[i]!] as const, alpha: bytes[i * 4 + 3]! / 255 }));
  });
}

const UP = [0, 1, 0] as const;
const flat = measureSurface(floor(), 256);

describe('how a tip lies', () => {
  it('on the surface: the other side of something thin, and a shell that comes near, are left alone', () => {
    const thin = measureSurface(together(plate(0.02), ball(24, 12, 0.25, [0, 0.3, 0])), 256);
    const dab = sampleAt([0, 0, 0], UP, 0.3);
    const along = painted(thin, { lies: 'surface', edge: 0 }, dab);
    expect(along.length).toBeGreaterThan(100);
    for (const { at } of along) expect(at[1]).toBeCloseTo(0, 6);
    const against = painted(thin, { lies: 'against', edge: 0 }, dab);
    expect(against.some(({ at }) => at[1] < -0.01)).toBe(true);
    expect(against.some(({ at }) => at[1] > 0.04)).toBe(true);
  });

  it('on the surface: a ball is covered as far as the arc of a great circle is long', () => {
    const surface = measureSurface(ball(96, 48), 256);
    const reach = 0.7;
    const dab = painted(surface, { edge: 0 }, sampleAt([-1, 0, 0], [-1, 0, 0], reach));
    const farthest = Math.max(...dab.map(({ at }) => Math.acos(Math.max(-1, Math.min(1, -at[0])))));
    expect(Math.abs(farthest - reach)).toBeLessThan(reach * 0.03);
  });

  it('on the surface: a dab that was thrown off it lies where the surface is nearest, whole; past the model there is none', () => {
    const surface = measureSurface(ball(96, 48), 256);
    const onIt = painted(surface, { edge: 0 }, sampleAt([-1, 0, 0], [-1, 0, 0], 0.3));
    const offIt = painted(surface, { edge: 0 }, sampleAt([-1.1, 0, 0], [-1, 0, 0], 0.3));
    expect(Math.abs(offIt.length / onIt.length - 1)).toBeLessThan(0.02);
    expect(painted(surface, { edge: 0 }, sampleAt([-1.4, 0, 0], [-1, 0, 0], 0.3))).toEqual([]);
  });

  it('from the eye it goes past what stands before', () => {
    const steps = measureSurface(together(plate(0.02), ball(24, 12, 0.1, [0, 0.2, 0])), 256);
    const dab = painted(steps, { lies: 'eye', edge: 0 }, sampleAt([0.05, 0, 0], UP, 0.15));
    expect(dab.some(({ at }) => at[1] > 0.1)).toBe(true);
  });

  it('its long side lies across the way of the eye’s up, or along the stroke', () => {
    const wide = (brush: Partial<BrushShape>, to: readonly [number, number, number]): number => {
      const run = [...sampleAt([0, 0, 0], UP, 0.4), ...sampleAt(to, UP, 0.4)];
      const all = painted(flat, { roundness: 0.2, edge: 0, spacing: 2, ...brush }, run);
      const xs = all.map(({ at }) => Math.abs(at[0]));
      const zs = all.map(({ at }) => Math.abs(at[2]));
      return Math.max(...xs) / Math.max(...zs);
    };
    expect(wide({}, [0, 0, 0])).toBeCloseTo(5, 0);
    expect(wide({ turn: Math.PI / 2 }, [0, 0, 0])).toBeCloseTo(0.2, 1);
    expect(wide({ follows: 'stroke' }, [0, 0, 0.01])).toBeCloseTo(0.2, 1);
    expect(wide({ follows: 'stroke' }, [0.01, 0, 0])).toBeCloseTo(5, 0);
  });

  it('leans with the pen', () => {
    const lean = (azimuth: number): number => {
      const sample = sampleAt([0, 0, 0], UP, 0.4);
      sample[9] = azimuth;
      const all = painted(flat, { roundness: 0.2, edge: 0, follows: 'tilt' }, sample);
      return (
        Math.max(...all.map(({ at }) => Math.abs(at[0]))) / Math.max(...all.map(({ at }) => Math.abs(at[2])))
      );
    };
    expect(lean(0)).toBeCloseTo(0.2, 1);
    expect(lean(Math.PI / 2)).toBeCloseTo(5, 0);
  });
});

describe('what a stroke comes to', () => {
  const middle = (dabs: ReturnType<typeof painted>): number =>
    dabs.find(({ at }) => Math.hypot(at[0], at[2]) < 0.006)!.alpha;

  it.each([1, 2, 5])('%i dabs of opacity a that build up come to 1 - (1 - a)^n', (n) => {
    const run = Array.from({ length: n }, (_, i) => sampleAt([0, 0, i * 0.0004], UP, 0.2)).flat();
    // The spacing's least, a quarter of a texel, is longer than such steps: each dab is a run of its own instead.
    const kernels = createPlainKernels();
    const rasterizer = new StrokeRasterizer(flat, kernels);
    const style = { ...STYLE, opacity: 0.3, brush: { ...PLAIN_BRUSH, edge: 0, builds: true } };
    const live = new LiveStroke({
      style,
      keepAlpha: false,
      guard: null,
      rasterizer,
      kernels,
      plane: new Map(),
    });
    const touched = live.replay(Array.from({ length: n }, () => run.slice(0, 11)));
    const tile = [...touched].map((s) => s >> 2).find((t) => t === 5)!;
    const bytes = live.paint(tile, undefined);
    const most = Math.max(...Array.from({ length: TILE_TEXELS }, (_, i) => bytes[i * 4 + 3]! / 255));
    expect(Math.abs(most - (1 - 0.7 ** n))).toBeLessThan(1 / 255);
  });

  it('without, the stroke is as opaque as one dab of it', () => {
    const run = Array.from({ length: 20 }, (_, i) => sampleAt([0, 0, (i - 10) * 0.02], UP, 0.2)).flat();
    expect(middle(painted(flat, { edge: 0 }, run, { opacity: 0.3 }))).toBeCloseTo(0.3, 2);
  });

  it('coverage follows a curve from the middle to the rim', () => {
    const ring = painted(
      flat,
      {
        profile: [
          [0, 0],
          [0.5, 1],
          [1, 0],
        ],
      },
      sampleAt([0, 0, 0], UP, 0.4),
    );
    const at = (r: number): number =>
      ring.reduce((best, d) =>
        Math.abs(Math.hypot(d.at[0], d.at[2]) - r) < Math.abs(Math.hypot(best.at[0], best.at[2]) - r)
          ? d
          : best,
      ).alpha;
    expect(at(0.2)).toBeGreaterThan(0.97);
    expect(at(0.03)).toBeLessThan(0.3);
    expect(at(0.37)).toBeLessThan(0.3);
  });

  it('grain stays where it is on the model: two strokes over one place break up alike', () => {
    const grain = { kind: 'value', scale: 60, depth: 1 } as const;
    const one = painted(flat, { grain, edge: 0 }, sampleAt([0, 0, 0], UP, 0.3));
    const other = painted(flat, { grain, edge: 0 }, sampleAt([0.1, 0, 0], UP, 0.3));
    const far = (d: { at: readonly number[] }, x: number): number => Math.hypot(d.at[0]! - x, d.at[2]!);
    const key = (d: { at: readonly number[] }): string => d.at.map((v) => v.toFixed(5)).join(' ');
    const known = new Map(one.filter((d) => far(d, 0) < 0.28).map((d) => [key(d), d.alpha]));
    const both = other.filter((d) => far(d, 0.1) < 0.28 && known.has(key(d)));
    expect(both.length).toBeGreaterThan(300);
    for (const d of both) expect(d.alpha).toBeCloseTo(known.get(key(d))!, 6);
    expect(new Set(both.map((d) => d.alpha)).size).toBeGreaterThan(50);
  });

  it('chance is the same for the same seed, and another for another', () => {
    const run = [...sampleAt([-0.5, 0, 0], UP, 0.1), ...sampleAt([0.5, 0, 0], UP, 0.1)];
    const brush: Partial<BrushShape> = {
      scatter: 1,
      count: 3,
      jitter: { size: 0.5, opacity: 0.5, turn: 1, hue: 0, light: 0 },
      tip: 'leaf',
    };
    const once = painted(flat, brush, run);
    expect(painted(flat, brush, run)).toEqual(once);
    expect(painted(flat, brush, run, { seed: 8 })).not.toEqual(once);
  });

  it('a quick pen makes it thinner where that is asked for', () => {
    const run = (ms: number): number[] =>
      Array.from({ length: 12 }, (_, i) => {
        const s = sampleAt([-0.6 + i * 0.1, 0, 0], UP, 0.1);
        s[10] = i * ms;
        return s;
      }).flat();
    const speed = {
      ...NO_DRIVES,
      size: [
        [0, 1],
        [1, 0.2],
      ] as [number, number][],
    };
    const slow = painted(flat, { speed, edge: 0 }, run(2000));
    const quick = painted(flat, { speed, edge: 0 }, run(2));
    expect(quick.length).toBeLessThan(slow.length * 0.6);
  });
});

describe('tips', () => {
  it.each(TIPS)(
    '%s lies within the unit disc, covers some of it, and keeps its coverage when it is halved',
    (name) => {
      const picture = tipPicture(name);
      if (name === 'round') return void expect(picture).toBeNull();
      const means = picture!.levels.map(
        ({ values }) => values.reduce((sum, v) => sum + v, 0) / values.length,
      );
      expect(means[0]).toBeGreaterThan(8);
      for (const mean of means) expect(Math.abs(mean - means[0]!)).toBeLessThan(2);
      const { side, values } = picture!.levels[0]!;
      values.forEach((v, i) => {
        const r = Math.hypot(((i % side) + 0.5) / side - 0.5, (Math.floor(i / side) + 0.5) / side - 0.5) * 2;
        if (r > 1.02) expect(v).toBe(0);
      });
    },
  );
});
