import { describe, expect, it } from 'vitest';
import { PAINT } from '../../tests/engines';
import { brushed, engineFor, fill, lay, ON, texels, UP } from '../../tests/painted';
import { ball, floor, together } from '../../tests/shapes';
import { HARD, line, PLAIN_STROKE, sampleAt } from '../../tests/strokes';
import { encodePng } from '../formats';
import { PICTURE_TIP, PLAIN_BRUSH, SEEN_SIDE, type StrokeWish, type StyleOf } from '../paint';
import { readProjectFile, writeProjectFile } from '../project-file';
import type { Engine } from './engine';

/** Seen from above without perspective: x to the right, z downward, two and a half units across. */
const K = SEEN_SIDE / 2.5;
const FROM_ABOVE = {
  view: [K, 0, 0, SEEN_SIDE / 2, 0, 0, K, SEEN_SIDE / 2, 0, 0, 0, 1],
  eye: [0, 1, 0] as [number, number, number],
  hidden: [],
};

/** Seen from so high above, with perspective. */
const fromHeight = (height: number) => ({
  view: [
    K,
    -SEEN_SIDE / 2 / height,
    0,
    SEEN_SIDE / 2,
    0,
    -SEEN_SIDE / 2 / height,
    K,
    SEEN_SIDE / 2,
    0,
    -1 / height,
    0,
    1,
  ],
  eye: [0, 1, 0] as [number, number, number],
  hidden: [],
});

const isRed = ({ rgba }: { rgba: readonly number[] }): boolean => rgba[0] === 255 && rgba[1] === 0;

describe('strokes that stay on what is seen', () => {
  // A ball that hovers over a floor hides a disc of it.
  const scene = (): Engine => engineFor(together(floor(), ball(64, 32, 0.3, [0, 0.5, 0])));
  const stroke = { ...PLAIN_STROKE, nearSide: false, color: '#ff0000', brush: { ...HARD } };
  const all = { ...stroke, runs: [sampleAt([0, 0, 0], UP, 1.6)] };

  it.each([
    ['without perspective', FROM_ABOVE, 0.3],
    // The tangent cone from (0, 2, 0) to a ball of radius 0.3 at 1.5 below: on the floor it is 2 tan(asin(0.3 / 1.5)) wide.
    ['from two units above', fromHeight(2), 2 * Math.tan(Math.asin(0.3 / 1.5))],
  ])('leave alone what something hides, %s', (_, seen, shadow) => {
    const engine = scene();
    lay(engine, { ...all, seen });
    const onFloor = texels(engine).filter(({ at }) => at[1] === 0 && Math.hypot(at[0], at[2]) < 1);
    const wrong = onFloor.filter(
      (t) =>
        isRed(t) !== Math.hypot(t.at[0], t.at[2]) > shadow &&
        Math.abs(Math.hypot(t.at[0], t.at[2]) - shadow) > 0.02,
    );
    expect(onFloor.length).toBeGreaterThan(1000);
    expect(wrong).toEqual([]);
    // Of the ball the upper side.
    const onBall = texels(engine).filter(({ at }) => at[1] > 0.1);
    for (const t of onBall.filter(({ at }) => Math.abs(at[1] - 0.5) > 0.08))
      expect(isRed(t)).toBe(t.at[1] > 0.5);
  });

  it('reach what lies behind parts that are not shown', () => {
    const engine = scene();
    const count = engine.mesh.faceParts.length;
    lay(engine, { ...all, seen: { ...FROM_ABOVE, hidden: [2, count - 2] } });
    const onFloor = texels(engine).filter(({ at }) => at[1] === 0 && Math.hypot(at[0], at[2]) < 1);
    expect(onFloor.every(isRed)).toBe(true);
  });

  it('with symmetry reach what is seen from where the eye’s mirror image stands', () => {
    const engine = engineFor(together(floor(), ball(32, 16, 0.2, [0.5, 0.5, 0])));
    const seen = { ...FROM_ABOVE };
    const symmetry = { planes: [{ point: [0, 0, 0], normal: [1, 0, 0] }], axis: null } as const;
    lay(engine, {
      ...stroke,
      seen,
      symmetry: { planes: [{ point: [0, 0, 0], normal: [1, 0, 0] }], axis: symmetry.axis },
      runs: [sampleAt([-0.5, 0, 0], UP, 0.1)],
    });
    // From above both are the same eye: the ball hides the copy.
    const red = texels(engine).filter((t) => isRed(t) && t.at[1] === 0);
    expect(red.length).toBeGreaterThan(20);
    expect(red.every(({ at }) => at[0] < 0)).toBe(true);
  });
});

