import { describe, expect, it } from 'vitest';
import { expanded } from '../../tests/expanded';
import { ball, floor, quads, seamedFloor } from '../../tests/shapes';
import { seededRandom, cellularNoise, ridgedNoise, valueNoise } from '../math';
import type { UvMesh } from '../mesh';
import { measureSurface, sheetValues } from '../surface';
import { broadCurvature, measureCue, ways } from '.';

describe('mean curvature within a ball', () => {
  it('of a sphere is 1/R, whatever its triangles are', () => {
    for (const [columns, rows] of [
      [48, 24],
      [96, 64],
    ] as const) {
      const mesh = ball(columns, rows, 2);
      const around = broadCurvature(mesh, 0.6);
      for (const angle of [0.9, 1.3, 1.8]) {
        // Away from where the ball is cut open.
        const [x, y] = [-2 * Math.sin(angle), 2 * Math.cos(angle)];
        // Steiner's formula for polyhedra holds for the whole; within a ball of a few edges it is off by how these lie in it.
        expect(Math.abs(around.at(x, y, 0, x, y, 0) * 2 - 1)).toBeLessThan(0.08);
      }
    }
  });

  it('of a box is that of its nearest edge: half the turn over the disc, none on its sides', () => {
    const box = quads([
      {
        part: 'Top',
        corners: [
          [-1, 0, 1],
          [1, 0, 1],
          [1, 0, -1],
          [-1, 0, -1],
        ],
        place: [0.05, 0.05, 0.45, 0.45],
      },
      {
        part: 'Side',
        corners: [
          [1, 0, 1],
          [1, -2, 1],
          [1, -2, -1],
          [1, 0, -1],
        ],
        place: [0.55, 0.05, 0.95, 0.45],
      },
    ]);
    const r = 0.2;
    const around = broadCurvature(box, r);
    expect(around.at(0, 0, 0, 0, 1, 0)).toBe(0);
    for (const d of [0, 0.05, 0.15]) {
      // A right angle over the chord that the ball cuts out of the edge: π/2 · chord / 2 over the disc.
      const exact = ((Math.PI / 2) * 2 * Math.sqrt(r * r - d * d)) / 2 / (Math.PI * r * r);
      expect(around.at(1 - d, 0, 0, 0, 1, 0)).toBeCloseTo(exact, 5);
    }
  });

  it('looks at one side of a thin plate only', () => {
    const plate = quads([
      {
        part: 'Top',
        corners: [
          [-1, 0.01, 1],
          [0, 0.2, 1],
          [0, 0.2, -1],
          [-1, 0.01, -1],
        ],
        place: [0.05, 0.05, 0.3, 0.45],
      },
      {
        part: 'Top',
        corners: [
          [0, 0.2, 1],
          [1, 0.01, 1],
          [1, 0.01, -1],
          [0, 0.2, -1],
        ],
        place: [0.35, 0.05, 0.6, 0.45],
      },
      {
        part: 'Below',
        corners: [
          [-1, 0, -1],
          [1, 0, -1],
          [1, 0, 1],
          [-1, 0, 1],
        ],
        place: [0.65, 0.05, 0.95, 0.45],
      },
    ]);
    const around = broadCurvature(plate, 0.5);
    expect(around.at(0, 0.2, 0, 0, 1, 0)).toBeGreaterThan(0);
    expect(around.at(0, 0, 0, 0, -1, 0)).toBe(0);
  });
});

