import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { nextCorner } from '../../mesh';
import { type Chart, shapeOf } from '../segment/chart';
import { oppositeCorners } from '../segment/chart-edges';
import { DirichletEnergy } from './dirichlet-energy';
import { restShapes } from '../flatten/rest-shape';
import { RigidFit } from './rigid-fit';

/** A strip of quads in the plane, bent afterwards by `bend`; with a few rows, so that it has inner vertices. */
function strip(
  columns: number,
  rows: number,
  bend: (x: number, y: number) => readonly [number, number, number],
): Chart {
  const positions: number[] = [];
  const indices: number[] = [];
  for (let j = 0; j <= rows; j++) for (let i = 0; i <= columns; i++) positions.push(...bend(i, j));
  for (let j = 0; j < rows; j++) {
    for (let i = 0; i < columns; i++) {
      const p = j * (columns + 1) + i;
      indices.push(p, p + 1, p + columns + 2, p, p + columns + 2, p + columns + 1);
    }
  }
  return { positions: Float32Array.from(positions), indices: Uint32Array.from(indices) };
}

function fitOf(chart: Chart) {
  const shapes = restShapes(chart);
  const rigid = new RigidFit(chart, shapes, oppositeCorners(chart.indices, chart.positions.length / 3));
  return {
    rigid,
    energy: new DirichletEnergy(chart, shapes),
    uv: new Float64Array((chart.positions.length / 3) * 2),
  };
}

describe('unrolling', () => {
  // A developable surface can be laid flat without stretch (do Carmo, Differential Geometry of Curves and Surfaces, 4-3); the
  // energy of no stretch is 4 (two singular values of 1, and their inverses).
  it.each([
    ['a plane', strip(8, 4, (x, y) => [x, 0, -y])],
    ['a screw of two turns', strip(60, 3, (x, y) => [Math.cos(x / 5), x / 30 + y / 4, -Math.sin(x / 5)])],
    ['a zigzag', strip(12, 4, (x, y) => [x * 0.8, x % 2, -y])],
  ])('%s ends without stretch at once', (name, chart) => {
    const { rigid, energy, uv } = fitOf(chart);
    rigid.unroll(uv);
    expect(energy.value(uv)).toBeLessThan(name === 'a screw of two turns' ? 4.001 : 4 + 1e-6);
  });

  it('is as large as the surface, and face up', () => {
    const { rigid, uv } = fitOf(strip(8, 4, (x, y) => [0, x, y]));
    rigid.unroll(uv);
    const area = [...uv].reduce((sum, _, i) => {
      // Round the border: the shoelace formula.
      const border = [...Array(9).keys(), 17, 26, 35, 44, 43, 42, 41, 40, 39, 38, 37, 36, 27, 18, 9];
      if (i >= border.length) return sum;
      const [a, b] = [border[i]!, border[(i + 1) % border.length]!];
      return sum + (uv[a * 2]! * uv[b * 2 + 1]! - uv[b * 2]! * uv[a * 2 + 1]!) / 2;
    }, 0);
    expect(area).toBeCloseTo(32, 4);
  });

  it('a further step leaves a layout without stretch as it is, up to where it lies', () => {
    const { rigid, uv } = fitOf(strip(6, 3, (x, y) => [x, 0, -y]));
    rigid.unroll(uv);
    const out = new Float64Array(uv.length);
    rigid.step(uv, out);
    const dx = out[0]! - uv[0]!;
    const dy = out[1]! - uv[1]!;
    out.forEach((x, i) => expect(x - (i % 2 ? dy : dx)).toBeCloseTo(uv[i]!, 5));
  });
});

describe('the slope of the energy', () => {
  it('is what small moves of a vertex find', () => {
    const { energy, uv } = fitOf(strip(3, 3, (x, y) => [x, (x * y) / 9, -y]));
    for (let v = 0; v < uv.length / 2; v++) {
      uv[v * 2] = (v % 4) + 0.1 * Math.sin(v);
      uv[v * 2 + 1] = Math.floor(v / 4) + 0.1 * Math.cos(3 * v);
    }
    const slope = new Float64Array(uv.length);
    expect(energy.gradient(uv, slope)).toBeCloseTo(energy.value(uv), 12);
    for (let i = 0; i < uv.length; i++) {
      const moved = uv.slice();
      moved[i]! += 1e-6;
      const up = energy.value(moved);
      moved[i]! -= 2e-6;
      expect((up - energy.value(moved)) / 2e-6).toBeCloseTo(slope[i]!, 5);
    }
  });

  it('tells that something is folded', () => {
    const { energy, uv } = fitOf(strip(1, 1, (x, y) => [x, 0, -y]));
    uv.set([0, 0, 1, 0, 0, 1, 1, -1]);
    expect(energy.value(uv)).toBe(Infinity);
    expect(energy.gradient(uv, new Float64Array(8))).toBe(Infinity);
  });

  it('tells how far it is to the first fold', () => {
    const { energy } = fitOf({
      positions: new Float32Array([0, 0, 0, 1, 0, 0, 0, 0, -1]),
      indices: Uint32Array.of(0, 1, 2),
    });
    const uv = Float64Array.of(0, 0, 1, 0, 0, 1);
    // The tip goes down by 2 a unit: it meets the base after half of it.
    expect(energy.firstFold(uv, Float64Array.of(0, 0, 0, 0, 0, 2))).toBeCloseTo(0.5, 12);
    expect(energy.firstFold(uv, Float64Array.of(0, 0, 0, 0, 0, -2))).toBe(Infinity);
  });
});

describe('what lies across an edge', () => {
  it('is the corner that runs the other way, found like by looking at all', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 9 }), { minLength: 3, maxLength: 60 }), (list) => {
        const indices = Uint32Array.from(list.slice(0, list.length - (list.length % 3)));
        const got = oppositeCorners(indices, 10);
        indices.forEach((a, c) => {
          const b = indices[nextCorner(c)]!;
          const all = [...indices.keys()].filter((o) => indices[o] === b && indices[nextCorner(o)] === a);
          if (all.length === 0) expect(got[c]).toBe(-1);
          else expect(all).toContain(got[c]);
        });
      }),
    );
  });

  it('a fan of a hundred thousand triangles round one point is looked through in no time, and has one border', () => {
    const n = 100_000;
    const positions = new Float32Array((n + 1) * 3);
    const indices = new Uint32Array(n * 3);
    for (let i = 0; i < n; i++) {
      positions[(i + 1) * 3] = Math.cos((i / n) * 2 * Math.PI);
      positions[(i + 1) * 3 + 2] = -Math.sin((i / n) * 2 * Math.PI);
      indices.set([0, i + 1, ((i + 1) % n) + 1], i * 3);
    }
    const { loops, euler } = shapeOf({ positions, indices });
    expect(loops.map((l) => l.length)).toEqual([n]);
    expect(euler).toBe(1);
  });
});
