import { describe, expect, it } from 'vitest';
import { ball } from '../../tests/shapes';
import type { UvMesh } from '../mesh';
import {
  applyLayoutEdit,
  cornerUvs,
  measureIslands,
  measureLayout,
  moveFaces,
  packLayout,
  sheetMove,
  unwrapModel,
  withCornerUvs,
} from '.';
import { sheet, model, boxShape } from '../../tests/charts';

describe('corners', () => {
  it('a layout taken off and put on again is the same', () => {
    const mesh = ball(12, 8);
    const again = withCornerUvs(mesh, cornerUvs(mesh));
    expect(cornerUvs(again)).toEqual(cornerUvs(mesh));
    expect(again.positions.length).toBeLessThanOrEqual(mesh.positions.length);
  });
});

describe('changing a layout', () => {
  const laid = unwrapModel(model(boxShape()), { size: 256, margin: 4, seams: 'creases' });
  const faces = [0, 1];

  it.each([
    ['a box', { kind: 'box' }],
    ['the front', { kind: 'plane', right: [1, 0, 0], up: [0, 1, 0] }],
    ['a cylinder', { kind: 'cylinder' }],
    ['a ball', { kind: 'sphere' }],
  ] as const)('projects from %s only what is chosen', (_name, projection) => {
    const after = cornerUvs(applyLayoutEdit(laid, { do: 'project', faces, projection }));
    expect(after.every(Number.isFinite)).toBe(true);
    expect(after.slice(12)).toEqual(cornerUvs(laid).slice(12));
  });

  it('a box projection of a box is without stretch', () => {
    const projected = applyLayoutEdit(laid, { do: 'project', faces: [], projection: { kind: 'box' } });
    expect(measureLayout(projected, 256).stretchL2).toBeCloseTo(1, 5);
  });

  it('moves, turns and flips: turned four times by a quarter it lies where it was', () => {
    const quarter = sheetMove([0.5, 0.5], { turn: Math.PI / 2 });
    let mesh = laid;
    for (let i = 0; i < 4; i++) mesh = moveFaces(mesh, (f) => (f < 2 ? quarter : null));
    cornerUvs(mesh).forEach((x, i) => expect(x).toBeCloseTo(cornerUvs(laid)[i]!, 5));
    const flipped = moveFaces(laid, (f) => (f < 2 ? sheetMove([0.5, 0.5], { scaleU: -1 }) : null));
    expect(measureLayout(flipped, 256).flipped).toBe(2);
  });

  it('packs round what is pinned, evenly by weight', () => {
    const uneven = moveFaces(laid, (f) => (f < 2 ? sheetMove([0, 0], { scaleU: 0.3, scaleV: 0.3 }) : null));
    const packed = packLayout(uneven, {
      size: 256,
      margin: 4,
      even: true,
      arrange: 'tightest',
      weights: new Map(),
      pins: [4],
    });
    const m = measureLayout(packed, 256);
    expect(m).toMatchObject({ flipped: 0, overlappedTexels: 0 });
    expect(cornerUvs(packed).slice(24, 36)).toEqual(cornerUvs(uneven).slice(24, 36));
    const densities = measureIslands(packed, 256).map((i) => i.density);
    const others = densities.filter((_, i) => i !== 2);
    expect(Math.max(...others) / Math.min(...others)).toBeCloseTo(1, 3);
  });

  it('keeps every island’s turn unless the tightest packing is asked for', () => {
    const leaning = moveFaces(laid, (f) =>
      sheetMove([0.5, 0.5], { turn: f < 4 ? 0.4 : -0.3, scaleU: 0.6, scaleV: 0.6 }),
    );
    /** The direction of each triangle's first side. */
    const turnsOf = (mesh: UvMesh): number[] => {
      const uvs = cornerUvs(mesh);
      return Array.from(mesh.faceParts, (_, f) =>
        Math.atan2(uvs[f * 6 + 3]! - uvs[f * 6 + 1]!, uvs[f * 6 + 2]! - uvs[f * 6]!),
      );
    };
    const how = { size: 256, margin: 4, even: true, weights: new Map<string, number>(), pins: [] };
    const upright = packLayout(leaning, { ...how, arrange: 'upright' });
    expect(measureLayout(upright, 256)).toMatchObject({ flipped: 0, overlappedTexels: 0 });
    turnsOf(upright).forEach((turn, f) => expect(turn).toBeCloseTo(turnsOf(leaning)[f]!, 4));
    const tightest = packLayout(leaning, { ...how, arrange: 'tightest' });
    expect(turnsOf(tightest).some((turn, f) => Math.abs(turn - turnsOf(leaning)[f]!) > 0.1)).toBe(true);
    expect(measureLayout(tightest, 256).fill).toBeGreaterThan(measureLayout(upright, 256).fill);
  });

  it('flattens only what is chosen, along the seams, where it was', () => {
    const seams = [0, 1, 2, 3, 4, 5];
    const edit = { do: 'flatten', how: { seams, faces, size: 256, margin: 4 } } as const;
    const after = applyLayoutEdit(laid, edit);
    expect(cornerUvs(after).slice(12)).toEqual(cornerUvs(laid).slice(12));
    expect(measureLayout(after, 256)).toMatchObject({ flipped: 0, overlappedTexels: 0 });
  });

  // A bent strip of quads, its corners pulled about in the layout: straight again, it is an exact rectangle.
  it('straightens a strip of quads into an exact rectangle', () => {
    const strip = model(sheet(12, 2, (u, v) => [Math.sin(u * 3), v, Math.cos(u * 3)]));
    const bent = unwrapModel(strip, { size: 256, margin: 4, seams: 'auto' });
    const at = cornerUvs(bent);
    const sheared = at.map((x, i) => (i % 2 ? x : x + 0.05 * Math.sin(at[i + 1]! * 12)));
    const pulled = moveFaces(withCornerUvs(bent, sheared), () => sheetMove([0, 0], { turn: 0.05 }));
    expect(measureLayout(pulled, 256).stretchL2).toBeGreaterThan(1.02);
    const straight = applyLayoutEdit(pulled, { do: 'straighten', faces: [] });
    const uv = cornerUvs(straight);
    const us = new Set([...uv].filter((_, i) => i % 2 === 0).map((x) => x.toFixed(5)));
    const vs = new Set([...uv].filter((_, i) => i % 2 === 1).map((x) => x.toFixed(5)));
    expect([us.size, vs.size].sort((a, b) => a - b)).toEqual([3, 13]);
    expect(measureLayout(straight, 256).stretchL2).toBeLessThan(1.01);
  });

  it('says so where nothing is a grid of quads', () => {
    const lone = unwrapModel(
      model({ positions: Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0), indices: Uint32Array.of(0, 1, 2) }),
      { size: 256, margin: 4, seams: 'auto' },
    );
    expect(() => applyLayoutEdit(lone, { do: 'straighten', faces: [] })).toThrow(
      expect.objectContaining({ code: 'unwrap-no-grid' }),
    );
  });
});
