import { describe, expect, it } from 'vitest';
import { expanded } from '../../tests/expanded';
import { ball, floor, quads, seamedFloor } from '../../tests/shapes';
import { faceRuns, topologyOf } from '../mesh';
import { codeAt, filledTiles, measureSurface, TILE_TEXELS, type SurfaceMap } from '../surface';
import {
  boundedArea,
  cutOver,
  cutSchema,
  enclosedByUv,
  facesWithin,
  grownFaces,
  movedCuts,
  otherFaces,
  regionShape,
  sameFacing,
  shrunkFaces,
  simplerOutline,
  withMirrored,
  type Cut,
} from '.';

/** Seen straight from above: x to the right, z downward, one unit of the picture a unit of the model. */
const FROM_ABOVE = [1, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];

const circle = (r: number, n = 64): [number, number][] =>
  Array.from({ length: n }, (_, i) => [
    r * Math.cos((i / n) * 2 * Math.PI),
    r * Math.sin((i / n) * 2 * Math.PI),
  ]);

const cutOf = (map: SurfaceMap, patch: Partial<Cut> = {}): Cut => ({
  how: 'add',
  faces: faceRuns(map.mesh.faceParts.length, () => true),
  view: FROM_ABOVE,
  outline: circle(0.5),
  ...patch,
});

/** Coverage 0..255 of every texel. */
function covered(map: SurfaceMap, faces: number[], cuts: Cut[]): Uint8Array {
  const shape = regionShape(map, { faces, cuts });
  const out = new Uint8Array(map.slotOfTile.length * TILE_TEXELS);
  for (const tile of filledTiles(map)) {
    for (let i = 0; i < TILE_TEXELS; i++)
      out[tile * TILE_TEXELS + i] = shape.at(tile, i, codeAt(map, tile * TILE_TEXELS + i));
  }
  return out;
}

describe('a border through triangles', () => {
  it('lies where the line was drawn, smooth over one texel, on every layout and size of sheet', () => {
    for (const [mesh, size] of [
      [floor(2), 128],
      [floor(2), 256],
      [seamedFloor(), 256],
    ] as const) {
      const map = measureSurface(mesh, size);
      const out = covered(map, [], [cutOf(map)]);
      const at = expanded(map);
      const texel = map.sheets[0]!.texelLength;
      let area = 0;
      for (let i = 0; i < out.length; i++) {
        if (!at.covered[i]) continue;
        const d = 0.5 - Math.hypot(at.px[i]!, at.pz[i]!);
        // Corners of a circle of 64 sides lie 0.1 % inside of it.
        if (d > texel) expect(out[i]).toBe(255);
        if (d < -texel) expect(out[i]).toBe(0);
        area += (out[i]! / 255) * texel * texel;
      }
      expect(Math.abs(area - Math.PI / 4)).toBeLessThan(0.015);
    }
  });

  it('takes off as it adds, the last line having its way', () => {
    const map = measureSurface(floor(2), 64);
    const at = expanded(map);
    const out = covered(map, [0, 1], [cutOf(map, { how: 'remove' }), cutOf(map, { outline: circle(0.2) })]);
    for (let i = 0; i < out.length; i++) {
      if (!at.covered[i]) continue;
      const r = Math.hypot(at.px[i]!, at.pz[i]!);
      if (r < 0.15 || r > 0.55) expect(out[i]).toBe(255);
      if (r > 0.25 && r < 0.45) expect(out[i]).toBe(0);
    }
  });

  it('holds for the triangles that it names only', () => {
    const map = measureSurface(seamedFloor(), 128);
    const out = covered(map, [], [cutOf(map, { faces: [0, 2] })]);
    const at = expanded(map);
    for (let i = 0; i < out.length; i++) if (at.covered[i] && at.px[i]! > 0) expect(out[i]).toBe(0);
  });

  it('goes with a model that is turned and moved', () => {
    const map = measureSurface(floor(2), 64);
    // The model was moved by (3, 0, 0): the way back is -3.
    const [moved] = movedCuts([cutOf(map)], [1, 0, 0, -3, 0, 1, 0, 0, 0, 0, 1, 0]);
    const mesh = floor(2);
    const away = measureSurface(
      { ...mesh, positions: mesh.positions.map((x, i) => (i % 3 === 0 ? x + 3 : x)) },
      64,
    );
    expect(covered(away, [], [moved!])).toEqual(covered(map, [], [cutOf(map)]));
  });

  it('is checked at the door', () => {
    const map = measureSurface(floor(2), 64);
    expect(cutSchema.safeParse(cutOf(map)).success).toBe(true);
    expect(cutSchema.safeParse(cutOf(map, { outline: [[0, 0]] })).success).toBe(false);
    expect(cutSchema.safeParse(cutOf(map, { view: [1] })).success).toBe(false);
  });

  it('needs fewer corners than the hand made, none farther off than allowed', () => {
    const line: [number, number][] = Array.from({ length: 500 }, (_, i) => [
      i,
      i < 250 ? 0.2 * (i % 2) : i - 250,
    ]);
    const simple = simplerOutline(line, 0.5);
    expect(simple.length).toBeLessThan(6);
    expect(simple[0]).toEqual(line[0]);
    expect(simplerOutline(circle(100, 2000), 0.001, 50).length).toBeLessThanOrEqual(50);
  });
});

