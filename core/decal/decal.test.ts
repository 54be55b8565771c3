import { describe, expect, it } from 'vitest';
import { ball, floor, plate, seamedFloor } from '../../tests/shapes';
import { boundsOf, diagonalOf, type UvMesh } from '../mesh';
import { colorPyramid } from '../pattern';
import { INSIDE, measureSurface, PlaceReader, TILE_TEXELS } from '../surface';
import { decalSurface, decalSpec, layDecal, usualDecal, type DecalSpec } from '.';

type Vec3 = [number, number, number];

/** Four colours: red upper left, green upper right, blue lower left, white lower right. */
const QUARTERS = {
  width: 2,
  height: 2,
  rgba: Uint8Array.from([255, 0, 0, 255, 0, 255, 0, 255, 0, 0, 255, 255, 255, 255, 255, 255]),
};

interface Shown {
  readonly at: Vec3;
  readonly rgba: readonly number[];
}

/** What a decal shows on a model, texel by texel. Places of the wish are model units. */
function shown(
  mesh: UvMesh,
  wish: Partial<DecalSpec> & { at: Vec3; wide: number },
  size: 128 | 256 = 256,
): Shown[] {
  const surface = measureSurface(mesh, size);
  const places = new PlaceReader(surface);
  const diagonal = diagonalOf(boundsOf(mesh.positions));
  const { at, wide, ...rest } = wish;
  const where = {
    at: at.map((x) => x / diagonal) as Vec3,
    normal: [0, 1, 0] as Vec3,
    up: [0, 0, -1] as Vec3,
  };
  const spec = decalSpec.parse({ ...usualDecal(1, where), width: wide / diagonal, ...rest });
  const paint = layDecal(spec, colorPyramid(QUARTERS), surface, places, decalSurface(mesh));
  const out: Shown[] = [];
  for (let tile = 0; tile < surface.slotOfTile.length; tile++) {
    const p = places.tile(tile);
    if (!p) continue;
    const values = paint(tile);
    for (let i = 0; i < TILE_TEXELS; i++) {
      const code = surface.codes[surface.slotOfTile[tile]! * TILE_TEXELS + i]!;
      if (code < 0 || (code & 3) !== INSIDE) continue;
      const rgba = values ? [...values.subarray(i * 4, i * 4 + 4)] : [0, 0, 0, 0];
      out.push({ at: [p.px[i]!, p.py[i]!, p.pz[i]!], rgba });
    }
  }
  return out;
}

const near = (list: readonly Shown[], x: number, y: number, z: number): readonly number[] =>
  list.reduce((best, one) =>
    Math.hypot(one.at[0] - x, one.at[1] - y, one.at[2] - z) <
    Math.hypot(best.at[0] - x, best.at[1] - y, best.at[2] - z)
      ? one
      : best,
  ).rgba;

