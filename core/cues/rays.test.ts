import { describe, expect, it } from 'vitest';
import { expanded } from '../../tests/expanded';
import { ball, floorQuad, plate, quads, together } from '../../tests/shapes';
import type { UvMesh } from '../mesh';
import { isCovered, measureSurface, sheetValues, type SurfaceMap } from '../surface';
import { CUE_KINDS, denseCueSurface, measureCue, ownCueSurface, type CueSpec } from '.';

const open = (rays: number): CueSpec => ({ cue: 'occlusion', rays, reach: null, fine: 0 });

/** Every texel that something lies on: place, value 0..1, and whether it is gutter. */
function texels(map: SurfaceMap, spec: CueSpec) {
  const at = expanded(map);
  const values = sheetValues(map, 0, measureCue(map, spec));
  return [...values.keys()].flatMap((i) =>
    at.face[i]! < 0
      ? []
      : [
          {
            x: at.px[i]!,
            y: at.py[i]!,
            z: at.pz[i]!,
            part: map.mesh.faceParts[at.face[i]!]!,
            value: values[i]! / 65535,
            covered: isCovered(map, i),
          },
        ],
  );
}

/** The six sides of a cube of side 2, each a square on the sheet, seen from outside or from within. */
function cube(inward: boolean): UvMesh {
  const sides = [
    [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ],
    [
      [-1, 0, 0],
      [0, 0, 1],
      [0, 1, 0],
    ],
    [
      [0, 1, 0],
      [0, 0, 1],
      [1, 0, 0],
    ],
    [
      [0, -1, 0],
      [1, 0, 0],
      [0, 0, 1],
    ],
    [
      [0, 0, 1],
      [1, 0, 0],
      [0, 1, 0],
    ],
    [
      [0, 0, -1],
      [0, 1, 0],
      [1, 0, 0],
    ],
  ] as const;
  return quads(
    sides.map(([n, u, v], i) => {
      const corner = (a: number, b: number): [number, number, number] => [
        n[0] + u[0] * a + v[0] * b,
        n[1] + u[1] * a + v[1] * b,
        n[2] + u[2] * a + v[2] * b,
      ];
      const around = [corner(-1, -1), corner(1, -1), corner(1, 1), corner(-1, 1)];
      const [left, low] = [(i % 3) / 3 + 0.03, Math.floor(i / 3) / 2 + 0.05];
      return {
        part: `Side ${i}`,
        corners: inward ? around.toReversed() : around,
        place: [left, low, left + 0.27, low + 0.4] as const,
      };
    }),
  );
}

/**
 * The view factor from a patch of floor to a wall square to it that begins right before it: of height a, from the patch's foot b to one
 * side, at distance c (J. R. Howell, "A Catalog of Radiation Heat Transfer Configuration Factors", B-4).
 */
const toWall = (a: number, b: number, c: number): number =>
  (Math.atan(b / c) - (c / Math.hypot(a, c)) * Math.atan(b / Math.hypot(a, c))) / (2 * Math.PI);

describe('rays at concave borders of open models', () => {
  it('leak nowhere out of a cube that is seen from within: all of it, gutter too, is dark', () => {
    const map = measureSurface(cube(true), 128);
    expect(Math.max(...texels(map, open(64)).map((t) => t.value))).toBe(0);
  });

  it('leave a cube that is seen from outside fully open', () => {
    const map = measureSurface(cube(false), 128);
    expect(Math.min(...texels(map, open(64)).map((t) => t.value))).toBe(1);
  });

  it('grow fewer toward the corner of three squares, up to the last column', () => {
    const side = { floor: 0, left: 1, back: 2 };
    const mesh = quads([
      {
        part: 'floor',
        corners: [
          [0, 0, 2],
          [2, 0, 2],
          [2, 0, 0],
          [0, 0, 0],
        ],
        place: [0.05, 0.05, 0.45, 0.45],
      },
      {
        part: 'left',
        corners: [
          [0, 0, 0],
          [0, 2, 0],
          [0, 2, 2],
          [0, 0, 2],
        ],
        place: [0.55, 0.05, 0.95, 0.45],
      },
      {
        part: 'back',
        corners: [
          [0, 0, 0],
          [2, 0, 0],
          [2, 2, 0],
          [0, 2, 0],
        ],
        place: [0.05, 0.55, 0.45, 0.95],
      },
    ]);
    const map = measureSurface(mesh, 128);
    const at = texels(map, open(256)).filter((t) => t.part === side.floor && t.covered);
    // In the middle of the left wall's length: the wall before which they lie, and the back one.
    const near = at.filter((t) => Math.abs(t.z - 1) < 0.03 && t.x < 1);
    expect(near.length).toBeGreaterThan(20);
    for (const { x, z, value } of near) {
      const exact = 1 - toWall(2, z, x) - toWall(2, 2 - z, x) - toWall(2, x, z) - toWall(2, 2 - x, z);
      expect(Math.abs(value - exact)).toBeLessThan(0.015);
    }
  });
});