describe('ways along the surface', () => {
  it('are straight on a plane, also across the place where it is cut', () => {
    const mesh = seamedFloor();
    const way = ways(mesh, [[-0.7, 0, 0.4]]);
    const random = seededRandom(5);
    for (let i = 0; i < 50; i++) {
      const [x, z] = [random() * 2 - 1, random() * 2 - 1];
      // Its triangles: two on either side of x = 0, divided by their diagonals.
      const right = x > 0 ? 2 : 0;
      const u = x > 0 ? x : x + 1;
      const v = (1 - z) / 2;
      expect(way(right + (v > u ? 1 : 0), x, 0, z)).toBeCloseTo(Math.hypot(x + 0.7, z - 0.4), 4);
    }
  });

  it('are great circles on a ball', () => {
    const mesh = ball(96, 48);
    // Over from where the ball is cut open.
    const from = [-1, 0, 0] as const;
    const map = measureSurface(mesh, 128);
    const at = expanded(map);
    const values = measureCue(map, { cue: 'along', points: [[-1 / Math.hypot(2, 2, 2), 0, 0]], reach: 1 });
    const all = sheetValues(map, 0, values);
    for (let i = 0; i < all.length; i += 11) {
      if (at.face[i]! < 0) continue;
      const l = Math.hypot(at.px[i]!, at.py[i]!, at.pz[i]!);
      // The poles of this ball are corners side by side that aren’t one.
      if (Math.abs(at.py[i]!) > 0.98) continue;
      const exact = Math.acos((at.px[i]! * from[0]) / l);
      expect(Math.abs((all[i]! / 65535) * Math.hypot(2, 2, 2) - exact)).toBeLessThan(0.03 * Math.PI);
    }
  });

  it('lead nowhere where the surface doesn’t hang together', () => {
    const mesh = quads([
      {
        part: 'A',
        corners: [
          [0, 0, 0],
          [1, 0, 0],
          [1, 1, 0],
          [0, 1, 0],
        ],
        place: [0, 0, 0.4, 0.4],
      },
      {
        part: 'B',
        corners: [
          [0, 0, 5],
          [1, 0, 5],
          [1, 1, 5],
          [0, 1, 5],
        ],
        place: [0.5, 0.5, 0.9, 0.9],
      },
    ]);
    const way = ways(mesh, [[0.5, 0.5, 0]]);
    expect(way(0, 0.5, 0.2, 0)).toBeCloseTo(0.3);
    expect(way(2, 0.5, 0.2, 5)).toBe(Infinity);
    const map = measureSurface(mesh, 64);
    const at = expanded(map);
    const values = sheetValues(map, 0, measureCue(map, { cue: 'along', points: [[0, 0, -0.5]], reach: 3 }));
    expect(values.every((v, i) => at.face[i]! < 2 || v === 65535)).toBe(true);
  });
});

