import { describe, expect, it } from 'vitest';
import { ball, quads } from '../../../tests/shapes';
import { CoreError } from '../../errors';
import type { UvMesh } from '../../mesh';
import { doubledArea, meanDensity, slantIslands, snapBorders } from '..';

const SIZE = 256;
/** A square island whose borders lie between texels, aslant by `tilt` texels over its width. */
function square(tilt = 0): UvMesh {
  const mesh = quads([
    {
      part: 'Floor',
      corners: [
        [-1, 0, 1],
        [1, 0, 1],
        [1, 0, -1],
        [-1, 0, -1],
      ],
      place: [0.1013, 0.2027, 0.6041, 0.7083],
    },
  ]);
  const uvs = mesh.uvs.slice();
  for (let v = 0; v < uvs.length; v += 2) uvs[v + 1]! += ((uvs[v]! - 0.1013) / 0.5028) * (tilt / SIZE);
  return { ...mesh, uvs };
}
const all = (mesh: UvMesh): number[] => [...mesh.faceParts.keys()];
const offTexel = (x: number): number => Math.abs(x * SIZE - Math.round(x * SIZE));

describe('borders onto whole texels', () => {
  it('lie on the nearest row and column, also where they ran a little aslant', () => {
    for (const tilt of [0, 1.5]) {
      const mesh = square(tilt);
      const snapped = snapBorders(mesh, all(mesh), [SIZE]);
      snapped.uvs.forEach((x, i) => {
        expect(offTexel(x)).toBeLessThan(1e-3);
        expect(Math.abs(x - mesh.uvs[i]!) * SIZE).toBeLessThanOrEqual(2);
      });
    }
  });

  it('leave what swings too far, and say so where no border runs straight', () => {
    for (const mesh of [
      square(60),
      { ...square(), uvs: square().uvs.map((_, i) => [0.3, 0.1, 0.6, 0.3, 0.4, 0.7, 0.1, 0.5][i]!) },
    ]) {
      let told: unknown;
      try {
        const snapped = snapBorders(mesh, all(mesh), [SIZE]);
        // The upright borders of the aslant square are straight; the others stay.
        expect(snapped.uvs.filter((x, i) => i % 2 === 1 && offTexel(x) > 0.01).length).toBeGreaterThan(0);
      } catch (error) {
        told = error;
      }
      if (told) {
        expect(told).toBeInstanceOf(CoreError);
        expect((told as CoreError).code).toBe('unwrap-no-grid');
        expect((told as CoreError).message).toMatch(/No border there runs along rows or columns/);
      }
    }
  });

  it('fold no triangle, on a layout with many of them', () => {
    const mesh = ball(24, 12);
    const snapped = snapBorders(mesh, all(mesh), [64]);
    for (let f = 0; f < mesh.faceParts.length; f++) {
      const before = doubledArea(mesh.indices, mesh.uvs, f);
      expect(before * doubledArea(snapped.indices, snapped.uvs, f)).toBeGreaterThanOrEqual(
        before === 0 ? 0 : 1e-20,
      );
    }
  });
});

describe('a hand slant', () => {
  it('tilts each island a little and its own way, never by more than three texels; the same seed does the same', () => {
    const mesh = quads([
      {
        part: 'A',
        corners: [
          [0, 0, 1],
          [1, 0, 1],
          [1, 0, 0],
          [0, 0, 0],
        ],
        place: [0.1, 0.1, 0.4, 0.4],
      },
      {
        part: 'B',
        corners: [
          [2, 0, 1],
          [3, 0, 1],
          [3, 0, 0],
          [2, 0, 0],
        ],
        place: [0.5, 0.5, 0.9, 0.9],
      },
    ]);
    const slant = { degrees: 2, seed: 7 };
    const made = slantIslands(mesh, all(mesh), [SIZE], slant);
    const moves = [...made.uvs].map((x, i) => (x - mesh.uvs[i]!) * SIZE);
    expect(Math.max(...moves.map(Math.abs))).toBeGreaterThan(0.1);
    expect(Math.max(...moves.map(Math.abs))).toBeLessThanOrEqual(3.0001);
    expect(moves.slice(0, 8)).not.toEqual(moves.slice(8));
    expect(slantIslands(mesh, all(mesh), [SIZE], slant).uvs).toEqual(made.uvs);
    expect(slantIslands(mesh, all(mesh), [SIZE], { ...slant, seed: 8 }).uvs).not.toEqual(made.uvs);
    // Shear keeps areas but for the product of both tilts.
    expect(meanDensity(made) / meanDensity(mesh)).toBeCloseTo(1, 2);
    const one = slantIslands(mesh, [2, 3], [SIZE], slant);
    expect([...one.uvs.subarray(0, 8)]).toEqual([...mesh.uvs.subarray(0, 8)]);
    expect([...one.uvs.subarray(8)]).toEqual([...made.uvs.subarray(8)]);
  });
});
