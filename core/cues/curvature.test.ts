import { describe, expect, it } from 'vitest';
import { ball } from '../../tests/shapes';
import type { UvMesh } from '../mesh';
import { measureSurface, filledTiles, PlaceReader, NOWHERE, TILE_TEXELS } from '../surface';
import { CUE_KINDS, cueKey, cueSpec, meanCurvature, measureCue, type CueSpec } from '.';

/** A grid that closes on itself, laid out as one rectangle. @param at a place for two turns of 0..1, with its outward normal */
function grid(
  columns: number,
  rows: number,
  at: (u: number, v: number) => { p: [number, number, number]; n: [number, number, number] },
): UvMesh {
  const positions: number[] = [];
  const normals: number[] = [];
  const uvs: number[] = [];
  const indices: number[] = [];
  for (let j = 0; j <= rows; j++) {
    for (let i = 0; i <= columns; i++) {
      // The last row and column are the first again, to the bit.
      const { p, n } = at((i % columns) / columns, j / rows);
      positions.push(...p);
      normals.push(...n);
      uvs.push(0.02 + (0.96 * i) / columns, 0.02 + (0.96 * j) / rows);
      if (i === columns || j === rows) continue;
      const a = j * (columns + 1) + i;
      indices.push(a, a + 1, a + columns + 2, a, a + columns + 2, a + columns + 1);
    }
  }
  return {
    positions: Float32Array.from(positions),
    normals: Float32Array.from(normals),
    uvs: Float32Array.from(uvs),
    indices: Uint32Array.from(indices),
    faceParts: new Uint16Array(indices.length / 3),
    parts: ['Grid'],
  };
}

const TURN = 2 * Math.PI;

const cylinder = (radius: number, columns: number): UvMesh =>
  grid(columns, 12, (u, v) => {
    const [x, z] = [Math.sin(u * TURN), Math.cos(u * TURN)];
    return { p: [radius * x, v * 3, radius * z], n: [x, 0, z] };
  });

/** Round the y axis at distance `big`, with a tube of radius `small`. */
const torus = (big: number, small: number, columns: number, rows: number): UvMesh =>
  grid(columns, rows, (u, v) => {
    const w = v === 1 ? 0 : v;
    const [out, up] = [Math.cos(w * TURN), Math.sin(w * TURN)];
    const [x, z] = [Math.sin(u * TURN), Math.cos(u * TURN)];
    const r = big + small * out;
    return { p: [r * x, small * up, r * z], n: [out * x, up, out * z] };
  });

/** The largest relative error over the vertices that count. */
function worst(mesh: UvMesh, exact: (v: number) => number, counts: (v: number) => boolean): number {
  const h = meanCurvature(mesh);
  let most = 0;
  for (let v = 0; v < h.length; v++) {
    if (counts(v)) most = Math.max(most, Math.abs(h[v]! / exact(v) - 1));
  }
  return most;
}

