import fc from 'fast-check';
import { BufferAttribute, BufferGeometry } from 'three';
import { mergeVertices } from 'three/addons/utils/BufferGeometryUtils.js';
import { describe, expect, it } from 'vitest';
import { ball, floor, plate, seamedFloor, together } from '../../tests/shapes';
import { seededRandom } from '../math';
import {
  boundsOf,
  centreOf,
  checkMesh,
  countOddEdges,
  diagonalOf,
  edgeTable,
  findIslands,
  MAX_TRIANGLES,
  partBounds,
  isRoomless,
  requireUvs,
  roomlessShare,
  smoothNormals,
  topologyOf,
  unitNormals,
  weldExact,
  weldPlaces,
} from '.';

describe('triangles whose UVs lie on a point or a line', () => {
  it('take no room, and so does that part of the surface', () => {
    const whole = seamedFloor();
    expect(roomlessShare(whole)).toBe(0);
    const last = whole.indices.length / 3 - 1;
    const folded = { ...whole, uvs: whole.uvs.slice() };
    const [a, b, c] = [0, 1, 2].map((k) => whole.indices[last * 3 + k]! * 2) as [number, number, number];
    // The third corner half-way between the two others.
    for (const k of [0, 1]) folded.uvs[c + k] = (folded.uvs[a + k]! + folded.uvs[b + k]!) / 2;
    expect(isRoomless(folded, last)).toBe(true);
    expect(roomlessShare(folded)).toBeGreaterThan(0);
    expect(roomlessShare({ ...whole, uvs: new Float32Array(whole.uvs.length).fill(0.25) })).toBe(1);
  });
});

describe('the front door of the core', () => {
  const good = floor();
  it.each([
    ['no triangles', { indices: new Uint32Array(0), faceParts: new Uint16Array(0) }, 'model-empty'],
    [
      'a position that is no number',
      { positions: good.positions.map((x, i) => (i === 4 ? NaN : x)) },
      'model-bad-number',
    ],
    [
      'an endless position',
      { positions: good.positions.map((x, i) => (i === 4 ? Infinity : x)) },
      'model-bad-number',
    ],
    ['a UV that is no number', { uvs: good.uvs.map((x, i) => (i === 3 ? NaN : x)) }, 'model-bad-number'],
    ['an index past the end', { indices: Uint32Array.of(0, 1, 99, 0, 2, 3) }, 'model-bad-number'],
    ['too many triangles', { indices: new Uint32Array((MAX_TRIANGLES + 1) * 3) }, 'model-too-large'],
  ])('refuses %s', (_what, patch, code) => {
    expect(() => checkMesh({ ...good, ...patch })).toThrow(expect.objectContaining({ code }));
  });

  it('lets a good mesh through as it is', () => {
    expect(checkMesh(good)).toBe(good);
  });

  it('asks for UVs where they are needed', () => {
    expect(requireUvs(good)).toBe(good);
    expect(() => requireUvs({ ...good, uvs: null })).toThrow(/no sheet to paint on/);
  });
});

describe('boxes', () => {
  it('are tight, around all or around a part', () => {
    const mesh = plate(0.5, 'Under');
    const all = boundsOf(mesh.positions);
    expect(all).toEqual({ min: [-1, -0.5, -1], max: [1, 0, 1] });
    expect(centreOf(all)).toEqual([0, -0.25, 0]);
    expect(diagonalOf(all)).toBeCloseTo(Math.hypot(2, 0.5, 2), 6);
    expect(partBounds(mesh, 1).max[1]).toBe(-0.5);
  });
});

describe('welding', () => {
  // three's mergeVertices as oracle for how many vertices are left.
  it('finds as many different vertices as three does', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -2, max: 2 }), { minLength: 9, maxLength: 60 }), (list) => {
        const positions = Float32Array.from(list.slice(0, Math.floor(list.length / 3) * 3));
        const welded = weldExact({ data: positions, stride: 3 });
        const geometry = new BufferGeometry().setAttribute('position', new BufferAttribute(positions, 3));
        const theirs = mergeVertices(geometry, 1e-4).getAttribute('position').count;
        expect(new Set(welded).size).toBe(theirs);
        welded.forEach((first, v) => {
          for (let k = 0; k < 3; k++) expect(positions[first * 3 + k]! + 0).toBe(positions[v * 3 + k]! + 0);
        });
      }),
      { numRuns: 60 },
    );
  });

  it('keeps apart what differs in another stream, and takes -0 for 0', () => {
    const positions = Float32Array.of(0, 0, 0, -0, 0, 0, 0, 0, 0);
    const uvs = Float32Array.of(0, 0, 0, 0, 0.5, 0);
    expect([...weldExact({ data: positions, stride: 3 })]).toEqual([0, 0, 0]);
    expect([...weldExact({ data: positions, stride: 3 }, { data: uvs, stride: 2 })]).toEqual([0, 0, 2]);
  });
});

