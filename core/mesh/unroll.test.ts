import { describe, expect, it } from 'vitest';
import { ball, plate, together } from '../../tests/shapes';
import { ClosestPoint, Unroller, UNROLLED_STRIDE, type Mesh, type SurfacePoint } from '.';
import { seededRandom, type Vec3 } from '../math';

type Form = Pick<Mesh, 'positions' | 'indices'>;

/** A sheet of jittered squares whose diagonals go either way, bent by a function. */
function sheet(cells: number, bend: (u: number, v: number) => Vec3): Form {
  const random = seededRandom(5);
  const positions: number[] = [];
  for (let j = 0; j <= cells; j++) {
    for (let i = 0; i <= cells; i++) {
      const off = (): number => (random() - 0.5) * 0.5;
      const inner = (k: number): number => (k > 0 && k < cells && k !== cells / 2 ? off() : 0);
      positions.push(...bend((i + inner(i)) / cells, (j + inner(j)) / cells));
    }
  }
  const indices: number[] = [];
  for (let j = 0; j < cells; j++) {
    for (let i = 0; i < cells; i++) {
      const a = j * (cells + 1) + i;
      const [b, c, d] = [a + 1, a + cells + 2, a + cells + 1];
      indices.push(...(random() < 0.5 ? [a, b, c, a, c, d] : [a, b, d, b, c, d]));
    }
  }
  return { positions: Float32Array.from(positions), indices: Uint32Array.from(indices) };
}

/** Flat coordinates of points near a mesh, null where they weren't reached. */
function flatten(
  mesh: Form,
  from: Vec3,
  along: Vec3,
  reach: number,
): (to: Vec3) => readonly [number, number] | null {
  const all = Uint32Array.from({ length: mesh.indices.length / 3 }, (_, f) => f);
  const closest = new ClosestPoint(mesh.positions, mesh.indices, all);
  const locate = (p: Vec3): { face: number; at: Vec3 } => {
    const place: SurfacePoint = { face: -1, w0: 0, w1: 0, w2: 0, distance: 0 };
    closest.find(...p, place);
    const weights = [place.w0, place.w1, place.w2];
    const at = [0, 1, 2].map((k) =>
      weights.reduce((sum, w, c) => sum + w * mesh.positions[mesh.indices[place.face * 3 + c]! * 3 + k]!, 0),
    ) as unknown as Vec3;
    return { face: place.face, at };
  };
  const start = locate(from);
  const { maps, indexOf } = new Unroller(mesh).around(start.face, ...start.at, ...along, reach);
  return (to) => {
    const { face, at } = locate(to);
    const o = indexOf(face) * UNROLLED_STRIDE;
    if (o < 0) return null;
    const flat = (k: number): number =>
      maps[o + k]! * at[0] + maps[o + k + 1]! * at[1] + maps[o + k + 2]! * at[2] + maps[o + k + 3]!;
    return [flat(0), flat(4)];
  };
}

/** Points of a unit square, away from its rim. */
const spots = Array.from({ length: 60 }, (_, i): readonly [number, number] => [
  0.1 + 0.8 * ((i * 0.7548776662) % 1),
  0.1 + 0.8 * ((i * 0.569840291) % 1),
]);

/** Checks that ways over a sheet that can be rolled out are as long, and go as far to the side, as on the flat. */
function expectFlat(bend: (u: number, v: number) => Vec3, side: Vec3, tolerance: number): void {
  const from = [0.47, 0.44] as const;
  const reach = 0.35;
  const flat = flatten(sheet(24, bend), bend(...from), side, reach);
  let looked = 0;
  for (const [u, v] of spots) {
    const [du, dv] = [u - from[0], v - from[1]];
    if (Math.hypot(du, dv) > reach * 0.9) continue;
    looked++;
    const at = flat(bend(u, v))!;
    expect(Math.abs(Math.hypot(...at) - Math.hypot(du, dv)), `${u} ${v}`).toBeLessThan(reach * tolerance);
    expect(Math.hypot(at[0] - du, Math.abs(at[1]) - Math.abs(dv)), `${u} ${v}`).toBeLessThan(
      reach * tolerance * 2,
    );
  }
  expect(looked).toBeGreaterThan(20);
}

describe('the surface around a place, laid flat', () => {
  it('is what it is on a plane', () => {
    expectFlat((u, v) => [u, 0, -v], [1, 0, 0], 0.01);
  });

  it('ways over a sheet folded at a right angle go over the fold: within 2 % of the reach of the flat sheet’s', () => {
    expectFlat((u, v) => (u < 0.5 ? [u, 0, -v] : [0.5, u - 0.5, -v]), [1, 0, 0], 0.01);
  });

  it('ways round a cylinder are as long as on its sheet rolled out: within 2 % of the reach', () => {
    const r = 0.25;
    expectFlat(
      (u, v) => [r * Math.sin(u / r), v, r * Math.cos(u / r)],
      [Math.cos(0.47 / r), 0, -Math.sin(0.47 / r)],
      0.02,
    );
  });

  it('ways over a ball are arcs of great circles: within 2 % of the reach', () => {
    const mesh = ball(64, 32);
    const pole: Vec3 = [-0.6, 0.64, 0.48];
    const reach = 0.8;
    const flat = flatten(mesh, pole, [0, 1, 0], reach);
    let looked = 0;
    for (let i = 0; i < 200; i++) {
      const y = 1 - (2 * (i + 0.5)) / 200;
      const r = Math.sqrt(1 - y * y);
      const to: Vec3 = [r * Math.cos(i * 2.39996), y, r * Math.sin(i * 2.39996)];
      const arc = Math.acos(to[0] * pole[0] + to[1] * pole[1] + to[2] * pole[2]);
      if (arc > reach * 0.95) continue;
      looked++;
      expect(Math.abs(Math.hypot(...flat(to)!) - arc)).toBeLessThan(reach * 0.02);
    }
    expect(looked).toBeGreaterThan(20);
  });

  it('goes over a seam whose two sides were rounded differently', () => {
    // The ball's first and last columns of vertices are a hair apart: sin 2π is not 0.
    const over = flatten(ball(64, 32), [1, 0, 0], [0, 1, 0], 0.5);
    for (const z of [-0.2, 0.2]) expect(over([Math.sqrt(1 - z * z), 0, z])).not.toBeNull();
  });

  it('neither the other side of something thin nor another shell that comes near is reached', () => {
    const thin = together(plate(0.02), ball(16, 8, 0.25, [0, 0.3, 0]));
    const near = flatten(thin, [0, 0.01, 0], [1, 0, 0], 0.5);
    expect(near([0.2, 0.01, 0.1])).not.toBeNull();
    expect(near([0.2, -0.01, 0.1])).toBeNull();
    expect(near([0, 0.06, 0])).toBeNull();
  });

  it('is the same whatever was laid flat before', () => {
    const mesh = ball(32, 16);
    const unroller = new Unroller(mesh);
    const once = [...unroller.around(40, ...([0, 0, 0] as const), 1, 0, 0, 0.5).maps];
    unroller.around(200, 0, 0, 0, 0, 1, 0, 1.5);
    const again = unroller.around(40, 0, 0, 0, 1, 0, 0, 0.5);
    expect([...again.maps].slice(0, again.faces.length * UNROLLED_STRIDE)).toEqual(
      once.slice(0, again.faces.length * UNROLLED_STRIDE),
    );
  });
});
