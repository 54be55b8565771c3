import { describe, expect, it } from 'vitest';
import { floor, seamedFloor } from '../../tests/shapes';
import { readModel } from '../formats';
import { checkMesh, smoothNormals, topologyOf, weldExact, type Mesh, type UvMesh } from '../mesh';
import { measureSurface } from '../surface';
import {
  applyLayoutEdit,
  autoCharts,
  cornerUvs,
  layoutHeat,
  measureIslands,
  measureLayout,
  modelHealth,
  unwrapModel,
} from '.';

const SIZE = 256;

function model(positions: readonly number[], indices: readonly number[]): Mesh {
  const p = Float32Array.from(positions);
  const i = Uint32Array.from(indices);
  return checkMesh({
    positions: p,
    normals: smoothNormals(p, i, weldExact({ data: p, stride: 3 })),
    uvs: null,
    indices: i,
    faceParts: new Uint16Array(i.length / 3),
    parts: ['Piece'],
  });
}

/** The outside of cubes that stand where the rows have a letter: with two holes it is a surface of genus 2. */
function cubes(rows: readonly string[]): Mesh {
  const positions: number[] = [];
  const indices: number[] = [];
  const isFull = (x: number, y: number, z: number): boolean =>
    z === 0 && (rows[y]?.[x] ?? ' ') !== ' ' && x >= 0;
  const SIDES = [[1, 0, 0], [-1, 0, 0], [0, 1, 0], [0, -1, 0], [0, 0, 1], [0, 0, -1]] as const; // prettier-ignore
  rows.forEach((row, y) =>
    [...row].forEach((letter, x) => {
      if (letter === ' ') return;
      for (const [dx, dy, dz] of SIDES) {
        if (isFull(x + dx, y + dy, dz)) continue;
        const first = positions.length / 3;
        // Two directions across the side, so that the corners run counter-clockwise from outside.
        const u = [dy, dz, dx];
        const v = [dz, dx, dy];
        for (const [s, t] of [
          [-1, -1],
          [1, -1],
          [1, 1],
          [-1, 1],
        ] as const)
          // prettier-ignore
          positions.push(...[x, y, 0].map((c, k) => c + ([dx, dy, dz][k]! + s * u[k]! * sign(dx, dy, dz) + t * v[k]!) / 2));
        indices.push(first, first + 1, first + 2, first, first + 2, first + 3);
      }
    }),
  );
  return model(positions, indices);
}

const sign = (x: number, y: number, z: number): number => (x + y + z > 0 ? 1 : -1);

describe('models that are hard to lay out', () => {
  it.each<[string, Mesh]>([
    ['genus 2: a block with two holes through it', cubes(['xxxxx', 'x x x', 'xxxxx'])],
    [
      // A large triangle whose side meets two small ones: the middle vertex lies on no corner of it.
      'a T-junction',
      model([0, 0, 0, 2, 0, 0, 1, 2, 0, 1, 0, 0, 0, -1, 0, 2, -1, 0], [0, 1, 2, 0, 4, 3, 3, 5, 1, 4, 5, 3]),
    ],
    [
      'vertices that no triangle uses',
      model([9, 9, 9, 0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0, -50, 3, 8], [1, 2, 3, 1, 3, 4]),
    ],
    [
      'needles: triangles a million times as long as wide',
      model([0, 0, 0, 1, 0, 0, 1, 1e-6, 0, 0, 1e-6, 0, 0.5, 1, 0], [0, 1, 2, 0, 2, 3, 3, 2, 4]),
    ],
    [
      'two pieces that touch in one vertex',
      model([0, 0, 0, 1, 0, 0, 0, 1, 0, -1, 0, 0, 0, -1, 0], [0, 1, 2, 0, 3, 4]),
    ],
  ])('%s: a layout without folds or overlaps', (_name, mesh) => {
    const laid = unwrapModel(mesh, { size: SIZE, margin: 4, seams: 'auto' });
    const m = measureLayout(laid, SIZE);
    expect(m).toMatchObject({ flipped: 0, overlappedTexels: 0 });
    expect(m.islands).toBeGreaterThan(0);
    expect(laid.uvs.every((x) => x >= 0 && x <= 1)).toBe(true);
    expect(laid.indices.length).toBe(mesh.indices.length);
  });

  it('lays what is there two hundred times, facing the same way, out once', () => {
    const again = Array.from({ length: 200 }, () => [1, 2, 0]).flat();
    const laid = unwrapModel(model([0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1], [0, 1, 2, ...again, 0, 2, 3]), {
      size: SIZE,
      margin: 4,
      seams: 'auto',
    });
    expect(measureLayout(laid, SIZE).islands).toBe(1);
    const at = (c: number): number[] => [...cornerUvs(laid).subarray(c * 2, c * 2 + 2)];
    for (let f = 1; f <= 200; f++) for (let k = 0; k < 3; k++) expect(at(f * 3 + k)).toEqual(at((k + 1) % 3));
  });

  it('the block has the Euler characteristic of genus 2 (V - E + F = -2)', () => {
    const mesh = cubes(['xxxxx', 'x x x', 'xxxxx']);
    const { edges, welded } = topologyOf(mesh);
    const vertices = new Set(welded).size;
    expect(vertices - edges.uses.length + mesh.indices.length / 3).toBe(-2);
    expect(edges.uses.every((n) => n === 2)).toBe(true);
  });

  it('a closed surface without a seam is opened where that is asked for: flattening cuts it', () => {
    const box = unwrapModel(cubes(['x']), { size: SIZE, margin: 4, seams: 'auto' });
    const flat = applyLayoutEdit(box, { do: 'flatten', how: { seams: [], faces: [] } });
    expect(measureLayout(flat, SIZE).flipped).toBe(0);
    expect(measureIslands(flat, SIZE).length).toBeGreaterThan(0);
  });

  it('a polygon with a hole comes in without covering the hole', async () => {
    const outer = ['0 0', '4 0', '4 4', '0 4'];
    const inner = ['1 1', '1 3', '3 3', '3 1'];
    const text = [...outer, ...inner].map((p) => `v ${p} 0`).join('\n');
    const obj = `${text}\nf 1 2 3 4 1 5 6 7 8 5\n`;
    const mesh = await readModel('frame.obj', new TextEncoder().encode(obj), new Map());
    const laid = unwrapModel(mesh, { size: SIZE, margin: 4, seams: 'auto' });
    const m = measureLayout(laid, SIZE);
    expect(m).toMatchObject({ flipped: 0, overlappedTexels: 0, islands: 1 });
    expect(m.stretchL2).toBeCloseTo(1, 3);
    // The frame's 12 of the 16 that it surrounds.
    const { coveredTexels } = measureSurface(laid, SIZE);
    const span =
      Math.max(...laid.uvs.filter((_, i) => i % 2 === 0)) -
      Math.min(...laid.uvs.filter((_, i) => i % 2 === 0));
    expect(coveredTexels / (span * SIZE) ** 2).toBeCloseTo(0.75, 1);
  });
});