describe('strokes that stay on like colours', () => {
  it('change what was like the colour where they begin, and what is nothing where nothing is', () => {
    const engine = engineFor();
    fill(engine, '#ff8800', (f) => f < 2);
    fill(engine, '#2244aa', (f) => f >= 2);
    const texel = (() => {
      const style = { ...PLAIN_STROKE, color: '#ff0000', brush: ON, nearSide: false };
      const map = engine.reach(PAINT, style, { like: { texel: 60 * 64 + 10, tolerance: 5 } }, [0, 1, 0]);
      expect(new Set(map.sheets[0])).toContain(255);
      return 60 * 64 + 10;
    })();
    const start = [...engine.tilesOf(PAINT)].find(({ tile }) => tile === Math.floor(texel / 4096))!;
    const first = start.bytes.subarray((texel % 4096) * 4, (texel % 4096) * 4 + 3);
    engine.beginStroke(
      PAINT,
      { ...PLAIN_STROKE, color: '#ff0000', brush: ON, nearSide: false },
      { like: { texel, tolerance: 5 } },
    );
    engine.extendStroke(line([-0.7, 0, 0.1], [0.7, 0, 0.1], 0.2), true);
    engine.endStroke();
    const orange = first[0] === 0xff;
    const inWay = texels(engine).filter(
      ({ at }) => Math.abs(at[2] - 0.1) < 0.15 && Math.abs(at[0]) < 0.7 && Math.abs(at[0]) > 0.02,
    );
    expect(inWay.length).toBeGreaterThan(100);
    for (const t of inWay) expect(isRed(t)).toBe(orange ? t.at[0] < 0 : t.at[0] > 0);
    // Kept with the stroke: another size gives the same.
    expect(engine.strokesOf(PAINT).at(-1)).toMatchObject({ like: { rgba: [...first, 255], tolerance: 5 } });
  });

  it('on an empty layer stay where it is empty', () => {
    const engine = engineFor(floor());
    lay(engine, { ...PLAIN_STROKE, color: '#00ff00', brush: ON, runs: [sampleAt([0, 0, 0], UP, 0.3)] });
    engine.beginStroke(
      PAINT,
      { ...PLAIN_STROKE, color: '#ff0000', brush: ON },
      { like: { texel: 0, tolerance: 5 } },
    );
    engine.extendStroke(sampleAt([0.2, 0, 0], UP, 0.5), true);
    engine.endStroke();
    const at = (x: number, z: number) =>
      texels(engine).find((t) => Math.hypot(t.at[0] - x, t.at[2] - z) < 0.01)!;
    expect(at(0, 0).rgba.slice(0, 3)).toEqual([0, 255, 0]);
    expect(isRed(at(0.5, 0))).toBe(true);
  });
});

describe('what a stroke can reach', () => {
  it('is the part of the model that its guard, its facing and the layer’s paint let through', () => {
    const engine = engineFor(together(floor(), ball(32, 16, 0.3, [0, 0.5, 0])));
    const style = { ...PLAIN_STROKE, nearSide: true };
    const share = (map: { sheets: readonly Uint8Array[] }): number =>
      map.sheets[0]!.reduce((sum, v) => sum + v, 0) / 255;
    const free = share(engine.reach(PAINT, { ...style, nearSide: false }, {}, [0, 1, 0]));
    const facing = share(engine.reach(PAINT, style, {}, [0, 1, 0]));
    const floorOnly = share(engine.reach(PAINT, style, { guard: { part: 'Floor' } }, [0, 1, 0]));
    expect(facing).toBeLessThan(free * 0.9);
    expect(floorOnly).toBeLessThan(facing);
    expect(share(engine.reach(PAINT, style, { keepAlpha: true }, [0, 1, 0]))).toBe(0);
    expect(engine.document.guards).toEqual([]);
  });
});