describe('edges and islands', () => {
  const oddEdges = (mesh: ReturnType<typeof floor>) =>
    countOddEdges(edgeTable(mesh.indices, weldExact({ data: mesh.positions, stride: 3 })));

  it('a square has four open edges, a plate of two squares eight', () => {
    expect(oddEdges(floor())).toEqual({ open: 4, nonManifold: 0 });
    expect(oddEdges(plate(0.1))).toEqual({ open: 8, nonManifold: 0 });
  });

  it('three squares on one edge are not a surface there', () => {
    const fan = seamedFloor();
    const third = {
      ...fan,
      positions: Float32Array.from([...fan.positions, 0, 0, 1, 0, 1, 1, 0, 1, -1, 0, 0, -1]),
      indices: Uint32Array.from([...fan.indices, 8, 9, 10, 8, 10, 11]),
    };
    const { nonManifold } = countOddEdges(
      edgeTable(third.indices, weldExact({ data: third.positions, stride: 3 })),
    );
    expect(nonManifold).toBe(1);
  });

  // Euler: a closed ball has V - E + F = 2.
  it('a ball is closed but for its slit of float rounding, and one island', () => {
    const mesh = ball(24, 12);
    expect(findIslands(mesh).count).toBe(1);
    expect(findIslands(seamedFloor()).count).toBe(2);
    expect(findIslands(together(floor(), floor(), floor())).count).toBe(3);
  });
});

describe('normals', () => {
  // A sphere's normal is its own direction.
  it('of a fine ball point outward', () => {
    const mesh = ball(96, 48);
    const welded = weldExact({ data: mesh.positions.map((x) => Math.round(x * 1e5) / 1e5), stride: 3 });
    const normals = smoothNormals(mesh.positions, mesh.indices, welded);
    let worst = 1;
    for (let v = 97 * 2; v < 97 * 46; v++) {
      let cos = 0;
      for (let k = 0; k < 3; k++) cos += normals[v * 3 + k]! * mesh.positions[v * 3 + k]!;
      worst = Math.min(worst, cos);
    }
    expect(worst).toBeGreaterThan(0.999);
  });

  it('without length are replaced, the rest made to length one', () => {
    const fixed = unitNormals(Float32Array.of(0, 0, 0, 0, 3, 0, NaN, 0, 0), () =>
      Float32Array.of(1, 0, 0, 1, 0, 0, 0, 0, 1),
    );
    expect([...fixed]).toEqual([1, 0, 0, 0, 1, 0, 0, 0, 1]);
  });
});

describe('vertices at one place', () => {
  it('are welded within a millionth of the diagonal: what sin 2π leaves of 0 opens no cylinder', () => {
    // Closed by the sine and cosine of 2π, as many programs write it: -2.4e-16 instead of 0.
    const mesh = ball(24, 12);
    const edges = countOddEdges(edgeTable(mesh.indices, weldExact({ data: mesh.positions, stride: 3 })));
    expect(edges.open).toBeGreaterThan(0);
    expect(countOddEdges(topologyOf(mesh).edges)).toEqual({ open: 0, nonManifold: 0 });
  });

  it('are those that comparing every pair finds, each numbered by the first', () => {
    const random = seededRandom(3);
    const positions = new Float32Array(300 * 3).map(
      () => Math.round(random() * 4) / 4 + (random() - 0.5) * 3e-6,
    );
    const welded = weldPlaces(positions);
    const reach = 1e-6 * Math.hypot(...[0, 1, 2].map((k) => extent(positions, k)));
    const far = (a: number, b: number): number =>
      Math.hypot(...[0, 1, 2].map((k) => positions[a * 3 + k]! - positions[b * 3 + k]!));
    for (let a = 0; a < 300; a++) {
      expect(welded[welded[a]!]).toBe(welded[a]);
      expect(welded[a]).toBeLessThanOrEqual(a);
      for (let b = 0; b < a; b++) if (far(a, b) <= reach) expect(welded[a]).toBe(welded[b]);
    }
    expect(new Set(welded).size).toBeLessThan(300);
    expect(new Set(welded).size).toBeGreaterThan(125);
  });
});

function extent(positions: Float32Array, axis: number): number {
  const own = positions.filter((_, i) => i % 3 === axis);
  return Math.max(...own) - Math.min(...own);
}
