import { describe, expect, it } from 'vitest';
import { ball, plate } from '../../tests/shapes';
import { measureSurface, uvFigures } from '../surface';
import { boxProjection, flattenChart, foldedTriangles, packPieces, type Chart } from '.';

/** A grid of quads bent by `place`. */
function sheet(
  columns: number,
  rows: number,
  place: (u: number, v: number) => [number, number, number],
): Chart {
  const positions: number[] = [];
  const indices: number[] = [];
  for (let j = 0; j <= rows; j++)
    for (let i = 0; i <= columns; i++) positions.push(...place(i / columns, j / rows));
  for (let j = 0; j < rows; j++) {
    for (let i = 0; i < columns; i++) {
      const p = j * (columns + 1) + i;
      indices.push(p, p + 1, p + columns + 2, p, p + columns + 2, p + columns + 1);
    }
  }
  return { positions: Float32Array.from(positions), indices: Uint32Array.from(indices) };
}

/** Largest relative change of an edge's length. */
function worstStretch(chart: Chart, uv: Float64Array): number {
  let worst = 0;
  for (let c = 0; c < chart.indices.length; c++) {
    const a = chart.indices[c]!;
    const b = chart.indices[c % 3 === 2 ? c - 2 : c + 1]!;
    const solid = Math.hypot(
      ...[0, 1, 2].map((k) => chart.positions[a * 3 + k]! - chart.positions[b * 3 + k]!),
    );
    const flat = Math.hypot(uv[a * 2]! - uv[b * 2]!, uv[a * 2 + 1]! - uv[b * 2 + 1]!);
    worst = Math.max(worst, Math.abs(flat / solid - 1));
  }
  return worst;
}

describe('flattening', () => {
  // A developable surface has a map without any stretch: the relaxation must find it.
  it.each([
    ['a bent strip', sheet(24, 6, (u, v) => [Math.sin(u * 2.4), v, Math.cos(u * 2.4)])],
    [
      'a folded sheet',
      sheet(10, 8, (u, v) => [
        u < 0.5 ? u : 0.5 + (u - 0.5) * 0.5,
        v,
        u < 0.5 ? 0 : (u - 0.5) * Math.sqrt(0.75),
      ]),
    ],
  ])('%s lies flat without stretch', (_name, chart) => {
    const uv = flattenChart(chart, 200);
    expect(foldedTriangles(chart, uv)).toBe(0);
    expect(worstStretch(chart, uv)).toBeLessThan(0.01);
  });

  it('a half ball folds nowhere', () => {
    const dome = sheet(20, 20, (u, v) => {
      const x = u * 2 - 1;
      const z = v * 2 - 1;
      return [x, Math.sqrt(Math.max(0, 2.1 - x * x - z * z)), -z];
    });
    expect(foldedTriangles(dome, flattenChart(dome))).toBe(0);
  });

  it('refuses a closed surface with a sentence', () => {
    const closed: Chart = {
      positions: new Float32Array([0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1]),
      indices: new Uint32Array([0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3]),
    };
    expect(() => flattenChart(closed)).toThrow(/needs a seam/);
  });
});

describe('packing', () => {
  it('places everything on the sheet, apart by the margin', () => {
    const squares = [0.5, 0.3, 0.3, 0.2, 0.9].map((s) => ({
      points: Float64Array.of(0, 0, s, 0, s, s * 0.7, 0, s * 0.7),
    }));
    const placed = packPieces(squares, 0.01);
    const boxes = placed.map((p) => ({
      left: Math.min(p[0]!, p[2]!, p[4]!, p[6]!),
      right: Math.max(p[0]!, p[2]!, p[4]!, p[6]!),
      low: Math.min(p[1]!, p[3]!, p[5]!, p[7]!),
      high: Math.max(p[1]!, p[3]!, p[5]!, p[7]!),
    }));
    boxes.forEach((a, i) => {
      expect(Math.min(a.left, a.low)).toBeGreaterThanOrEqual(0.0099);
      expect(Math.max(a.right, a.high)).toBeLessThanOrEqual(0.9901);
      boxes.slice(i + 1).forEach((b) => {
        const apart = Math.max(a.left - b.right, b.left - a.right, a.low - b.high, b.low - a.high);
        expect(apart).toBeGreaterThan(0.0199);
      });
    });
  });
});

describe('the simple projection for models without UVs', () => {
  it.each([
    ['a plate', plate(0.2, 'Under')],
    ['a ball', ball()],
  ])('gives %s a layout without overlaps, within the sheet, face up', (_name, mesh) => {
    const laidOut = boxProjection({ ...mesh, uvs: null });
    const map = measureSurface(laidOut, 256);
    expect(map.overlappedTexels).toBe(0);
    expect(uvFigures(laidOut)).toEqual({ outOfRange: 0, flipped: 0 });
    expect(map.coveredTexels / 256 ** 2).toBeGreaterThan(0.3);
    expect(laidOut.faceParts).toEqual(mesh.faceParts);
  });
});