describe('UVs in the thousands', () => {
  const far = (mesh: UvMesh, scale: number, shift: number): UvMesh => ({
    ...mesh,
    uvs: mesh.uvs.map((x) => x * scale + shift),
  });

  it('moved far away, are measured, told, and packed back onto the sheet', () => {
    const mesh = far(seamedFloor(), 1, 4000);
    expect(measureSurface(mesh, SIZE).coveredTexels).toBeGreaterThan(1000);
    expect(modelHealth(mesh, [SIZE]).find((f) => f.kind === 'outside')?.count).toBe(4);
    expect(measureLayout(mesh, SIZE).islands).toBe(2);
    const packed = applyLayoutEdit(mesh, {
      do: 'pack',
      how: { margin: 4, even: true, arrange: 'tightest', weights: new Map(), pins: [] },
      sizes: [SIZE],
      sheet: null,
    });
    expect(packed.uvs.every((x) => x >= 0 && x <= 1)).toBe(true);
    expect(measureLayout(packed, SIZE).overlappedTexels).toBe(0);
  });

  it('thousands of sheets large, end in figures that are numbers, quickly', () => {
    const mesh = far(floor(), 5000, -1234.5);
    expect(measureSurface(mesh, SIZE).coveredTexels).toBe(0);
    const { stretchL2, stretchLinf, angle, area, fill } = measureLayout(mesh, SIZE);
    for (const x of [stretchL2, stretchLinf, angle, area, fill]) expect(Number.isFinite(x)).toBe(true);
    expect(layoutHeat(mesh, 'density', [SIZE]).values.every(Number.isFinite)).toBe(true);
    expect(modelHealth(mesh, [SIZE]).map((f) => f.kind)).toContain('outside');
  });
});

describe('long work', () => {
  const grid = (n: number): Mesh => {
    const positions: number[] = [];
    const indices: number[] = [];
    for (let j = 0; j <= n; j++)
      for (let i = 0; i <= n; i++)
        positions.push(i / n, Math.sin((i / n) * 9) * Math.cos((j / n) * 7) * 0.2, -j / n);
    for (let j = 0; j < n; j++) {
      for (let i = 0; i < n; i++) {
        const p = j * (n + 1) + i;
        indices.push(p, p + 1, p + n + 2, p, p + n + 2, p + n + 1);
      }
    }
    return model(positions, indices);
  };

  it('tells how far it is, from the beginning to the end, never backwards', () => {
    const told: number[] = [];
    unwrapModel(grid(64), { size: SIZE, margin: 4, seams: 'auto', onProgress: (done) => told.push(done) });
    expect(told.length).toBeGreaterThan(8);
    expect(told).toEqual([...told].sort((a, b) => a - b));
    expect(told[0]).toBeLessThan(0.2);
    expect(told.at(-1)).toBe(1);
  });

  it('stops when whoever is told of it throws', () => {
    const mesh = grid(64);
    let calls = 0;
    const stop = (): void => {
      calls++;
      throw new RangeError('enough');
    };
    expect(() => autoCharts(mesh, topologyOf(mesh), { stretch: 0.002, onProgress: stop })).toThrow(
      RangeError,
    );
    expect(calls).toBe(1);
  });
});