describe('a decal', () => {
  it.each(['wrapped', 'straight'] as const)(
    'lies %s on a floor as wide as it is told, the right way up',
    (lies) => {
      const list = shown(floor(), { at: [0.1, 0, 0], wide: 0.8, lies });
      // Seen from above with -z up: red to the left and up.
      expect(near(list, -0.15, 0, -0.25)).toEqual([1, 0, 0, 1]);
      expect(near(list, 0.35, 0, -0.25)).toEqual([0, 1, 0, 1]);
      expect(near(list, -0.15, 0, 0.25)).toEqual([0, 0, 1, 1]);
      const covered = list.filter((t) => t.rgba[3]! > 0.5);
      expect(Math.abs(Math.max(...covered.map((t) => t.at[0])) - 0.5)).toBeLessThan(0.01);
      expect(Math.abs(Math.min(...covered.map((t) => t.at[0])) + 0.3)).toBeLessThan(0.01);
    },
  );

  it('is turned against the clock, flipped and stretched', () => {
    const turned = shown(floor(), { at: [0, 0, 0], wide: 0.8, turn: Math.PI / 2 });
    expect(near(turned, -0.25, 0, 0.25)).toEqual([1, 0, 0, 1]);
    const flipped = shown(floor(), { at: [0, 0, 0], wide: 0.8, flip: true });
    expect(near(flipped, 0.25, 0, -0.25)).toEqual([1, 0, 0, 1]);
    const low = shown(floor(), { at: [0, 0, 0], wide: 0.8, stretch: 0.5 });
    expect(Math.max(...low.filter((t) => t.rgba[3]! > 0.5).map((t) => t.at[2]))).toBeCloseTo(0.2, 1);
  });

  it('wraps round a ball by its arc, and is thrown onto it by its chord', () => {
    const wide = 1.2;
    const width = (lies: DecalSpec['lies']): number => {
      const list = shown(ball(96, 48), { at: [1, 0, 0], wide, lies, normal: [1, 0, 0], up: [0, 1, 0] });
      const row = list.filter((t) => Math.abs(t.at[1]) < 0.03 && t.rgba[3]! > 0.5);
      return Math.max(...row.map((t) => Math.atan2(Math.abs(t.at[2]), t.at[0])));
    };
    // Radius 1: half of it is so long an arc, or the sine of the angle.
    expect(width('wrapped')).toBeCloseTo(wide / 2, 1);
    expect(width('straight')).toBeCloseTo(Math.asin(wide / 2), 1);
    expect(width('straight') - width('wrapped')).toBeGreaterThan(0.02);
  });

  it('goes over a seam without a mark: what it shows on two islands is what it shows on one', () => {
    const whole = shown(floor(), { at: [0.05, 0, 0], wide: 0.7, turn: 0.3 });
    const seamed = shown(seamedFloor(), { at: [0.05, 0, 0], wide: 0.7, turn: 0.3 });
    for (const [x, z] of [
      [-0.1, -0.1],
      [-0.02, 0.2],
      [0.02, 0.2],
      [0.2, -0.1],
      [-0.2, 0.15],
      [0.3, 0.05],
    ] as const) {
      const [a, b] = [near(whole, x, 0, z), near(seamed, x, 0, z)];
      a.forEach((v, k) => expect(Math.abs(v - b[k]!)).toBeLessThan(0.35));
      expect(a[3]).toBeCloseTo(b[3]!, 2);
    }
  });

  it('wrapped or straight, it leaves the other side of something thin alone', () => {
    for (const lies of ['wrapped', 'straight'] as const) {
      const list = shown(plate(0.02, 'Under'), { at: [0, 0.01, 0], wide: 0.8, lies });
      const [top, under] = [list.filter((t) => t.at[1] > -0.01), list.filter((t) => t.at[1] < -0.01)];
      expect(top.some((t) => t.rgba[3]! > 0.9)).toBe(true);
      expect(under.every((t) => t.rgba[3] === 0)).toBe(true);
    }
  });

  it('on the other side is seen in a mirror; in a ring it is turned', () => {
    const list = shown(floor(), {
      at: [0.5, 0, 0],
      wide: 0.6,
      copies: { planes: [{ point: [0, 0, 0], normal: [1, 0, 0] }], axis: null },
    });
    expect(near(list, 0.35, 0, -0.15)).toEqual([1, 0, 0, 1]);
    expect(near(list, -0.35, 0, -0.15)).toEqual([1, 0, 0, 1]);
    const ring = shown(floor(), {
      at: [0.6, 0, 0],
      wide: 0.3,
      copies: { planes: [], axis: { point: [0, 0, 0], direction: [0, 1, 0], count: 4, span: 360 } },
    });
    for (const [x, z] of [
      [0.6, 0],
      [-0.6, 0],
      [0, 0.6],
      [0, -0.6],
    ] as const)
      expect(near(ring, x + 0.05, 0, z + 0.05)[3]).toBe(1);
    expect(near(ring, 0.42, 0, 0.42)[3]).toBe(0);
  });
});