describe('grain', () => {
  const noises = { valueNoise, ridgedNoise, cellularNoise };

  it.each(Object.entries(noises))(
    '%s uses most of 0..1 and is the same for the same seed',
    (_name, noise) => {
      const random = seededRandom(1);
      const values = Array.from({ length: 4000 }, () =>
        noise(random() * 50, random() * 50, random() * 50, 7),
      );
      const mean = values.reduce((a, b) => a + b, 0) / values.length;
      expect(mean).toBeGreaterThan(0.25);
      expect(mean).toBeLessThan(0.75);
      expect(Math.max(...values) - Math.min(...values)).toBeGreaterThan(0.7);
      expect(noise(3.3, -2.1, 9.7, 7)).toBe(noise(3.3, -2.1, 9.7, 7));
      expect(noise(3.3, -2.1, 9.7, 7)).not.toBe(noise(3.3, -2.1, 9.7, 8));
    },
  );

  it.each(Object.entries(noises))(
    '%s repeats nowhere: it is like itself only where it is shifted by nothing',
    (_name, noise) => {
      const n = 512;
      const row = Float64Array.from({ length: n * 2 }, (_, i) => noise(i * 0.25, 3.7, 1.2, 3));
      const mean = row.reduce((a, b) => a + b, 0) / row.length;
      const alike = (shift: number): number => {
        let sum = 0;
        let own = 0;
        for (let i = 0; i < n; i++) {
          sum += (row[i]! - mean) * (row[i + shift]! - mean);
          own += (row[i]! - mean) ** 2;
        }
        return sum / own;
      };
      // Two grains away and farther; 1 would be a repeat. 128 grains of chance alone come to about 0.3 now and then.
      for (let shift = 8; shift < n; shift++) expect(alike(shift)).toBeLessThan(0.5);
    },
  );

  it('is the same on both sides of a seam', () => {
    const map = measureSurface(seamedFloor(), 256);
    const at = expanded(map);
    const values = sheetValues(
      map,
      0,
      measureCue(map, { cue: 'grain', kind: 'value', scale: 20, seed: 4, stretch: null }),
    );
    const sides: [Map<number, number>, Map<number, number>] = [new Map(), new Map()];
    for (let i = 0; i < values.length; i++) {
      if (at.face[i]! < 0 || Math.abs(at.px[i]!) > 1e-6) continue;
      sides[at.face[i]! < 2 ? 0 : 1].set(Math.round(at.pz[i]! * 1e4), values[i]!);
    }
    const shared = [...sides[0]].filter(([z]) => sides[1].has(z));
    expect(shared.length).toBeGreaterThan(20);
    for (const [z, value] of shared) expect(Math.abs(value - sides[1].get(z)!)).toBeLessThan(40);
  });

  it('is longer along the direction it is stretched in', () => {
    const map = measureSurface(floor(), 128);
    const at = expanded(map);
    const spec = { cue: 'grain', kind: 'value', scale: 40, seed: 2 } as const;
    const rough = (stretch: { direction: [number, number, number]; by: number } | null): [number, number] => {
      const values = sheetValues(map, 0, measureCue(map, { ...spec, stretch }));
      let across = 0;
      let upward = 0;
      for (let y = 1; y < 31; y++) {
        for (let x = 1; x < 31; x++) {
          const i = y * 32 + x;
          if (at.face[i]! < 0) continue;
          across += Math.abs(values[i]! - values[i - 1]!);
          upward += Math.abs(values[i]! - values[i - 32]!);
        }
      }
      return [across, upward];
    };
    const [across, upward] = rough({ direction: [1, 0, 0], by: 8 });
    expect(across * 3).toBeLessThan(upward);
    const [plainAcross, plainUpward] = rough(null);
    expect(plainAcross / plainUpward).toBeGreaterThan(0.6);
    expect(plainAcross / plainUpward).toBeLessThan(1.6);
  });
});

describe('height and nearness in any direction', () => {
  const lone = (): { map: ReturnType<typeof measureSurface>; at: ReturnType<typeof expanded> } => {
    const map = measureSurface(ball(48, 24) as UvMesh, 64);
    return { map, at: expanded(map) };
  };

  it('height runs between its beginning and its end', () => {
    const { map, at } = lone();
    const h = sheetValues(
      map,
      0,
      measureCue(map, { cue: 'height', direction: [1, 1, 0], from: 0.25, to: 0.75 }),
    );
    for (let i = 0; i < h.length; i++) {
      if (at.face[i]! < 0) continue;
      const along = (at.px[i]! + at.py[i]!) / Math.SQRT2;
      const exact = Math.min(1, Math.max(0, ((along + 1) / 2 - 0.25) / 0.5));
      expect(Math.abs(h[i]! / 65535 - exact)).toBeLessThan(0.01);
    }
  });

  it('nearness to a plane falls on both sides of it, over its edge', () => {
    const { map, at } = lone();
    const radius = 0.2;
    const spec = {
      cue: 'nearness',
      point: [0, 0, 0],
      radius,
      plane: [0, 1, 0] as [number, number, number],
      edge: 0.5,
    } as const;
    const near = sheetValues(map, 0, measureCue(map, { ...spec, point: [0, 0, 0] }));
    const reach = radius * Math.hypot(2, 2, 2);
    for (let i = 0; i < near.length; i++) {
      if (at.face[i]! < 0) continue;
      const exact = Math.min(1, Math.max(0, (1 - Math.abs(at.py[i]!) / reach) / 0.5));
      expect(Math.abs(near[i]! / 65535 - exact)).toBeLessThan(0.002);
    }
  });
});
