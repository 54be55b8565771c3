import { converter } from 'culori';
import { describe, expect, it } from 'vitest';
import { brushed, engineFor, fill, lay, ON, texels, UP, type Texel } from '../../tests/painted';
import { faceRuns } from '../mesh';
import { floor, plate, seamedFloor } from '../../tests/shapes';
import { HARD, line, PLAIN_STROKE, sampleAt } from '../../tests/strokes';
import { mirrored, PLAIN_BRUSH, type BrushShape, type StrokeWish, type Symmetry } from '../paint';
import { engineAtSize } from './at-size';
import { readProjectFile, writeProjectFile } from '../project-file';
import type { Engine } from './engine';
import { encodePng } from '../formats';
import { createWasmKernels } from '../kernels';

/** Standard normal distribution (W. J. Cody's erf is not needed: A. Abramowitz and I. Stegun, 7.1.26, to 1.5e-7). */
function phi(x: number): number {
  const t = 1 / (1 + 0.3275911 * Math.abs(x / Math.SQRT2));
  const poly =
    t * (0.254829592 + t * (-0.284496736 + t * (1.421413741 + t * (-1.453152027 + t * 1.061405429))));
  const erf = 1 - poly * Math.exp((-x * x) / 2);
  return (1 + Math.sign(x) * erf) / 2;
}

describe('soften', () => {
  const RADIUS = 0.5;
  const SIGMA = 0.15 * RADIUS;

  it('one dab over a hard edge makes of it that of a Gaussian, across a seam that lies there', () => {
    const engine = engineFor();
    fill(engine, '#000000', (f) => f < 2);
    fill(engine, '#ffffff', (f) => f >= 2);
    lay(engine, { tool: 'soften', ...brushed, brush: ON, runs: [sampleAt([0, 0, 0], UP, RADIUS)] });
    // Along x through the middle; near the rim the dab has nothing beyond it to draw on. Half a texel is 0.03 where it is steepest.
    const row = texels(engine).filter(({ at: [x, , z] }) => Math.abs(z) < 0.15 && Math.abs(x) < 0.25);
    expect(row.length).toBeGreaterThan(200);
    for (const { at, rgba } of row) expect(Math.abs(rgba[0] / 255 - phi(at[0] / SIGMA))).toBeLessThan(0.045);
    // Its variance, by the slope of the edge (weighted mean of x^2): that of the Gaussian.
    const bins = new Map<number, number[]>();
    for (const { at, rgba } of row) {
      const bin = Math.round(at[0] * 50);
      bins.set(bin, [...(bins.get(bin) ?? []), rgba[0] / 255]);
    }
    const means = [...bins]
      .sort((a, b) => a[0] - b[0])
      .map(([bin, v]) => [bin / 50, v.reduce((s, x) => s + x, 0) / v.length]);
    let [weight, second] = [0, 0];
    for (let i = 1; i < means.length; i++) {
      const slope = means[i]![1]! - means[i - 1]![1]!;
      const x = (means[i]![0]! + means[i - 1]![0]!) / 2;
      weight += slope;
      second += slope * x * x;
    }
    expect(Math.sqrt(second / weight) / SIGMA).toBeGreaterThan(0.93);
    expect(Math.sqrt(second / weight) / SIGMA).toBeLessThan(1.07);
  });

  it('draws on nothing beyond its guard, and leaves one colour as it is', () => {
    const engine = engineFor(plate(0.1, 'Lower'));
    fill(engine, '#204060', () => true);
    const before = texels(engine);
    lay(
      engine,
      { tool: 'soften', ...brushed, brush: ON, runs: [line([-0.5, 0, 0], [0.5, 0, 0], 0.3)] },
      { part: 'Plate' },
    );
    expect(texels(engine)).toEqual(before);
    const other = engineFor();
    fill(other, '#000000', (f) => f < 2);
    fill(other, '#ffffff', (f) => f >= 2);
    const [region] = other.apply({ do: 'add-region', region: { name: 'Left', faces: [0, 1], cuts: [] } }).ids;
    lay(
      other,
      { tool: 'soften', ...brushed, brush: ON, runs: [sampleAt([0, 0, 0], UP, 0.4)] },
      { region: region! },
    );
    const wrong = texels(other).filter(({ at, rgba }) => rgba[0] !== (at[0] < 0 ? 0 : 255));
    expect(wrong).toEqual([]);
  });
});

