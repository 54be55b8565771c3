import { describe, expect, it } from 'vitest';
import { plate, seamedFloor } from '../../tests/shapes';
import { measureSurface } from '../surface';
import { createPlainKernels, createWasmKernels } from '../kernels';
import { ciede2000, rgbToCielab, type Cielab } from '../color';
import type { UvMesh } from '../mesh';
import { Engine } from './engine';
import { compositeSheet, flattenAlbedo } from './pictures/flatten';
import { newDocument } from '../document';
import { alphaAt, engineOn, PAINT, watchedEngine } from '../../tests/engines';
import { HARD, line, SOFT_STROKE } from '../../tests/strokes';
import { PLAIN_BRUSH, SAMPLE_STRIDE } from '../paint';

describe('strokes', () => {
  it('the same strokes give the same pixels, however their samples were handed over', () => {
    const samples = line([-0.7, 0, 0.1], [0.7, 0, -0.2], 0.2, 40);
    const whole = watchedEngine(seamedFloor()).engine;
    whole.beginStroke(PAINT, SOFT_STROKE);
    whole.extendStroke(samples, true);
    whole.endStroke();
    const bits = watchedEngine(seamedFloor()).engine;
    bits.beginStroke(PAINT, SOFT_STROKE);
    for (let i = 0; i < samples.length; i += 3 * SAMPLE_STRIDE) {
      bits.extendStroke(samples.slice(i, i + 3 * SAMPLE_STRIDE), false);
    }
    bits.endStroke();
    expect(compositeSheet(bits)).toEqual(compositeSheet(whole));
    // And once more from the record.
    const again = watchedEngine(seamedFloor()).engine;
    const { keepAlpha: _k, within: _w, frame: _f, ...again_ } = whole.strokesOf(PAINT)[0]!;
    again.apply({ do: 'stroke', layer: PAINT, stroke: again_ });
    expect(compositeSheet(again)).toEqual(compositeSheet(whole));
  });

  it('runs through an island border without a seam', () => {
    const { engine } = watchedEngine(seamedFloor(), 256);
    engine.apply({
      do: 'stroke',
      layer: PAINT,
      stroke: { ...SOFT_STROKE, opacity: 1, runs: [line([-0.6, 0, 0], [0.6, 0, 0], 0.25)] },
    });
    // The last texel of the left island and the first of the right one lie beside each other on the model.
    const left = Math.floor(0.4 * 256) - 1;
    const right = Math.ceil(0.6 * 256);
    for (let y = 70; y < 240; y += 5) {
      expect(
        Math.abs(alphaAt(engine, PAINT, left, y) - alphaAt(engine, PAINT, right, y)),
      ).toBeLessThanOrEqual(6);
    }
    expect(alphaAt(engine, PAINT, left, 154)).toBeGreaterThan(200);
    // Paint reaches past the border into the gutter, where filtering will look for it.
    expect(alphaAt(engine, PAINT, left + 5, 154)).toBeGreaterThan(200);
  });

  it('does not reach the far side of a thin plate, unless that is asked for', () => {
    const paintOver = (nearSide: boolean): number => {
      const { engine } = watchedEngine(plate(0.02), 128);
      engine.apply({
        do: 'stroke',
        layer: PAINT,
        stroke: { ...SOFT_STROKE, nearSide, runs: [line([-0.3, 0, 0], [0.3, 0, 0], 0.3)] },
      });
      expect(alphaAt(engine, PAINT, 32, 128 - 32)).toBeGreaterThan(150);
      return alphaAt(engine, PAINT, 96, 32);
    };
    expect(paintOver(true)).toBe(0);
    expect(paintOver(false)).toBeGreaterThan(100);
  });

  it('stays on its part when it is told to', () => {
    const stroke = (part: string | null): number => {
      const { engine } = watchedEngine(plate(0.02, 'Under'), 128);
      engine.apply({
        do: 'stroke',
        layer: PAINT,
        guard: part === null ? null : { part },
        stroke: { ...SOFT_STROKE, nearSide: false, runs: [line([-0.3, 0, 0], [0.3, 0, 0], 0.3)] },
      });
      return alphaAt(engine, PAINT, 96, 32);
    };
    expect(stroke('Plate')).toBe(0);
    expect(stroke(null)).toBeGreaterThan(100);
    expect(stroke('Under')).toBeGreaterThan(100);
    // A part that isn't there means nothing, not everything.
    expect(stroke('Gone')).toBe(0);
  });

  it('does not build up on itself within one stroke, but does over two', () => {
    const { engine } = watchedEngine(seamedFloor());
    const back = [...line([-0.6, 0, 0], [-0.2, 0, 0], 0.3), ...line([-0.2, 0, 0], [-0.6, 0, 0], 0.3)];
    engine.apply({ do: 'stroke', layer: PAINT, stroke: { ...SOFT_STROKE, opacity: 0.5, runs: [back] } });
    const once = alphaAt(engine, PAINT, 28, 77);
    expect(once).toBeGreaterThan(120);
    expect(once).toBeLessThanOrEqual(128);
    engine.apply({ do: 'stroke', layer: PAINT, stroke: { ...SOFT_STROKE, opacity: 0.5, runs: [back] } });
    expect(alphaAt(engine, PAINT, 28, 77)).toBeGreaterThan(180);
  });

  it('erases to nothing and then takes up no room', () => {
    const { engine } = watchedEngine(seamedFloor());
    const runs = [line([-0.6, 0, 0], [-0.2, 0, 0], 0.2)];
    engine.apply({ do: 'stroke', layer: PAINT, stroke: { ...SOFT_STROKE, brush: HARD, runs } });
    expect([...engine.tilesOf(PAINT)].length).toBeGreaterThan(0);
    const wide = [line([-0.8, 0, 0], [0, 0, 0], 0.5)];
    engine.apply({
      do: 'stroke',
      layer: PAINT,
      stroke: { ...SOFT_STROKE, erase: true, opacity: 1, brush: HARD, runs: wide },
    });
    expect([...engine.tilesOf(PAINT)]).toEqual([]);
  });

  it('can be given up half-way, and leaves no trace', () => {
    const { engine, commits } = watchedEngine(seamedFloor());
    const before = compositeSheet(engine);
    engine.beginStroke(PAINT, SOFT_STROKE);
    engine.extendStroke(line([-0.6, 0, 0], [0.2, 0, 0], 0.3), true);
    expect(compositeSheet(engine)).not.toEqual(before);
    engine.cancelStroke();
    expect(compositeSheet(engine)).toEqual(before);
    expect(commits).toEqual([]);
    engine.beginStroke(PAINT, SOFT_STROKE);
    engine.extendStroke(line([-0.6, 0, 0.5], [0.2, 0, 0.5], 0.05), true);
    engine.endStroke();
    // Coverage of the stroke that was given up must not come back.
    expect(alphaAt(engine, PAINT, 28, 77)).toBe(0);
  });

  it('a stroke beside the model leaves no step', () => {
    const { engine } = watchedEngine(seamedFloor());
    engine.apply({
      do: 'stroke',
      layer: PAINT,
      stroke: { ...SOFT_STROKE, runs: [line([8, 8, 8], [9, 9, 9], 0.1)] },
    });
    expect(engine.history.done).toBe(0);
  });

  it('plain and WebAssembly kernels paint alike', () => {
    const runs = [line([-0.7, 0, 0.3], [0.7, 0, -0.3], 0.22, 30)];
    const sheets = [createPlainKernels(), createWasmKernels()].map((kernels) => {
      const { engine } = watchedEngine(seamedFloor(), 128, kernels);
      engine.apply({ do: 'stroke', layer: PAINT, stroke: { ...SOFT_STROKE, runs } });
      return compositeSheet(engine);
    });
    expect(sheets[0]!.every((x, i) => Math.abs(x - sheets[1]![i]!) <= 1)).toBe(true);
  });

  it('refuses a layer that is not for painting, with a sentence', () => {
    const { engine } = watchedEngine(seamedFloor());
    expect(() => engine.beginStroke(1, SOFT_STROKE)).toThrow(/not a paint layer/);
    expect(() => engine.beginStroke(99, SOFT_STROKE)).toThrow(/no longer there/);
  });

  it('with room for hardly a tile in memory every texel is the same: what has no room is packed', () => {
    const engines = [undefined, 1].map((pixelBudget) => {
      const surface = measureSurface(seamedFloor(), 256);
      return new Engine({
        surface,
        kernels: createWasmKernels(),
        document: newDocument('Test', 256),
        ...(pixelBudget ? { pixelBudget } : {}),
      });
    });
    const [roomy, tight] = engines.map((engine) => {
      for (const z of [-0.5, 0, 0.5]) {
        const runs = [line([-0.6, 0, z], [0.6, 0, z], 0.3)];
        engine.apply({ do: 'stroke', layer: PAINT, stroke: { ...SOFT_STROKE, runs } });
      }
      engine.undo();
      engine.undo();
      engine.redo();
      return compositeSheet(engine);
    });
    expect(tight).toEqual(roomy);
  });
});