describe('a line drawn around faces', () => {
  const mesh = ball(24, 12);

  it('takes those within whole, and tells which it runs through', () => {
    const { whole, cut } = facesWithin(mesh, FROM_ABOVE, circle(0.5), () => true);
    const reach = (f: number, most: boolean): number => {
      const r = [0, 1, 2].map((k) => {
        const v = mesh.indices[f * 3 + k]! * 3;
        return Math.hypot(mesh.positions[v]!, mesh.positions[v + 2]!);
      });
      return most ? Math.max(...r) : Math.min(...r);
    };
    expect(whole.length).toBeGreaterThan(50);
    for (const f of whole) expect(reach(f, true)).toBeLessThanOrEqual(0.501);
    for (const f of cut) expect(reach(f, false)).toBeLessThan(0.501);
    for (const f of cut) expect(reach(f, true)).toBeGreaterThan(0.49);
  });

  it('leaves out what isn’t seen, and finds itself within a single large face', () => {
    const upper = facesWithin(
      mesh,
      FROM_ABOVE,
      circle(0.5),
      (f) => mesh.positions[mesh.indices[f * 3]! * 3 + 1]! > 0,
    );
    const all = facesWithin(mesh, FROM_ABOVE, circle(0.5), () => true);
    expect(upper.whole.length).toBeLessThan(all.whole.length);
    const small = circle(0.1).map(([x, y]): [number, number] => [x + 3, y + 5]);
    const inOne = facesWithin(floor(20), FROM_ABOVE, small, () => true);
    expect([inOne.whole.length, inOne.cut.length]).toEqual([0, 1]);
  });
});