describe('smear', () => {
  it('conserves a constant colour, whatever the brush', () => {
    const engine = engineFor();
    fill(engine, '#c83c14', () => true);
    const before = texels(engine);
    for (const brush of [ON, { ...PLAIN_BRUSH, tip: 'chalk', scatter: 0.4, builds: true } as const]) {
      lay(engine, { tool: 'smear', ...brushed, brush, runs: [line([-0.6, 0, 0.2], [0.6, 0, -0.1], 0.25)] });
    }
    expect(texels(engine)).toEqual(before);
  });

  it('takes the dark over the seam into the light, along its way only', () => {
    const engine = engineFor();
    fill(engine, '#000000', (f) => f < 2);
    fill(engine, '#ffffff', (f) => f >= 2);
    lay(engine, {
      tool: 'smear',
      ...brushed,
      opacity: 0.95,
      brush: PLAIN_BRUSH,
      runs: [line([-0.3, 0, 0], [0.5, 0, 0], 0.2)],
    });
    const value = (x: number, z: number): number => {
      const near = texels(engine).filter(({ at }) => Math.hypot(at[0] - x, at[2] - z) < 0.03);
      return near.reduce((s, { rgba }) => s + rgba[0], 0) / near.length;
    };
    expect(value(0.08, 0)).toBeLessThan(90);
    expect(value(0.08, 0.5)).toBe(255);
    expect(value(-0.4, 0)).toBe(0);
  });
});

describe('deepen and lift', () => {
  // culori, an independent implementation of OKLCH.
  const toOklch = converter('oklch');

  it.each([
    ['#8c5a3c', -0.12, 0],
    ['#2a6f77', 0.15, 0.02],
    ['#c83c14', -0.1, -0.05],
    ['#777777', 0.1, 0.1],
  ])('%s by %f and %f keeps its hue', (color, lightness, chroma) => {
    const engine = engineFor(floor());
    fill(engine, color, () => true);
    lay(engine, {
      tool: 'tone',
      lightness,
      chroma,
      ...brushed,
      brush: ON,
      runs: [sampleAt([0, 0, 0], UP, 0.3)],
    });
    const { rgba } = texels(engine).find(({ at }) => Math.hypot(at[0], at[2]) < 0.02)!;
    const [r, g, b] = rgba.map((x) => x / 255) as [number, number, number];
    const [was, now] = [toOklch(color)!, toOklch({ mode: 'rgb', r, g, b })!];
    expect(Math.abs(now.l - was.l - lightness)).toBeLessThan(0.006);
    if (was.c > 0.01) {
      expect(Math.abs(now.c - was.c - chroma)).toBeLessThan(0.008);
      expect(Math.abs(now.h! - was.h!)).toBeLessThan(2);
    } else expect(now.c).toBeLessThan(0.004);
  });

  it('lays nothing where nothing is', () => {
    const engine = engineFor(floor());
    lay(engine, {
      tool: 'tone',
      lightness: 0.2,
      chroma: 0,
      ...brushed,
      brush: ON,
      runs: [sampleAt([0, 0, 0], UP, 0.3)],
    });
    expect(texels(engine).every(({ rgba }) => rgba[3] === 0)).toBe(true);
  });
});

describe('copy from another place', () => {
  it('brings the other side over, as it was before the stroke', () => {
    const engine = engineFor();
    lay(engine, { ...PLAIN_STROKE, runs: [sampleAt([-0.5, 0, 0.2], UP, 0.2)] });
    const from = mirrored([0, 0, 0], [1, 0, 0]);
    lay(engine, {
      tool: 'copy',
      whole: null,
      from,
      ...brushed,
      brush: { ...HARD, spacing: 0.2 },
      runs: [line([0.1, 0, 0.2], [0.9, 0, 0.2], 0.35)],
    });
    const all = texels(engine);
    const left = new Map(all.filter(({ at }) => at[0] < 0).map((t) => [keyOf(t.at), t.rgba]));
    const right = all.filter(({ at, rgba }) => at[0] > 0 && rgba[3] > 40);
    expect(right.length).toBeGreaterThan(100);
    for (const { at, rgba } of right) {
      const twin = left.get(keyOf([-at[0], at[1], at[2]]));
      if (twin) expect(Math.abs(twin[3] - rgba[3])).toBeLessThanOrEqual(2);
    }
  });
});