describe('rays at contacts', () => {
  /** A box of side 1 on a floor of side 4. */
  const scene = together(
    quads([floorQuad(4, [0.02, 0.02, 0.98, 0.98])]),
    quads(
      (
        [
          [
            [-0.5, 0, 0.5],
            [0.5, 0, 0.5],
            [0.5, 1, 0.5],
            [-0.5, 1, 0.5],
          ],
          [
            [0.5, 0, -0.5],
            [-0.5, 0, -0.5],
            [-0.5, 1, -0.5],
            [0.5, 1, -0.5],
          ],
          [
            [0.5, 0, 0.5],
            [0.5, 0, -0.5],
            [0.5, 1, -0.5],
            [0.5, 1, 0.5],
          ],
          [
            [-0.5, 0, -0.5],
            [-0.5, 0, 0.5],
            [-0.5, 1, 0.5],
            [-0.5, 1, -0.5],
          ],
          [
            [-0.5, 1, 0.5],
            [0.5, 1, 0.5],
            [0.5, 1, -0.5],
            [-0.5, 1, -0.5],
          ],
        ] as const
      ).map((corners, i) => ({
        part: `Box ${i}`,
        corners,
        place: [
          (i % 3) / 3 + 0.03,
          Math.floor(i / 3) / 2 + 0.05,
          (i % 3) / 3 + 0.3,
          Math.floor(i / 3) / 2 + 0.45,
        ] as const,
      })),
    ),
  );

  it('keep the line where a box stands on a floor crisp, and right on both sides', () => {
    const map = measureSurface(scene, 256);
    const floor = texels(map, open(256)).filter((t) => t.part === 0 && t.covered);
    const texel = map.sheets[0]!.texelLength;
    const under = floor.filter((t) => Math.max(Math.abs(t.x), Math.abs(t.z)) < 0.5 - texel / 2);
    expect(Math.max(...under.map((t) => t.value))).toBeLessThan(0.002);
    const before = floor.filter((t) => Math.abs(t.x) < texel && t.z > 0.5 && t.z < 0.8);
    expect(before.length).toBeGreaterThan(10);
    for (const t of before) {
      const exact = 1 - toWall(1, 0.5 - t.x, t.z - 0.5) - toWall(1, 0.5 + t.x, t.z - 0.5);
      expect(Math.abs(t.value - exact)).toBeLessThan(0.03);
    }
  });

  it('find a gap that is thinner than 2e-5 of the model', () => {
    const gap = 1e-5;
    const mesh = quads([
      floorQuad(2, [0.05, 0.05, 0.45, 0.95]),
      {
        part: 'Lid',
        corners: [
          [-1, gap, -1],
          [1, gap, -1],
          [1, gap, 1],
          [-1, gap, 1],
        ],
        place: [0.55, 0.05, 0.95, 0.95],
      },
    ]);
    const inner = texels(measureSurface(mesh, 64), open(64)).filter(
      (t) => Math.max(Math.abs(t.x), Math.abs(t.z)) < 0.9,
    );
    expect(Math.max(...inner.map((t) => t.value))).toBe(0);
  });
});

