import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { topologyOf } from '../../mesh';
import {
  borderCrossings,
  cheapestPath,
  cutIntoCharts,
  flattenChart,
  foldedTriangles,
  measureDistortion,
  shapeOf,
  type Chart,
} from '..';
import { sheet, cylinder, cone, folded } from '../../../tests/charts';

describe('flattening', () => {
  // A developable surface has a map without any stretch (do Carmo, Differential Geometry of Curves and Surfaces, 4-3).
  it.each([
    ['a cylinder', sheet(40, 12, cylinder)],
    ['a cone', sheet(60, 12, cone)],
    ['a folded sheet', sheet(10, 8, folded)],
  ])('%s lies flat with a stretch of 1', (_name, chart) => {
    const { uv, energy, overlaps } = flattenChart(chart, { steps: 300, tolerance: 1e-9 });
    const { stretchL2, stretchLinf, angle, area } = measureDistortion(chart, uv);
    expect(overlaps).toBe(false);
    expect(foldedTriangles(chart, uv)).toBe(0);
    expect(energy).toBeLessThan(4.001);
    expect(stretchL2).toBeLessThan(1.001);
    expect(stretchLinf).toBeLessThan(1.001);
    expect(angle).toBeLessThan(1.001);
    expect(area).toBeLessThan(1.001);
  });

  it('a dome folds nowhere, and relaxing beats the conformal map', () => {
    const dome = sheet(20, 20, (u, v) => {
      const x = u * 2 - 1;
      const z = v * 2 - 1;
      return [x, Math.sqrt(Math.max(0, 2.1 - x * x - z * z)), -z];
    });
    const relaxed = flattenChart(dome);
    const conformal = flattenChart(dome, { steps: 0 });
    expect(foldedTriangles(dome, relaxed.uv)).toBe(0);
    expect(relaxed.energy).toBeLessThan(conformal.energy);
  });

  it('refuses a closed surface with a sentence', () => {
    const closed: Chart = {
      positions: new Float32Array([0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1]),
      indices: new Uint32Array([0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3]),
    };
    expect(() => flattenChart(closed)).toThrow(expect.objectContaining({ code: 'unwrap-closed' }));
  });

  it('never folds a triangle, whatever the bumps', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -0.6, max: 0.6, noNaN: true }), { minLength: 49, maxLength: 49 }),
        (bumps) => {
          const chart = sheet(6, 6, (u, v) => [u, bumps[Math.round(v * 6) * 7 + Math.round(u * 6)]!, -v]);
          const { uv } = flattenChart(chart);
          expect(foldedTriangles(chart, uv)).toBe(0);
        },
      ),
      { numRuns: 40 },
    );
  });

  it('bears needles and triangles without area', () => {
    const chart = sheet(6, 6, (u, v) => [u, 0, -v]);
    const positions = chart.positions.slice();
    positions.set([0.5, 0, -0.5], 3 * 10);
    positions.set([0.5, 0, -0.5], 3 * 11);
    const { uv } = flattenChart({ ...chart, positions });
    expect(uv.every(Number.isFinite)).toBe(true);
  });
});

describe('cutting', () => {
  it('a slit that ends inside opens the chart without dividing it', () => {
    const flat = sheet(4, 4, (u, v) => [u, 0, -v]);
    const topology = topologyOf(flat);
    const cut = new Uint8Array(topology.edges.uses.length);
    const path = cheapestPath(topology, () => 1, [2], new Set([12]));
    expect(path).toHaveLength(2);
    for (const e of path) cut[e] = 1;
    const [chart, ...rest] = cutIntoCharts(flat, topology, cut);
    expect(rest).toEqual([]);
    expect(chart!.positions.length / 3).toBe(25 + 2);
    expect(shapeOf(chart!)).toMatchObject({ euler: 1 });
  });

  // Euler characteristics: closed ball 2, disc 1, ring 0.
  it('tells ball, disc and ring apart', () => {
    const ring = sheet(12, 2, (u, v) => [Math.sin(u * 2 * Math.PI) || 0, v, Math.cos(u * 2 * Math.PI)]);
    // The last column lies where the first does: joined by its positions, it is a ring.
    for (let j = 0; j <= 2; j++) ring.positions.copyWithin((j * 13 + 12) * 3, j * 13 * 3, j * 13 * 3 + 3);
    const all = (mesh: Chart): Chart => {
      const t = topologyOf(mesh);
      return cutIntoCharts(mesh, t, new Uint8Array(t.edges.uses.length))[0]!;
    };
    expect(shapeOf(all(ring)).euler).toBe(0);
    expect(shapeOf(all(ring)).loops).toHaveLength(2);
    expect(shapeOf(sheet(3, 3, (u, v) => [u, 0, v])).euler).toBe(1);
    const tetrahedron = {
      positions: new Float32Array([0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1]),
      indices: new Uint32Array([0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3]),
    };
    expect(shapeOf(tetrahedron)).toMatchObject({ euler: 2, loops: [] });
  });

  it('a layout that lies over itself has borders that cross', () => {
    const strip = sheet(30, 1, (u, v) => [u * 10, 0, -v]);
    const curled = (turns: number): Float64Array =>
      Float64Array.from({ length: 62 * 2 }, (_, i) => {
        const v = i >> 1;
        const angle = ((v % 31) / 30) * turns * 2 * Math.PI;
        const r = v < 31 ? 2 : 1;
        return i % 2 ? r * Math.sin(angle) : r * Math.cos(angle);
      });
    expect(borderCrossings(strip, curled(0.9))).toEqual([]);
    expect(borderCrossings(strip, curled(1.2)).length).toBeGreaterThan(0);
  });
});