describe('through a picture', () => {
  // 8 x 8 pixels of their own colours, as they would lie over the floor from above: x to the right, z downward.
  const rgba = Uint8Array.from({ length: 256 }, (_, i) => (i % 4 === 3 ? 255 : (i * 53) & 255));
  const view = [4, 0, 0, 4, 0, 0, 4, 4, 0, 0, 0, 1];

  function withPicture(engine: Engine): number {
    const bytes = encodePng({ width: 8, height: 8, rgba });
    return engine.attach({ do: 'add-pattern', pattern: { name: 'Seen', width: 8, height: 8 } }, bytes)
      .ids[0]!;
  }

  it('lays what it shows where it lies, within the stroke and nothing beyond its rim', () => {
    const engine = engineFor(floor());
    const picture = withPicture(engine);
    // Moved half the floor to the right: what lies left of it isn't met.
    const moved = view.with(3, 0);
    const runs = [line([-0.9, 0, 0.1], [0.9, 0, 0.1], 0.4)];
    lay(engine, { tool: 'through', picture, view: moved, whole: false, ...brushed, brush: ON, runs });
    const all = texels(engine);
    expect(all.filter((t) => t.at[0] < -0.01).every((t) => t.rgba[3] === 0)).toBe(true);
    let seen = 0;
    for (const { at, rgba: got } of all) {
      const [x, y] = [at[0] * 4, at[2] * 4 + 4];
      // In the middle of a pixel, and of the stroke.
      if (Math.abs((x % 1) - 0.5) > 0.02 || Math.abs((y % 1) - 0.5) > 0.02 || at[0] < 0) continue;
      if (Math.abs(at[2] - 0.1) > 0.3 || at[0] > 0.8) continue;
      seen++;
      const o = (Math.floor(y) * 8 + Math.floor(x)) * 4;
      for (let c = 0; c < 3; c++) expect(Math.abs(got[c]! - rgba[o + c]!)).toBeLessThanOrEqual(8);
      expect(got[3]).toBe(255);
    }
    expect(seen).toBeGreaterThan(5);
  });

  it('all of it goes on what its guard lets through; it is made again at another size; its picture can’t be removed', async () => {
    const painted = (size: 128 | 256): Engine => {
      const engine = engineFor(seamedFloor(), size);
      const picture = withPicture(engine);
      const area = { faces: faceRuns(engine.mesh.faceParts.length, (f) => f < 2), cuts: [] };
      lay(engine, { tool: 'through', picture, view, whole: true, ...brushed, brush: ON, runs: [] }, { area });
      return engine;
    };
    const engine = painted(128);
    for (const { at, rgba: got } of texels(engine)) expect(got[3]).toBe(at[0] < 0 ? 255 : 0);
    const { document, mesh } = engine;
    const [picture] = document.patterns;
    expect(() => engine.apply({ do: 'remove-pattern', pattern: picture!.id })).toThrow(/painted with “Seen”/);
    const files = new Map([[picture!.id, engine.file(picture!.id)!]]);
    const data = readProjectFile(writeProjectFile({ document, mesh, ...engine.everything(), files }));
    expect(texels(await engineAtSize(data, 256, createWasmKernels()))).toEqual(texels(painted(256)));
  });
});

const keyOf = (at: readonly number[]): string => at.map((x) => Math.round(x * 1e4)).join(' ');

describe('symmetry', () => {
  const tip: BrushShape = {
    ...PLAIN_BRUSH,
    tip: 'leaf',
    follows: 'stroke',
    spacing: 0.6,
    scatter: 0.3,
    jitter: { size: 0.3, opacity: 0.2, turn: 0.1, hue: 0, light: 0 },
  };
  const none: Symmetry = { planes: [], axis: null };
  const stroke = (symmetry: Symmetry): StrokeWish => ({
    ...PLAIN_STROKE,
    brush: tip,
    symmetry,
    runs: [
      [
        ...sampleAt([0.15, 0, 0.1], UP, 0.12),
        ...sampleAt([0.5, 0, 0.3], UP, 0.12),
        ...sampleAt([0.6, 0, -0.3], UP, 0.12),
      ],
    ],
  });

  /** Alpha by place, and the largest difference to that of another place. */
  function worst(engine: Engine, to: (at: readonly [number, number, number]) => readonly number[]): number {
    const all = texels(engine);
    const alpha = new Map(all.map(({ at, rgba }) => [keyOf(at), rgba[3]]));
    expect(all.filter(({ rgba }) => rgba[3] > 128).length).toBeGreaterThan(300);
    return all.reduce((most, { at, rgba }) => {
      const other = alpha.get(keyOf(to(at)));
      return other === undefined ? 1000 : Math.max(most, Math.abs(other - rgba[3]));
    }, 0);
  }

  it('mirrored over planes, a stroke with any tip and chance is the same after reflection, to one level', () => {
    const engine = engineFor(floor());
    lay(
      engine,
      stroke({
        ...none,
        planes: [
          { point: [0, 0, 0], normal: [1, 0, 0] },
          { point: [0, 0, 0], normal: [0, 0, 2] },
        ],
      }),
    );
    expect(worst(engine, ([x, y, z]) => [-x, y, z])).toBeLessThanOrEqual(1);
    expect(worst(engine, ([x, y, z]) => [x, y, -z])).toBeLessThanOrEqual(1);
  });

  it('round an axis, it is the same after each turn, to one level', () => {
    const engine = engineFor(floor());
    lay(engine, stroke({ ...none, axis: { point: [0, 3, 0], direction: [0, -1, 0], count: 4, span: 360 } }));
    expect(worst(engine, ([x, y, z]) => [z, y, -x])).toBeLessThanOrEqual(1);
  });

  it('over part of a ring its copies stand at both ends; what coincides is laid once', () => {
    const engine = engineFor(floor());
    const one = sampleAt([0.6, 0, 0], UP, 0.1);
    const axis = { point: [0, 0, 0], direction: [0, 1, 0], count: 3, span: 180 } as const;
    const planes = [{ point: [0, 0, 0], normal: [0, 0, 1] } as const];
    lay(engine, {
      ...PLAIN_STROKE,
      opacity: 0.5,
      brush: { ...ON, builds: true },
      symmetry: {
        planes: [...planes].map((p) => ({ point: [...p.point], normal: [...p.normal] })),
        axis: { ...axis, point: [...axis.point], direction: [...axis.direction] },
      },
      runs: [one],
    });
    const alphaAt = (x: number, z: number): number =>
      texels(engine).find(({ at }) => Math.hypot(at[0] - x, at[2] - z) < 0.02)!.rgba[3];
    // The ends lie on the plane: they are their own reflections, but turned ones that are others.
    for (const [x, z] of [
      [0.6, 0],
      [-0.6, 0],
      [0, 0.6],
      [0, -0.6],
    ] as const)
      expect(alphaAt(x, z)).toBeGreaterThan(100);
    expect(alphaAt(0.42, 0.42)).toBe(0);
  });
});