// View factors of concave enclosures, worked out by hand: the open part is what leaves through the opening.
describe('occlusion in enclosures', () => {
  it('in a spherical bowl is the same everywhere: its opening over its whole sphere', () => {
    // In a sphere every patch sees every other in proportion to its area (the integrating sphere): from any point of a bowl that is
    // open above a circle, the open part is the area of the missing cap over that of the sphere.
    const full = ball(96, 64);
    const cut = 0.5;
    const kept: number[] = [];
    for (let c = 0; c < full.indices.length; c += 3) {
      const ys = [0, 1, 2].map((k) => full.positions[full.indices[c + k]! * 3 + 1]!);
      if (Math.max(...ys) <= cut + 1e-6)
        kept.push(full.indices[c]!, full.indices[c + 2]!, full.indices[c + 1]!);
    }
    const top = Math.max(...kept.map((v) => full.positions[v * 3 + 1]!));
    const mesh: UvMesh = {
      ...full,
      normals: full.normals.map((x) => -x),
      indices: Uint32Array.from(kept),
      faceParts: new Uint16Array(kept.length / 3),
    };
    const exact = (1 - top) / 2;
    const all = texels(measureSurface(mesh, 128), open(256)).filter(
      (t) => t.covered && t.y < top - 0.1 && t.y > -0.97,
    );
    for (const t of all) expect(Math.abs(t.value - exact)).toBeLessThan(0.03);
    const mean = all.reduce((sum, t) => sum + t.value, 0) / all.length;
    expect(Math.abs(mean - exact)).toBeLessThan(0.005);
  });

  it('between two parallel squares falls with their distance as the view factor does', () => {
    for (const gap of [0.5, 1, 2]) {
      const mesh = quads([
        floorQuad(2, [0.05, 0.05, 0.45, 0.95]),
        {
          part: 'Lid',
          corners: [
            [-1, gap, -1],
            [1, gap, -1],
            [1, gap, 1],
            [-1, gap, 1],
          ],
          place: [0.55, 0.05, 0.95, 0.95],
        },
      ]);
      // From a patch to a parallel rectangle with a corner over it (Howell's catalogue, B-3), four of them around the middle.
      const quarter = (a: number, c: number): number => {
        const [p, q] = [a / Math.hypot(a, c), a / Math.hypot(a, c)];
        return (p * Math.atan(a / Math.hypot(a, c)) + q * Math.atan(a / Math.hypot(a, c))) / (2 * Math.PI);
      };
      const middle = texels(measureSurface(mesh, 64), open(1024)).filter(
        (t) => t.part === 0 && Math.hypot(t.x, t.z) < 0.06,
      );
      expect(middle.length).toBeGreaterThan(0);
      for (const t of middle) expect(Math.abs(t.value - (1 - 4 * quarter(1, gap)))).toBeLessThan(0.01);
    }
  });
});

describe('cast shadow', () => {
  it('of a half plane has umbra and penumbra by similar triangles', () => {
    // A wide roof whose edge lies over x = 0 at height 1, under a light overhead.
    const roof = quads([
      {
        part: 'Roof',
        corners: [
          [-20, 1, -20],
          [0, 1, -20],
          [0, 1, 20],
          [-20, 1, 20],
        ],
        place: [0.1, 0.1, 0.9, 0.9],
      },
    ]);
    const map = measureSurface(together(quads([floorQuad(2, [0.02, 0.02, 0.98, 0.98])]), roof), 256);
    const light = 20;
    const at = texels(map, { cue: 'cast', direction: [0, 1, 0], light }).filter(
      (t) => t.part === 0 && Math.abs(t.z) < 0.5 && t.covered,
    );
    const reach = Math.tan((light / 360) * Math.PI);
    for (const t of at) {
      // A disc of radius `reach` at height 1, of which the part beyond the edge is seen: a segment of a circle.
      const s = Math.max(-1, Math.min(1, t.x / reach));
      const seen = 1 - (Math.acos(s) - s * Math.sqrt(1 - s * s)) / Math.PI;
      expect(Math.abs(t.value - seen)).toBeLessThan(0.06);
      if (t.x < -reach - 0.03) expect(t.value).toBeLessThan(0.004);
      if (t.x > reach + 0.03) expect(t.value).toBeGreaterThan(0.995);
    }
  });

  it('ends on a ball where the light grazes it, without the steps of its triangles', () => {
    const map = measureSurface(ball(16, 8), 128);
    for (const t of texels(map, { cue: 'cast', direction: [0, 1, 0], light: 0 })) {
      if (t.y > 0.05) expect(t.value).toBe(1);
      if (t.y < -0.05) expect(t.value).toBe(0);
    }
  });

  it('is the same for any length of the direction', () => {
    expect(CUE_KINDS.cast.key({ cue: 'cast', direction: [0, 2, 0], light: 4 })).toBe(
      CUE_KINDS.cast.key({ cue: 'cast', direction: [0, 1, 0], light: 4 }),
    );
  });
});