describe('a soft stroke over a seam', () => {
  it('leaves no mark there, in the second mip either', () => {
    const size = 256;
    const engine = engineOn(seamedFloor(), size);
    const soft = { ...PLAIN_BRUSH, edge: 1 };
    engine.apply({
      do: 'stroke',
      layer: PAINT,
      stroke: { ...SOFT_STROKE, brush: soft, runs: [line([-0.7, 0, 0.1], [0.7, 0, -0.1], 0.35)] },
    });
    const { mesh } = engine;
    let level = { side: size, rgba: flattenAlbedo(engine, { size, bleed: Infinity }).rgba };
    for (let mip = 0; mip <= 2; mip++) {
      // Along x = 0, where the islands meet: what either of them shows at the same place (common practice: 2 is hardly seen).
      let worst = 0;
      for (let z = -0.6; z <= 0.6; z += 0.02) {
        const [left, right] = [0, 1].map((side) => {
          const face = [...mesh.faceParts.keys()].find((f) => f >> 1 === side && holdsSeam(mesh, f, z))!;
          return cielabAt(level, ...uvOf(mesh, face, z));
        }) as [Cielab, Cielab];
        worst = Math.max(worst, ciede2000(left, right).deltaE);
      }
      expect(worst).toBeLessThan(2);
      level = halved(level);
    }
  });
});

