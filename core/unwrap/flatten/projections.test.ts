import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ball } from '../../../tests/shapes';
import { add, cross, leastAxis, normalize, scale, type Vec3 } from '../../math';
import type { Mesh } from '../../mesh';
import { applyLayoutEdit, cornerUvs, measureLayout, projectFaces, unwrapModel, withCornerUvs } from '..';

/** A tube from rings round an axis, its sides looking outward; `part` of the whole way round. */
function tube(axis: Vec3, { part = 1, columns = 24, rows = 6, radius = 0.4, height = 2 } = {}): Mesh {
  const side = normalize(cross(axis, Math.abs(axis[1]) < 0.9 ? [0, 1, 0] : [1, 0, 0]));
  const other = cross(axis, side);
  const positions: number[] = [];
  const indices: number[] = [];
  for (let j = 0; j <= rows; j++) {
    for (let i = 0; i <= columns; i++) {
      const a = (i / columns) * 2 * Math.PI * part;
      const round = add(scale(side, radius * Math.cos(a)), scale(other, radius * Math.sin(a)));
      positions.push(...add(add(round, scale(axis, (j / rows) * height)), [3, -1, 2]));
    }
  }
  const last = part === 1 ? 0 : columns;
  const at = (i: number, j: number): number => j * (columns + 1) + (i === columns ? last : i);
  for (let j = 0; j < rows; j++) {
    for (let i = 0; i < columns; i++) {
      indices.push(at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j), at(i + 1, j + 1), at(i, j + 1));
    }
  }
  return {
    positions: Float32Array.from(positions),
    normals: new Float32Array(positions.length).fill(Math.SQRT1_2),
    uvs: null,
    indices: Uint32Array.from(indices),
    faceParts: new Uint16Array(indices.length / 3),
    parts: ['Tube'],
  };
}

const laidOut = (mesh: Mesh) => unwrapModel(mesh, { size: 256, margin: 4, seams: 'auto', cut: 'even' });
const all = (mesh: Mesh): number[] => Array.from(mesh.faceParts, (_, f) => f);

const directions = fc
  .tuple(fc.double({ min: -1, max: 1, noNaN: true }), fc.double({ min: 0, max: 2 * Math.PI, noNaN: true }))
  .map(([z, a]): Vec3 => [Math.sqrt(1 - z * z) * Math.cos(a), Math.sqrt(1 - z * z) * Math.sin(a), z]);

describe('the axis along which a matrix stretches least', () => {
  it('is that of which the products were made', () => {
    fc.assert(
      fc.property(directions, directions, (n, m) => {
        const axis = cross(n, m);
        fc.pre(Math.hypot(...axis) > 0.1);
        const sum = (i: number, j: number): number => n[i]! * n[j]! + m[i]! * m[j]!;
        const found = leastAxis([sum(0, 0), sum(0, 1), sum(0, 2), sum(1, 1), sum(1, 2), sum(2, 2)])!;
        expect(Math.hypot(...cross(found, normalize(axis)))).toBeLessThan(1e-4);
      }),
    );
  });

  it('is not told where several are as good', () => {
    expect(leastAxis([1, 0, 0, 1, 0, 1])).toBeNull();
    expect(leastAxis([0, 0, 0, 0, 0, 0])).toBeNull();
    expect(leastAxis([1, 0, 0, 0, 0, 0])).toBeNull();
  });
});