describe('thickness', () => {
  // A cosine-weighted ray under the angle c to the normal goes t/c through a slab: the mean of min(t/c, D)/D is 2(t/D) - (t/D)².
  it.each([0.1, 0.3, 0.6])('of a slab is 2(t/D) - (t/D)², t/D = %f', (part) => {
    const mesh = plate(0.05, 'Below');
    const map = measureSurface(mesh, 128);
    const diagonal = Math.hypot(2, 0.05, 2);
    const distance = 0.05 / part / diagonal;
    const middle = texels(map, { cue: 'thickness', distance }).filter(
      (t) => Math.max(Math.abs(t.x), Math.abs(t.z)) < 0.4,
    );
    expect(middle.length).toBeGreaterThan(100);
    for (const t of middle) expect(Math.abs(t.value - (2 * part - part * part))).toBeLessThan(0.02);
  });

  it('of a ball of radius R is 2R/D times the mean of the cosine: 4R/3D', () => {
    const map = measureSurface(ball(96, 48), 128);
    const diagonal = Math.hypot(2, 2, 2);
    // Cosine-weighted mean of the chord 2R cos: 2R · 2/3.
    const at = texels(map, { cue: 'thickness', distance: 4 / diagonal }).filter((t) => Math.abs(t.y) < 0.9);
    for (const t of at) expect(Math.abs(t.value - 4 / 3 / 4)).toBeLessThan(0.02);
  });

  it('is the same on a model whose triangles are wound inward while its normals look out', () => {
    const mesh = ball(24, 12);
    const inward = {
      ...mesh,
      indices: mesh.indices.map((_, c, all) => all[c % 3 === 0 ? c : c % 3 === 1 ? c + 1 : c - 1]!),
    };
    const spec = { cue: 'thickness', distance: 0.3 } as const;
    const [a, b] = [mesh, inward].map((m) => measureCue(measureSurface(m, 64), spec)) as [
      Uint16Array,
      Uint16Array,
    ];
    const worst = a.reduce((most, v, i) => Math.max(most, Math.abs(v - b[i]!)), 0);
    expect(worst / 65535).toBeLessThan(0.02);
  });
});