type Level = { readonly side: number; readonly rgba: Uint8Array };

/** Whether a triangle has the place (0, 0, z) on an edge. */
const holdsSeam = (mesh: UvMesh, face: number, z: number): boolean => {
  const ends = [0, 1, 2]
    .map((k) => mesh.indices[face * 3 + k]! * 3)
    .filter((v) => Math.abs(mesh.positions[v]!) < 1e-9)
    .map((v) => mesh.positions[v + 2]!);
  return ends.length === 2 && z >= Math.min(...ends) && z <= Math.max(...ends);
};

/** Where (0, 0, z) lies on the sheet, as a triangle has it. */
function uvOf(mesh: UvMesh, face: number, z: number): [number, number] {
  const [a, b] = [0, 1, 2]
    .map((k) => mesh.indices[face * 3 + k]!)
    .filter((v) => Math.abs(mesh.positions[v * 3]!) < 1e-9) as [number, number];
  const t = (z - mesh.positions[a * 3 + 2]!) / (mesh.positions[b * 3 + 2]! - mesh.positions[a * 3 + 2]!);
  return [0, 1].map((k) => mesh.uvs[a * 2 + k]! * (1 - t) + mesh.uvs[b * 2 + k]! * t) as [number, number];
}

/** A colour between four texels, as a renderer filters it. */
function cielabAt({ side, rgba }: Level, u: number, v: number): Cielab {
  const [x, y] = [u * side - 0.5, (1 - v) * side - 0.5];
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  const held = (at: number): number => Math.min(side - 1, Math.max(0, at));
  const mean = [0, 1, 2].map((k) => {
    let sum = 0;
    for (let n = 0; n < 4; n++) {
      const w = (n & 1 ? x - x0 : 1 - (x - x0)) * (n >> 1 ? y - y0 : 1 - (y - y0));
      sum += w * rgba[(held(y0 + (n >> 1)) * side + held(x0 + (n & 1))) * 4 + k]!;
    }
    return sum;
  });
  return rgbToCielab({ r: mean[0]!, g: mean[1]!, b: mean[2]! });
}

/** The next mip: each texel the mean of four. */
function halved({ side, rgba }: Level): Level {
  const half = side / 2;
  const out = Uint8Array.from({ length: half * half * 4 }, (_, i) => {
    const [x, y, k] = [(i >> 2) % half, Math.floor((i >> 2) / half), i & 3];
    const o = (y * 2 * side + x * 2) * 4 + k;
    return Math.round((rgba[o]! + rgba[o + 4]! + rgba[o + side * 4]! + rgba[o + side * 4 + 4]!) / 4);
  });
  return { side: half, rgba: out };
}