describe('a tip that is a picture', () => {
  /** An arrow head: covers the upper half of a square of ten pixels. */
  const png = encodePng({
    width: 10,
    height: 10,
    rgba: Uint8Array.from({ length: 400 }, (_, i) => (i % 4 === 3 ? (i < 200 ? 255 : 0) : 0)),
  });
  const style = {
    ...PLAIN_STROKE,
    nearSide: false,
    color: '#ff0000',
    brush: { ...PLAIN_BRUSH, edge: 0, tip: PICTURE_TIP } as const,
  };

  const stamped = (): Engine => {
    const engine = engineFor(floor());
    engine.beginStroke(PAINT, style, { tip: { name: 'Half', png } });
    engine.extendStroke(sampleAt([0, 0, 0], UP, 0.5), true);
    engine.endStroke();
    return engine;
  };

  it('covers where the picture does, whole, and is kept with the project once', () => {
    const engine = stamped();
    const red = texels(engine).filter(isRed);
    // Half a square whose corners lie on the rim: as wide as the radius times the root of two.
    const half = 0.5 / Math.SQRT2;
    for (const { at } of red) {
      expect(Math.abs(at[0])).toBeLessThan(half + 0.03);
      expect(at[2]).toBeLessThan(0.03);
      expect(at[2]).toBeGreaterThan(-half - 0.03);
    }
    const area = red.length / texels(engine).length;
    expect(area * 4).toBeCloseTo(2 * half * half, 1);
    expect(engine.document.patterns).toEqual([
      { id: expect.any(Number) as number, name: 'Half', width: 10, height: 10, listed: false },
    ]);
    engine.beginStroke(PAINT, style, { tip: { name: 'Half', png: png.slice() } });
    engine.extendStroke(sampleAt([0.5, 0, 0.5], UP, 0.2), true);
    engine.endStroke();
    expect(engine.document.patterns).toHaveLength(1);
  });

  it('is undone and done again, painted again from a project file, and needed by its strokes', () => {
    const engine = stamped();
    const after = texels(engine);
    const { id } = engine.document.patterns[0]!;
    engine.undo();
    expect(engine.document.patterns).toEqual([]);
    engine.redo();
    expect(texels(engine)).toEqual(after);
    expect(() => engine.apply({ do: 'remove-pattern', pattern: id })).toThrow(/Strokes were painted with/);
    const { document, mesh } = engine;
    const read = readProjectFile(writeProjectFile({ document, mesh, ...engine.everything() }));
    expect(read.files.get(id)).toEqual(png);
    engine.apply({ do: 'edit-strokes', layer: PAINT, strokes: [0], change: { color: '#fe0000' } });
    expect(texels(engine).filter(({ rgba }) => rgba[0] === 254).length).toBe(after.filter(isRed).length);
  });

  it('another that comes after an undo, under the same number, is the one that paints', () => {
    const engine = stamped();
    engine.undo();
    const full = encodePng({ width: 1, height: 1, rgba: Uint8Array.of(0, 0, 0, 255) });
    engine.beginStroke(PAINT, style, { tip: { name: 'Full', png: full } });
    engine.extendStroke(sampleAt([0, 0, 0], UP, 0.5), true);
    engine.endStroke();
    engine.apply({
      do: 'edit-strokes',
      layer: PAINT,
      strokes: [0],
      change: { opacity: 1, color: '#ff0001' },
    });
    const red = texels(engine).filter(({ rgba }) => rgba[2] === 1);
    expect(red.some(({ at }) => at[2] > 0.2)).toBe(true);
  });

  it('one that can’t be read is refused with a sentence, and nothing is in hand', () => {
    const engine = engineFor(floor());
    expect(() =>
      engine.beginStroke(PAINT, style, { tip: { name: 'Broken', png: png.slice(0, 30) } }),
    ).toThrow(/“Broken” can’t be read/);
    expect(engine.strokeInHand).toBe(false);
  });
});

describe('one side copied onto the other', () => {
  const plane = {
    point: [0, 0, 0] as [number, number, number],
    normal: [1, 0, 0] as [number, number, number],
  };
  const from = [-1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0];

  it('takes the place of what is there, what is empty too, and is one step', () => {
    const engine = engineFor(floor());
    lay(engine, { ...PLAIN_STROKE, color: '#ff0000', brush: ON, runs: [sampleAt([-0.5, 0, 0.3], UP, 0.2)] });
    lay(engine, { ...PLAIN_STROKE, color: '#00ff00', brush: ON, runs: [sampleAt([0.5, 0, -0.5], UP, 0.2)] });
    lay(engine, {
      tool: 'copy',
      from,
      whole: { ...plane, twins: false },
      ...brushed,
      brush: PLAIN_BRUSH,
      runs: [],
    });
    const all = texels(engine);
    const key = (x: number, z: number): string => `${x.toFixed(3)} ${z.toFixed(3)}`;
    const byPlace = new Map(all.map(({ at, rgba }) => [key(at[0], at[2]), rgba]));
    const differing = all.filter(({ at, rgba }) => {
      const other = byPlace.get(key(-at[0], at[2]));
      return other && Math.abs(at[0]) > 0.02 && rgba.some((v, k) => Math.abs(v - other[k]!) > 1);
    });
    expect(differing).toEqual([]);
    expect(all.some(isRed)).toBe(true);
    expect(all.some(({ rgba }) => rgba[1] === 255 && rgba[3] === 255)).toBe(false);
    engine.undo();
    expect(texels(engine).some(({ rgba }) => rgba[1] === 255)).toBe(true);
  });
});