describe('a brush', () => {
  it('whose colour is left to chance covers as it would without, in shades around its own', () => {
    const covered = [0, 0.6].map((light) => {
      const engine = engineFor(floor());
      const brush: BrushShape = {
        ...ON,
        tip: 'square',
        spacing: 0.5,
        jitter: { ...ON.jitter, light, hue: light / 4 },
      };
      lay(engine, { ...PLAIN_STROKE, brush, runs: [line([-0.7, 0, 0], [0.7, 0, 0], 0.15)] });
      return texels(engine);
    });
    const [plain, shaded] = covered as [Texel[], Texel[]];
    const off = shaded.map((t, i) => Math.abs(t.rgba[3] - plain[i]!.rgba[3]));
    expect(Math.max(...off)).toBeLessThanOrEqual(1);
    const colors = new Set(shaded.filter((t) => t.rgba[3] === 255).map((t) => t.rgba.join()));
    expect(colors.size).toBeGreaterThan(4);
    expect(new Set(plain.filter((t) => t.rgba[3] === 255).map((t) => t.rgba.join())).size).toBe(1);
  });

  it('that lies on the sheet goes over what lies beside it there, as long as it is wide, and not where the surface goes on', () => {
    const engine = engineFor(seamedFloor(), 256);
    // On the left island's upper border; 0.35 of the sheet are 1 of the model.
    const at = [0.02, 0, 0] as const;
    lay(engine, { ...PLAIN_STROKE, brush: { ...ON, lies: 'sheet' }, runs: [sampleAt(at, UP, 0.3)] });
    const painted = texels(engine).filter((t) => t.rgba[3] > 0);
    expect(painted.length).toBeGreaterThan(50);
    // The other side of the seam lies far off on the sheet.
    expect(painted.every((t) => t.at[0] > 0)).toBe(true);
    const far = Math.max(...painted.map((t) => Math.hypot(t.at[0] - at[0], t.at[2])));
    expect(far).toBeGreaterThan(0.25);
    expect(far).toBeLessThan(0.4);
  });
});

describe('strokes of all tools', () => {
  it('are taken back, done again, and made again at another size', () => {
    const engine = engineFor(seamedFloor(), 128);
    fill(engine, '#204060', (f) => f < 2);
    const strokes: StrokeWish[] = [
      { ...PLAIN_STROKE, runs: [line([-0.8, 0, 0], [0.8, 0, 0], 0.2)] },
      { tool: 'soften', ...brushed, brush: PLAIN_BRUSH, runs: [line([0, 0, -0.5], [0, 0, 0.5], 0.2)] },
      { tool: 'smear', ...brushed, brush: PLAIN_BRUSH, runs: [line([-0.2, 0, -0.2], [0.4, 0, 0.3], 0.2)] },
      {
        tool: 'tone',
        lightness: -0.2,
        chroma: 0,
        ...brushed,
        brush: PLAIN_BRUSH,
        runs: [line([-0.5, 0, 0.1], [0, 0, 0.1], 0.15)],
      },
    ];
    const states = [texels(engine)];
    for (const stroke of strokes) {
      lay(engine, stroke);
      const now = texels(engine);
      expect(now).not.toEqual(states.at(-1));
      states.push(now);
    }
    for (let i = strokes.length; i > 0; i--) {
      engine.undo();
      expect(texels(engine)).toEqual(states[i - 1]);
    }
    while (engine.redo()) continue;
    expect(texels(engine)).toEqual(states.at(-1));
  });
});