describe('rays from a denser model', () => {
  it('bring its form onto few triangles, and tell what they missed', () => {
    const coarse = ball(12, 6);
    const dense = ball(96, 48);
    const map = measureSurface(coarse, 128);
    const ground = denseCueSurface(map, dense, 0.2);
    expect(ground.met().missed).toBe(0);
    // Facing up is the height of a round ball's place, whatever the corners of the coarse one are.
    const up = measureCue(map, { cue: 'facing', direction: [0, 1, 0] }, { ground });
    const at = expanded(map);
    for (let i = 0; i < 128 * 128; i += 7) {
      if (at.face[i]! < 0) continue;
      const y = at.py[i]! / Math.hypot(at.px[i]!, at.py[i]!, at.pz[i]!);
      expect(Math.abs(sheetValues(map, 0, up)[i]! / 65535 - (1 + y) / 2)).toBeLessThan(0.02);
    }
    const apart = denseCueSurface(map, ball(24, 12, 1, [9, 0, 0]), 0.2);
    expect(apart.met().missed).toBe(apart.met().covered);
    expect(() => measureCue(map, { cue: 'facing', direction: [0, 1, 0] }, { ground: apart })).toThrow(
      expect.objectContaining({ code: 'bad-argument' }),
    );
  });

  it('fill what they missed with what lies nearest on the sheet', () => {
    const map = measureSurface(ball(24, 12), 64);
    // Only the lower half is there, a little larger.
    const whole = ball(96, 48, 1.01);
    const dense = { ...whole, indices: whole.indices.slice(0, (whole.indices.length / 6) * 3) };
    const ground = denseCueSurface(map, dense, 0.05);
    const { missed, covered } = ground.met();
    expect(missed / covered).toBeGreaterThan(0.4);
    expect(missed / covered).toBeLessThan(0.6);
    const values = measureCue(map, { cue: 'facing', direction: [0, 1, 0] }, { ground });
    const all = texels(map, { cue: 'height', direction: [0, 1, 0], from: 0, to: 1 });
    expect(all.length).toBeGreaterThan(1000);
    // What looks up met nothing: it takes what was met last, at the equator.
    const onSheet = sheetValues(map, 0, values);
    const top = expanded(map);
    for (let i = 0; i < 64 * 64; i += 5)
      if (top.face[i]! >= 0 && top.py[i]! > 0.3) expect(onSheet[i]! / 65535).toBeCloseTo(0.5, 0);
  });
});

describe('bounced colour', () => {
  /** A small plate that looks down, over a square floor of half a side `a` at distance `h` under it. */
  const over = (a: number, h: number): UvMesh =>
    quads([
      {
        part: 'Plate',
        corners: [
          [-0.05, h, -0.05],
          [0.05, h, -0.05],
          [0.05, h, 0.05],
          [-0.05, h, 0.05],
        ],
        place: [0.6, 0.6, 0.95, 0.95],
      },
      floorQuad(2 * a, [0.05, 0.05, 0.5, 0.5]),
    ]);

  it('is that of the floor by its view factor, and the ground’s for the rest', () => {
    const [a, h] = [1, 0.8];
    const map = measureSurface(over(a, h), 128);
    const spec = { cue: 'bounce', channel: 0, colors: 'red', ground: '#333333', reach: 4 } as const;
    const rgb = new Uint8Array(map.mesh.faceParts.length * 3);
    map.mesh.faceParts.forEach((part, face) => (rgb[face * 3] = map.mesh.parts[part] === 'Floor' ? 255 : 0));
    const ground = ownCueSurface(map, { name: 'red', rgb });
    const values = sheetValues(map, 0, measureCue(map, spec, { ground }));
    // A point over the middle of a parallel square: four corners of it (J. Howell, A Catalog of Radiation Heat Transfer
    // Configuration Factors, B-3; from memory).
    const x = a / h;
    const root = Math.sqrt(1 + x * x);
    const factor = (4 / (2 * Math.PI)) * 2 * (x / root) * Math.atan(x / root);
    const wanted = factor + (1 - factor) * 0.2;
    const at = expanded(map);
    const seen = [...values.keys()].filter((i) => at.face[i]! >= 0 && at.py[i]! > 0.5);
    expect(seen.length).toBeGreaterThan(1000);
    const mean = seen.reduce((sum, i) => sum + values[i]! / 65535, 0) / seen.length;
    expect(Math.abs(mean - wanted)).toBeLessThan(0.012);
    for (const i of seen) expect(Math.abs(values[i]! / 65535 - wanted)).toBeLessThan(0.05);
  });

  it('is refused where the colours are others than those that were asked for', () => {
    const map = measureSurface(over(1, 1), 64);
    const spec = { cue: 'bounce', channel: 0, colors: 'red', ground: '#333333', reach: 4 } as const;
    expect(() => measureCue(map, spec)).toThrow(expect.objectContaining({ code: 'bad-argument' }));
  });
});