describe('a cylinder projection', () => {
  // A cylinder unrolls without stretch; the facets of one with 24 sides are 0.3 % narrower than their arcs (cos 7.5°, squared
  // over the strip's width: chord / arc = sin x / x).
  it('unrolls a tube in whatever direction it lies, face up', () => {
    fc.assert(
      fc.property(directions, (axis) => {
        const mesh = laidOut(tube(axis));
        const { stretchL2, flipped, islands } = measureLayout(
          projectFaces(mesh, all(mesh), { kind: 'cylinder' }),
          256,
        );
        expect(islands).toBe(1);
        expect(flipped).toBe(0);
        expect(stretchL2).toBeLessThan(1.004);
      }),
      { numRuns: 25 },
    );
  });

  it('finds the middle of an arc, and opens it where nothing is', () => {
    fc.assert(
      fc.property(directions, (axis) => {
        const mesh = laidOut(tube(axis, { part: 0.4 }));
        const projected = projectFaces(mesh, all(mesh), { kind: 'cylinder' });
        const { stretchL2, flipped } = measureLayout(projected, 256);
        expect(flipped).toBe(0);
        expect(stretchL2).toBeLessThan(1.004);
        const us = [...cornerUvs(projected)].filter((_, i) => i % 2 === 0);
        const vs = [...cornerUvs(projected)].filter((_, i) => i % 2 === 1);
        // 0.4 of the way round at radius 0.4, beside a height of 2.
        const ratio = (Math.max(...us) - Math.min(...us)) / (Math.max(...vs) - Math.min(...vs));
        expect(ratio).toBeCloseTo((0.4 * 2 * Math.PI * 0.4) / 2, 2);
      }),
      { numRuns: 25 },
    );
  });

  it('opens a tube along its edges, so that it is a rectangle', () => {
    const mesh = laidOut(tube([0, 0, 1], { columns: 16 }));
    const uvs = cornerUvs(projectFaces(mesh, all(mesh), { kind: 'cylinder' }));
    const us = [...uvs].filter((_, i) => i % 2 === 0).sort((a, b) => a - b);
    const columns = us.filter((u, i) => i === 0 || u - us[i - 1]! > 1e-4);
    expect(columns).toHaveLength(17);
  });

  it('lies upright: what is higher on the model is higher on the sheet', () => {
    const mesh = laidOut(tube(normalize([0.3, -1, 0.2])));
    const projected = projectFaces(mesh, all(mesh), { kind: 'cylinder' });
    const uvs = cornerUvs(projected);
    const corners = Array.from(
      projected.indices,
      (v, c) => [projected.positions[v * 3 + 1]!, uvs[c * 2 + 1]!] as const,
    );
    const mean = (i: 0 | 1): number => corners.reduce((s, p) => s + p[i], 0) / corners.length;
    expect(corners.reduce((s, [y, v]) => s + (y - mean(0)) * (v - mean(1)), 0)).toBeGreaterThan(0);
  });

  it('stays on the sheet where it has room', () => {
    const mesh = laidOut(tube([0, 1, 0], { radius: 0.2, height: 1, part: 0.8 }));
    const uvs = cornerUvs(projectFaces(mesh, all(mesh), { kind: 'cylinder' }));
    expect(Math.min(...uvs)).toBeGreaterThanOrEqual(0);
    expect(Math.max(...uvs)).toBeLessThanOrEqual(1);
  });
});

describe('a ball projection', () => {
  it('has no triangle face down, and is twice as long as high', () => {
    const mesh = laidOut(ball(24, 12));
    const projected = projectFaces(mesh, all(mesh), { kind: 'sphere' });
    expect(measureLayout(projected, 256).flipped).toBe(0);
    // Longitude goes round once, 2π; latitude from pole to pole, π.
    const uvs = [...cornerUvs(projected)];
    const [us, vs] = [0, 1].map((axis) => uvs.filter((_, i) => i % 2 === axis)) as [number[], number[]];
    const high = Math.max(...vs) - Math.min(...vs);
    expect((Math.max(...us) - Math.min(...us)) / high).toBeCloseTo(2, 1);
  });
});

describe('straightening', () => {
  it('a tube that is opened along its edges becomes an upright rectangle, its rows as high as on the model', () => {
    const mesh = laidOut(tube([0, 1, 0], { columns: 16 }));
    const open = projectFaces(mesh, all(mesh), { kind: 'cylinder' });
    // Pulled out of shape, as an unfolding by other means might have left it, and turned a little.
    const pulled = withCornerUvs(
      open,
      cornerUvs(open).map((_, i, uvs) => {
        const [u, v] = [uvs[i - (i % 2)]!, uvs[i - (i % 2) + 1]!];
        return i % 2 === 0 ? u + 0.1 * v * v : v + 0.15 * u + 0.05 * Math.sin(5 * u);
      }),
    );
    const straight = applyLayoutEdit(pulled, { do: 'straighten', faces: [] });
    const distinct = (axis: number): number =>
      [...cornerUvs(straight)]
        .filter((_, i) => i % 2 === axis)
        .sort((a, b) => a - b)
        .filter((x, i, list) => i === 0 || x - list[i - 1]! > 1e-4).length;
    expect([distinct(0), distinct(1)]).toEqual([17, 7]);
    const { stretchL2, flipped } = measureLayout(straight, 256);
    expect(stretchL2).toBeCloseTo(1, 4);
    expect(flipped).toBe(0);
    // What was up is up.
    const uvs = cornerUvs(straight);
    const old = cornerUvs(pulled);
    const [top, bottom] = [0, 1].map((end) => {
      const order = [...Array(uvs.length / 2).keys()].sort((a, b) => old[a * 2 + 1]! - old[b * 2 + 1]!);
      return order[end ? 0 : order.length - 1]!;
    }) as [number, number];
    expect(uvs[top * 2 + 1]).toBeGreaterThan(uvs[bottom * 2 + 1]!);
  });
});
