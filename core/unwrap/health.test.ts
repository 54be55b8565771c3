import { describe, expect, it } from 'vitest';
import { plate } from '../../tests/shapes';
import { meshHash, topologyOf, type UvMesh } from '../mesh';
import { cornerUvs, layoutHeat, mendMesh, modelHealth, moveFaces, sheetMove, unwrapModel } from '.';

const kinds = (mesh: UvMesh) => Object.fromEntries(modelHealth(mesh, [256]).map((f) => [f.kind, f.count]));

/** A closed box laid out without fault. */
const box = (): UvMesh => {
  const positions: number[] = [];
  for (let i = 0; i < 8; i++) positions.push((i & 1) - 0.5, ((i >> 1) & 1) - 0.5, (i >> 2) - 0.5);
  const quads = [
    [0, 2, 3, 1],
    [4, 5, 7, 6],
    [0, 1, 5, 4],
    [2, 6, 7, 3],
    [0, 4, 6, 2],
    [1, 3, 7, 5],
  ];
  return unwrapModel(
    {
      positions: Float32Array.from(positions),
      normals: Float32Array.from(positions, (x) => x / Math.sqrt(0.75)),
      uvs: null,
      indices: Uint32Array.from(quads.flatMap(([a, b, c, d]) => [a!, b!, c!, a!, c!, d!])),
      faceParts: new Uint16Array(12),
      parts: ['Box'],
    },
    { size: 256, margin: 4, seams: 'creases' },
  );
};

describe('health', () => {
  it('finds nothing wrong with a box that is whole', () => {
    expect(kinds(box())).toEqual({});
  });

  it('finds what overlaps, lies outside, lies face down', () => {
    const large = moveFaces(box(), (f) => (f < 2 ? sheetMove([0.5, 0.5], { scaleU: 3, scaleV: 3 }) : null));
    expect(kinds(large)['overlapping']).toBeGreaterThan(4);
    const outside = moveFaces(box(), (f) => (f < 2 ? sheetMove([0, 0], { moveU: 2 }) : null));
    expect(kinds(outside)).toMatchObject({ outside: 2 });
    const flipped = moveFaces(box(), (f) => (f < 2 ? sheetMove([0.5, 0.5], { scaleU: -1 }) : null));
    expect(kinds(flipped)).toMatchObject({ flipped: 2 });
  });

  it('finds open edges, and edges where the winding changes', () => {
    expect(kinds(plate(0.2))).toMatchObject({ open: 8 });
    const mesh = box();
    const indices = mesh.indices.slice();
    [indices[1], indices[2]] = [indices[2]!, indices[1]!];
    expect(kinds({ ...mesh, indices })).toMatchObject({ winding: 3, flipped: 1 });
  });

  it('finds triangles without area and those that are stretched', () => {
    const mesh = box();
    const positions = mesh.positions.slice();
    positions.set(positions.subarray(mesh.indices[0]! * 3, mesh.indices[0]! * 3 + 3), mesh.indices[1]! * 3);
    expect(kinds({ ...mesh, positions })).toHaveProperty('no-area');
    const long = moveFaces(mesh, (f) => (f < 2 ? sheetMove([0, 0], { scaleU: 0.1 }) : null));
    expect(kinds(long)).toHaveProperty('stretched', 2);
  });
});

describe('mending', () => {
  it('brings vertices together that are nearly at one place', () => {
    const mesh = box();
    const positions = mesh.positions.map((x, i) => x + (i % 7) * 1.5e-6);
    const torn = { ...mesh, positions };
    expect(kinds(torn)).toHaveProperty('doubled');
    const mended = mendMesh(torn, { do: 'merge-doubles' }).mesh;
    expect(kinds(mended)).toEqual({});
    expect(new Set(topologyOf(mended).welded).size).toBe(8);
    expect(cornerUvs(mended)).toEqual(cornerUvs(mesh));
  });

  it('turns triangles over until all face outward, and says where seams are now', () => {
    const mesh = box();
    const indices = mesh.indices.slice();
    for (const f of [0, 3, 4, 5, 6, 7, 8, 9])
      [indices[f * 3 + 1], indices[f * 3 + 2]] = [indices[f * 3 + 2]!, indices[f * 3 + 1]!];
    const { mesh: mended, cornerNow } = mendMesh({ ...mesh, indices }, { do: 'unify-winding' });
    expect(kinds(mended)).toEqual({});
    const before = topologyOf({ ...mesh, indices });
    const after = topologyOf(mended);
    const ends = (t: typeof before, c: number, m: UvMesh): string => {
      const e = t.edges.ofCorner[c]!;
      return [t.edges.ends[e * 2]!, t.edges.ends[e * 2 + 1]!]
        .map((v) => m.positions.subarray(v * 3, v * 3 + 3).join())
        .sort()
        .join(' ');
    };
    for (let c = 0; c < 36; c++) {
      expect(ends(after, cornerNow(c), mended)).toBe(ends(before, c, { ...mesh, indices }));
    }
  });

  it('makes normals hard over an angle and smooth under it', () => {
    const hard = mendMesh(box(), { do: 'normals', angle: 0.5 }).mesh;
    for (const x of hard.normals) expect([0, 1]).toContain(Math.abs(x));
    const smooth = mendMesh(box(), { do: 'normals', angle: 2 }).mesh;
    for (const x of smooth.normals) expect(Math.abs(x)).toBeCloseTo(Math.sqrt(1 / 3), 1);
    expect(meshHash(hard)).not.toBe(meshHash(smooth));
  });
});

describe('heat', () => {
  it('is in the middle where density is even, and none where angles are true', () => {
    for (const x of layoutHeat(box(), 'density', [256]).values) expect(x).toBeCloseTo(0.5, 4);
    for (const x of layoutHeat(box(), 'area', [256]).values) expect(x).toBeCloseTo(0.5, 4);
    for (const x of layoutHeat(box(), 'angle', [256]).values) expect(x).toBeCloseTo(0, 4);
  });

  it('rises with density: twice the mean is the end of the scale', () => {
    const dense = moveFaces(box(), (f) => (f < 2 ? sheetMove([0, 0], { scaleU: 4, scaleV: 4 }) : null));
    const { values, legend } = layoutHeat(dense, 'density', [256]);
    expect(Math.max(...values)).toBe(1);
    expect(legend[0]).toMatch(/texels a unit$/);
  });
});