describe('a line drawn on the sheet', () => {
  const around = circle(0.25).map(([u, v]): [number, number] => [u + 0.5, v + 0.5]);

  it('lies there in space, smooth over one texel, whatever the layout is afterwards', () => {
    // The floor fills its sheet: half a radius of UV is a whole one of the model.
    const { faces, cuts } = enclosedByUv(floor(2), around, () => true);
    for (const mesh of [floor(2), { ...floor(2), uvs: floor(2).uvs.map((x) => 0.1 + x * 0.6) }]) {
      const map = measureSurface(mesh, 256);
      const out = covered(map, [...faces], [...cuts]);
      const at = expanded(map);
      const texel = map.sheets[0]!.texelLength;
      let inside = 0;
      for (let i = 0; i < out.length; i++) {
        if (!at.covered[i]) continue;
        const d = 0.5 - Math.hypot(at.px[i]!, at.pz[i]!);
        if (d > texel * 1.1) expect(out[i]).toBe(255);
        if (d < -texel) expect(out[i]).toBe(0);
        if (d > 0) inside++;
      }
      expect(inside).toBeGreaterThan(1000);
    }
  });

  it('goes with its triangles where others are left out, and is checked at the door', () => {
    const { cuts } = enclosedByUv(seamedFloor(), around, () => true);
    const [cut] = cuts;
    const { faces } = cut!;
    expect(cutSchema.safeParse(cut).success).toBe(true);
    expect(cutSchema.safeParse({ ...cut!, flat: cut!.flat!.slice(8) }).success).toBe(false);
    const count = seamedFloor().faceParts.length;
    const last = faces.at(-2)! + faces.at(-1)! - 1;
    const kept = cutOver(cut!, count, count, (f) => (f === last ? f : -1));
    expect(kept.faces).toEqual([last, 1]);
    expect(kept.flat).toEqual(cut!.flat!.slice(-8));
  });
});

describe('choosing faces', () => {
  const mesh = quads([
    {
      part: 'Box',
      corners: [
        [0, 0, 1],
        [1, 0, 1],
        [1, 1, 1],
        [0, 1, 1],
      ],
      place: [0, 0, 0.3, 0.3],
    },
    {
      part: 'Box',
      corners: [
        [1, 0, 1],
        [1, 0, 0],
        [1, 1, 0],
        [1, 1, 1],
      ],
      place: [0.35, 0, 0.65, 0.3],
    },
    {
      part: 'Lid',
      corners: [
        [0, 1, 1],
        [1, 1, 1],
        [1, 1, 0],
        [0, 1, 0],
      ],
      place: [0.7, 0, 1, 0.3],
    },
  ]);
  const topology = topologyOf(mesh);
  const set = (...faces: number[]): Set<number> => new Set(faces);

  it('same facing goes over flat edges only; an area ends at creases, parts, seams and regions', () => {
    expect(sameFacing(mesh, topology, 0, 0.2)).toEqual(set(0, 1));
    const free = { crease: Math.PI, seams: [], regions: [] };
    expect(boundedArea(mesh, topology, 0, { ...free, crease: 0.5 })).toEqual(set(0, 1));
    expect(boundedArea(mesh, topology, 0, free)).toEqual(set(0, 1, 2, 3));
    expect(boundedArea(mesh, topology, 0, { ...free, regions: [[0]] })).toEqual(set(0));
    // The diagonal of the first square as a seam.
    const diagonal = [0, 1, 2].find((c) => topology.across[c]! >= 3 && topology.across[c]! < 6)!;
    expect(boundedArea(mesh, topology, 0, { ...free, seams: [diagonal] })).not.toContain(1);
  });

  it('grows by what touches and shrinks by what touches others', () => {
    expect(grownFaces(mesh, topology, [0]).size).toBeGreaterThan(2);
    const wide = ball(24, 12);
    const round = topologyOf(wide);
    const once = grownFaces(wide, round, [100]);
    expect(shrunkFaces(wide, round, grownFaces(wide, round, once)).size).toBeGreaterThanOrEqual(once.size);
    expect(shrunkFaces(wide, round, once)).toContain(100);
    expect(otherFaces(6, set(0, 1))).toEqual(set(2, 3, 4, 5));
  });

  it('mirrors to the other side of x = 0', () => {
    const wide = ball(24, 12);
    const middle = (f: number): number =>
      [0, 1, 2].reduce((sum, k) => sum + wide.positions[wide.indices[f * 3 + k]! * 3]!, 0) / 3;
    const right = wide.faceParts.findIndex((_, f) => middle(f) > 0.5);
    const both = withMirrored(wide, [right]);
    expect(both.size).toBe(2);
    expect([...both].map(middle).reduce((a, b) => a + b)).toBeCloseTo(0, 0);
  });
});