describe('symmetry by the mesh', () => {
  /** A ball whose side of +X is drawn out to an egg. */
  const egg = (() => {
    const mesh = ball(48, 32, 0.5);
    const positions = mesh.positions.map((p, i) => (i % 3 === 0 && p > 0 ? p * 1.4 : p));
    return { ...mesh, positions };
  })();
  const stroke = (twins: boolean): StrokeWish => ({
    ...PLAIN_STROKE,
    color: '#ff0000',
    nearSide: false,
    brush: ON,
    symmetry: {
      planes: [{ point: [0, 0, 0], normal: [1, 0, 0] }],
      axis: null,
      ...(twins && { twins }),
    },
    runs: [sampleAt([-0.35, 0.35, 0], [-0.7, 0.7, 0], 0.08)],
  });
  const middleOf = (engine: Engine): readonly number[] => {
    const red = texels(engine).filter((t) => isRed(t) && t.at[0] > 0);
    return [0, 1].map((k) => red.reduce((sum, { at }) => sum + at[k]!, 0) / red.length);
  };

  it('meets the place that stands for it on a side that is drawn out; straight, it would lie elsewhere', () => {
    const engine = engineFor(egg);
    lay(engine, stroke(true));
    const [x, y] = middleOf(engine);
    expect(x).toBeCloseTo(0.35 * 1.4, 1);
    expect(Math.abs(x! - 0.49)).toBeLessThan(0.02);
    expect(Math.abs(y! - 0.35)).toBeLessThan(0.02);
    const straight = engineFor(egg);
    lay(straight, stroke(false));
    expect(middleOf(straight)[0]!).toBeLessThan(0.45);
  });

  it('brings one side over to where it belongs on the other', () => {
    const engine = engineFor(egg);
    const { symmetry: _, ...plain } = stroke(true) as StyleOf<'brush'> & { runs: number[][] };
    lay(engine, plain);
    lay(engine, {
      tool: 'copy',
      from: [-1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0],
      whole: { point: [0, 0, 0], normal: [1, 0, 0], twins: true },
      ...brushed,
      brush: PLAIN_BRUSH,
      runs: [],
    });
    expect(Math.abs(middleOf(engine)[0]! - 0.49)).toBeLessThan(0.02);
  });
});

describe('the film of a layer', () => {
  const STROKES = ['#ff0000', '#00ff00', '#0000ff'].map((color, i) => ({
    ...PLAIN_STROKE,
    color,
    runs: [line([-0.8, 0, i * 0.2], [0.8, 0, i * 0.1], 0.2)],
  }));

  it('shows the layer after any number of strokes, changes nothing, and gives way to what is done', () => {
    const engine = engineFor(floor());
    const states = [texels(engine)];
    for (const stroke of STROKES) {
      lay(engine, stroke);
      states.push(texels(engine));
    }
    const { document } = engine;
    for (const count of [0, 2, 3, 1, 0, 3, 2]) {
      engine.showFilm(PAINT, 'pixels', count);
      expect(texels(engine)).toEqual(states[count]);
    }
    expect(engine.document).toBe(document);
    engine.showFilm(PAINT, 'pixels', null);
    expect(texels(engine)).toEqual(states[3]);
    engine.showFilm(PAINT, 'pixels', 1);
    engine.undo();
    expect(texels(engine)).toEqual(states[2]);
    engine.showFilm(PAINT, 'pixels', 0);
    lay(engine, STROKES[2]!);
    expect(texels(engine)).toEqual(states[3]);
    expect(() => engine.showFilm(PAINT, 'pixels', 4)).toThrow(/only 3 strokes/);
  });
});
