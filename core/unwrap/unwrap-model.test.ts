import { describe, expect, it } from 'vitest';
import { plate, together } from '../../tests/shapes';
import { uvFigures } from '../surface';
import { measureIslands, measureLayout, unwrapModel } from '.';
import { sheet, model, boxShape, moebius, torus } from '../../tests/charts';

describe('a whole model', () => {
  const bumpy = model(
    sheet(60, 30, (u, v) => {
      const a = u * 2 * Math.PI;
      const b = (0.03 + 0.94 * v) * Math.PI;
      const r = 1 + 0.2 * Math.sin(3 * a) * Math.sin(4 * b);
      return [r * Math.sin(b) * Math.cos(a), r * Math.cos(b), -r * Math.sin(b) * Math.sin(a)];
    }),
  );

  it('is laid out evenly, without folds or overlaps, triangle by triangle as it was', () => {
    const unwrapped = unwrapModel(bumpy, { size: 512, margin: 8, seams: 'auto', cut: 'even' });
    const m = measureLayout(unwrapped, 512);
    expect(m).toMatchObject({ flipped: 0, overlappedTexels: 0 });
    expect(m.stretchL2).toBeLessThan(1.01);
    expect(m.fill).toBeGreaterThan(0.45);
    expect(uvFigures(unwrapped)).toEqual({ outOfRange: 0, flipped: 0 });
    for (let c = 0; c < bumpy.indices.length; c++) {
      const was = bumpy.positions.subarray(bumpy.indices[c]! * 3, bumpy.indices[c]! * 3 + 3);
      const is = unwrapped.positions.subarray(unwrapped.indices[c]! * 3, unwrapped.indices[c]! * 3 + 3);
      if (was.join() !== is.join()) throw new Error(`Corner ${c} has moved.`);
    }
  });

  it('gives the same layout each time', () => {
    const options = { size: 512, margin: 8, seams: 'auto' } as const;
    expect(unwrapModel(bumpy, options).uvs).toEqual(unwrapModel(bumpy, options).uvs);
  });

  it('keeps present islands when asked, and cuts along creases', () => {
    const laidOut = unwrapModel(bumpy, { size: 512, margin: 8, seams: 'auto' });
    const again = unwrapModel(laidOut, { size: 512, margin: 8, seams: 'existing' });
    expect(measureLayout(again, 512).islands).toBe(measureLayout(laidOut, 512).islands);
    const box = model(boxShape());
    const creased = unwrapModel(box, { size: 512, margin: 8, seams: 'creases' });
    expect(measureLayout(creased, 512)).toMatchObject({ islands: 6, flipped: 0, overlappedTexels: 0 });
    expect(measureLayout(creased, 512).stretchL2).toBeCloseTo(1, 5);
  });

  it('gives a part with double weight twice the density', () => {
    const two = together(plate(0.2, 'A'), plate(0.2, 'B'));
    const m = unwrapModel(
      { ...two, uvs: null },
      { size: 512, margin: 4, seams: 'auto', weights: new Map([['B', 2]]) },
    );
    const density = (part: string) => measureIslands(m, 512).find((i) => m.parts[i.part] === part)!.density;
    expect(density('B') / density('A')).toBeCloseTo(2, 3);
  });

  it('refuses to keep islands that are not there', () => {
    expect(() => unwrapModel(bumpy, { size: 512, margin: 8, seams: 'existing' })).toThrow(
      expect.objectContaining({ code: 'model-no-uvs' }),
    );
  });

  // A Möbius strip has no two sides: somewhere its winding must change, and there it is cut (a strip lies flat).
  it.each([
    ['a Möbius strip', moebius()],
    ['a torus, genus 1', torus()],
    ['a closed box', boxShape()],
    [
      'two triangles on one edge thrice',
      {
        positions: Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1, 0, -1, 0),
        indices: Uint32Array.of(0, 1, 2, 0, 1, 3, 0, 1, 4),
      },
    ],
    [
      'a single triangle',
      { positions: Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0), indices: Uint32Array.of(0, 1, 2) },
    ],
    [
      'a triangle without area',
      { positions: Float32Array.of(0, 0, 0, 1, 0, 0, 2, 0, 0), indices: Uint32Array.of(0, 1, 2) },
    ],
  ] as const)('%s gets a layout without folds or overlaps', (_name, chart) => {
    const m = measureLayout(unwrapModel(model(chart), { size: 256, margin: 4, seams: 'auto' }), 256);
    expect(m).toMatchObject({ flipped: 0, overlappedTexels: 0 });
  });
});