// Closed forms of the mean curvature: M. P. do Carmo, "Differential Geometry of Curves and Surfaces", section 3-3.
describe('mean curvature, against closed forms', () => {
  it.each([0.5, 2])(
    'of a sphere of radius %f is 1/R within 3 % away from the poles, and converges',
    (radius) => {
      const errors = [24, 48, 96].map((n) => {
        const mesh = ball(n * 2, n, radius);
        const y = (v: number): number => Math.abs(mesh.positions[v * 3 + 1]!) / radius;
        return worst(
          mesh,
          () => 1 / radius,
          (v) => y(v) < 0.9,
        );
      });
      expect(errors[1]!).toBeLessThan(0.03);
      expect(errors[1]!).toBeLessThan(errors[0]! / 2);
      expect(errors[2]!).toBeLessThan(errors[1]! / 2);
    },
  );

  it.each([0.4, 3])('of a cylinder of radius %f is 1/2R within 3 %, at its open ends too', (radius) => {
    expect(
      worst(
        cylinder(radius, 64),
        () => 1 / (2 * radius),
        () => true,
      ),
    ).toBeLessThan(0.03);
  });

  it('of a torus is (R + 2r cos θ) / 2r(R + r cos θ) within 3 %, and converges', () => {
    const [big, small] = [2, 0.7];
    const errors = [1, 2].map((k) => {
      const mesh = torus(big, small, 64 * k, 32 * k);
      return worst(
        mesh,
        (v) => {
          const cos = (Math.hypot(mesh.positions[v * 3]!, mesh.positions[v * 3 + 2]!) - big) / small;
          return (big + 2 * small * cos) / (2 * small * (big + small * cos));
        },
        () => true,
      );
    });
    expect(errors[0]!).toBeLessThan(0.03);
    expect(errors[1]!).toBeLessThan(errors[0]! / 2);
  });

  it('is negative where a surface is hollow, and 0 on a plane', () => {
    const inside = ball(48, 24);
    for (let c = 0; c < inside.indices.length; c += 3) {
      [inside.indices[c + 1], inside.indices[c + 2]] = [inside.indices[c + 2]!, inside.indices[c + 1]!];
    }
    const hollow = { ...inside, normals: inside.normals.map((n) => -n) };
    const isPole = (v: number): boolean => Math.abs(hollow.positions[v * 3 + 1]!) > 0.9;
    expect([...meanCurvature(hollow)].every((h, v) => h < 0 || isPole(v))).toBe(true);
    const plane = grid(8, 8, (u, v) => ({ p: [u, 0, v], n: [0, 1, 0] }));
    // Its first and last columns are one place: only the inner ones lie in the plane.
    expect(Math.abs(meanCurvature(plane)[4 * 9 + 4]!)).toBeLessThan(1e-6);
  });

  it('is no number but a number on triangles without area', () => {
    const mesh = ball(8, 4);
    mesh.positions.copyWithin(3, 0, 3);
    expect([...meanCurvature(mesh)].every(Number.isFinite)).toBe(true);
  });
});

describe('cues of curvature and nearness', () => {
  const radius = 1.5;
  const mesh = ball(64, 32, radius);
  const map = measureSurface(mesh, 128);
  const diagonal = Math.hypot(...[0, 1, 2].map(() => 2 * radius));
  /** Values of covered texels away from the poles. */
  const middle = (spec: CueSpec): number[] => {
    const values = measureCue(map, spec);
    const reader = new PlaceReader(map);
    return filledTiles(map).flatMap((tile) => {
      const { px, py } = reader.tile(tile)!;
      const base = map.slotOfTile[tile]! * TILE_TEXELS;
      return [...px.keys()]
        .filter((i) => px[i]! < NOWHERE && Math.abs(py[i]!) < radius * 0.8)
        .map((i) => values[base + i]! / 65535);
    });
  };

  it('ridge is min(1, H · scale · diagonal) and crease its other side', () => {
    const scale = 0.2;
    const exact = (scale * diagonal) / radius;
    const weights = { fine: 1, medium: 0, broad: 0 };
    const ridge = middle({ cue: 'ridge', scale, weights });
    expect(ridge.length).toBeGreaterThan(1000);
    for (const value of ridge) expect(Math.abs(value / exact - 1)).toBeLessThan(0.03);
    expect(Math.max(...middle({ cue: 'crease', scale, weights }))).toBe(0);
    expect(Math.min(...middle({ cue: 'ridge', scale: 10, weights }))).toBe(1);
  });

  it('nearness is max(0, 1 - d/R) from its point', () => {
    // The ball's top: its radius over the middle.
    const spec: CueSpec = {
      cue: 'nearness',
      point: [0, radius / diagonal, 0],
      radius: 0.3,
      plane: null,
      edge: 1,
    };
    const values = measureCue(map, spec);
    const reader = new PlaceReader(map);
    for (const tile of filledTiles(map)) {
      const { px, py, pz } = reader.tile(tile)!;
      const base = map.slotOfTile[tile]! * TILE_TEXELS;
      for (let i = 0; i < TILE_TEXELS; i += 17) {
        if (px[i]! >= NOWHERE) continue;
        const d = Math.hypot(px[i]!, py[i]! - radius, pz[i]!);
        expect(values[base + i]! / 65535).toBeCloseTo(Math.max(0, 1 - d / (0.3 * diagonal)), 4);
      }
    }
  });

  it('every kind begins with a spec that its schema takes, under a key of its own, and says what it is good for', () => {
    const keys = Object.values(CUE_KINDS).map(({ usual, says }) => {
      expect(cueSpec.parse(usual)).toEqual(usual);
      expect(says.length).toBeGreaterThan(20);
      return cueKey(usual as CueSpec);
    });
    expect(new Set(keys).size).toBe(keys.length);
  });
});
