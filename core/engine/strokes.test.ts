import { describe, expect, it } from 'vitest';
import { plate, seamedFloor } from '../../tests/shapes';
import { measureSurface } from '../surface';
import { createPlainKernels, createWasmKernels } from '../kernels';
import { Engine, compositeSheet, newDocument } from '.';
import { alphaAt, PAINT, watchedEngine } from '../../tests/engines';
import { HARD, line, SOFT_STROKE } from '../../tests/strokes';
import { SAMPLE_STRIDE } from '../paint';

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
