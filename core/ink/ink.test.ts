import { describe, expect, it } from 'vitest';
import { inked, lineThrough } from '../../tests/ink';
import { ball, floor, plate, quads, seamedFloor, together } from '../../tests/shapes';
import { length, seededRandom, sub, type Vec3 } from '../math';
import type { UvMesh } from '../mesh';
import {
  carryLine,
  closeLine,
  cubicAt,
  fitCurves,
  InkSurface,
  inkLineSchema,
  insertPoint,
  joinLines,
  looseLine,
  followLine,
  pointCount,
  removePoint,
  reverseLine,
  smoothLine,
  spanOf,
  splitLine,
  traceLine,
  withLines,
  type InkLine,
} from '.';

/** A tube of radius 1 around y, from 0 to 2. */
function tube(columns: number, rows: number): UvMesh {
  const positions: number[] = [];
  const uvs: number[] = [];
  const indices: number[] = [];
  for (let j = 0; j <= rows; j++) {
    for (let i = 0; i <= columns; i++) {
      const a = (i / columns) * 2 * Math.PI;
      positions.push(Math.sin(a), (2 * j) / rows, Math.cos(a));
      uvs.push(0.02 + (0.96 * i) / columns, 0.02 + (0.3 * j) / rows);
    }
  }
  for (let j = 0; j < rows; j++) {
    for (let i = 0; i < columns; i++) {
      const p = j * (columns + 1) + i;
      indices.push(p, p + 1, p + columns + 2, p, p + columns + 2, p + columns + 1);
    }
  }
  return {
    ...floor(),
    positions: Float32Array.from(positions),
    normals: Float32Array.from(positions, (x, k) => (k % 3 === 1 ? 0 : x)),
    uvs: Float32Array.from(uvs),
    indices: Uint32Array.from(indices),
    faceParts: new Uint16Array(indices.length / 3),
  };
}

const lengthOn = (mesh: UvMesh, line: InkLine, texel = 0.01): number =>
  traceLine(line, new InkSurface(mesh), texel).length;

describe('a line on the surface is as long as its closed form says', () => {
  it('on a plane: straight', () => {
    expect(
      lengthOn(
        floor(),
        lineThrough([
          [-0.7, 0, 0.2],
          [0.5, 0, 0.7],
        ]),
      ),
    ).toBeCloseTo(1.3, 5);
  });

  it('on a tube: a quarter round, and a screw', () => {
    const mesh = tube(180, 40);
    const on = (a: number, y: number): Vec3 => [Math.sin(a), y, Math.cos(a)];
    const quarter = [0, 1, 2, 3, 4].map((k) => on((k * Math.PI) / 8, 1));
    expect(Math.abs(lengthOn(mesh, lineThrough(quarter)) - Math.PI / 2)).toBeLessThan(0.01);
    // Half a turn while it climbs by 1: the diagonal of the sheet rolled out.
    const screw = Array.from({ length: 9 }, (_, k) => on((k * Math.PI) / 8, 0.5 + k / 8));
    const wanted = Math.hypot(Math.PI, 1);
    expect(Math.abs(lengthOn(mesh, lineThrough(screw)) - wanted) / wanted).toBeLessThan(0.01);
  });

  it('on a ball: two points and handles along the surface are a great circle’s arc, evenly divided', () => {
    const mesh = ball(96, 48);
    const third = Math.PI / 2 / 3;
    const line = {
      ...lineThrough([
        [1, 0, 0],
        [0, 0, -1],
      ]),
      ahead: [0, 0, -third * 1.05, 0, 0, 0],
      back: [0, 0, 0, third * 1.05, 0, 0],
    };
    const trace = traceLine(line, new InkSurface(mesh), 0.01);
    expect(Math.abs(trace.length - Math.PI / 2)).toBeLessThan(0.01);
    expect(trace.begins.size).toBe(0);
    for (let i = 0; i < trace.faces.length; i++) {
      const p: Vec3 = [trace.at[i * 3]!, trace.at[i * 3 + 1]!, trace.at[i * 3 + 2]!];
      expect(Math.abs(length(p) - 1)).toBeLessThan(0.003);
      expect(Math.abs(p[1])).toBeLessThan(0.002);
    }
    // Nowhere is a piece longer than it may be.
    const steps = Array.from(trace.along)
      .slice(1)
      .map((s, i) => s - trace.along[i]!);
    expect(Math.max(...steps)).toBeLessThan(0.09);
  });
});

describe('a line stays on its side', () => {
  it('goes over what lies between its points, and doesn’t come through something thin', () => {
    const list = inked(plate(0.02, 'Below'), [
      lineThrough(
        [
          [-0.6, 0, 0],
          [0.6, 0, 0],
        ],
        { width: 0.1 },
      ),
    ]);
    const [above, below] = [0, -0.02].map((y) =>
      list.filter((t) => Math.abs(t.at[1] - y) < 0.005 && Math.hypot(t.at[0], t.at[2]) < 0.02),
    );
    expect(above!.length).toBeGreaterThan(3);
    expect(above!.every((t) => t.cover === 1)).toBe(true);
    expect(below!.every((t) => t.cover === 0)).toBe(true);
  });

  it('over an edge that three triangles share it goes on', () => {
    const fin = quads([
      {
        part: 'Fin',
        corners: [
          [0, 0, 1],
          [0, 0, -1],
          [0, 1, -1],
          [0, 1, 1],
        ],
        place: [0.1, 0.1, 0.9, 0.9],
      },
    ]);
    const mesh = together(seamedFloor(), fin);
    const line = lineThrough([
      [-0.8, 0, 0.2],
      [0.8, 0, 0.3],
    ]);
    const list = inked(mesh, [line], 256);
    for (const x of [-0.5, -0.1, 0.1, 0.5]) {
      const z = 0.25 + x / 16;
      const here = list.filter(
        (t) => Math.abs(t.at[1]) < 1e-6 && Math.hypot(t.at[0] - x, t.at[2] - z) < 0.02,
      );
      expect(
        here.some((t) => t.cover === 1),
        String(x),
      ).toBe(true);
    }
  });

  it('over a hole it is drawn on either side, and told to have a gap', () => {
    const apart = together(floor(1), {
      ...floor(1),
      positions: floor(1).positions.map((x, i) => (i % 3 === 0 ? x + 2 : x)),
    });
    const line = lineThrough(
      [
        [-0.3, 0, 0],
        [2.3, 0, 0],
      ],
      { width: 0.1 },
    );
    const trace = traceLine(line, new InkSurface(apart), 0.01);
    expect(trace.begins.size).toBe(1);
    expect(trace.length).toBeLessThan(1.9);
    const list = inked(apart, [line]);
    const on = (x: number): boolean =>
      list.some((t) => Math.hypot(t.at[0] - x, t.at[2]) < 0.02 && t.cover === 1);
    expect([on(0.3), on(1.7)]).toEqual([true, true]);
  });
});

describe('what a line covers', () => {
  it('is as wide as it says at every size, on both sides of a seam, without a break', () => {
    for (const size of [128, 256, 512] as const) {
      const list = inked(
        seamedFloor(),
        [
          lineThrough(
            [
              [-0.8, 0, 0.1],
              [0.8, 0, 0.1],
            ],
            { width: 0.2 },
          ),
        ],
        size,
      );
      // The area by texels beside the closed form: a bar with two half discs.
      const texel = (1 / (0.35 * size)) * (2 / 0.7 / (1 / 0.35));
      const area = list.reduce((sum, t) => sum + t.cover, 0) * (1 / (0.35 * size)) * (2 / (0.7 * size));
      expect(Math.abs(area - (1.6 * 0.2 + Math.PI * 0.01))).toBeLessThan(0.012);
      for (const { at, cover } of list) {
        const d = Math.abs(at[2] - 0.1);
        if (Math.abs(at[0]) > 0.8) continue;
        if (d < 0.1 - texel * 1.5) expect(cover).toBe(1);
        if (d > 0.1 + texel * 1.5) expect(cover).toBe(0);
      }
    }
  });

  it('a line thinner than a texel covers its part of it', () => {
    const list = inked(
      floor(),
      [
        lineThrough(
          [
            [-0.9, 0, 0.001],
            [0.9, 0, 0.001],
          ],
          { width: 0.004 },
        ),
      ],
      128,
    );
    const area = list.reduce((sum, t) => sum + t.cover, 0) * (2 / 128) ** 2;
    expect(Math.abs(area - 1.8 * 0.004)).toBeLessThan(0.0005);
  });

  it('runs along the surface round a fold: as far down the other side as it would go on the flat', () => {
    const mesh = tube(180, 40);
    // Straight up along the tube: texels tell how far round they lie.
    const list = inked(
      mesh,
      [
        lineThrough(
          [
            [0, 0.3, 1],
            [0, 1.7, 1],
          ],
          { width: 1 },
        ),
      ],
      512,
    );
    for (const { at, cover } of list) {
      if (at[1] < 0.4 || at[1] > 1.6) continue;
      const round = Math.abs(Math.atan2(at[0], at[2]));
      if (round < 0.48) expect(cover, `${round}`).toBe(1);
      if (round > 0.52) expect(cover, `${round}`).toBe(0);
    }
  });

  it('tapers, follows a profile, a nib’s direction and the pen', () => {
    const widthAt = (line: InkLine, x: number): number => {
      const list = inked(floor(), [line], 512).filter((t) => Math.abs(t.at[0] - x) < 2 / 512);
      return (list.reduce((sum, t) => sum + t.cover, 0) * (2 / 512)) / 2;
    };
    const ends: Vec3[] = [
      [-0.8, 0, 0],
      [0.8, 0, 0],
    ];
    const tapered = lineThrough(ends, { width: 0.2, taper: [0.5, 0] });
    expect(widthAt(tapered, -0.4)).toBeCloseTo(0.2 * Math.sin(Math.PI / 4), 2);
    expect(widthAt(tapered, 0.4)).toBeCloseTo(0.2, 2);
    const shaped = lineThrough(ends, {
      width: 0.2,
      profile: [
        [0, 1],
        [0.5, 0.2],
        [1, 1],
      ],
    });
    expect(widthAt(shaped, 0)).toBeCloseTo(0.04, 2);
    expect(widthAt(lineThrough(ends, { width: 0.2 }, { press: [1, 0] }), 0)).toBeCloseTo(0.1, 2);
    const flat = { width: 0.2, nib: 'flat', nibTurn: Math.PI / 2 } as const;
    expect(widthAt(lineThrough(ends, flat), 0)).toBeCloseTo(0.2, 2);
    expect(widthAt(lineThrough(ends, { ...flat, nibTurn: 0 }), 0)).toBeCloseTo(0.2 * 0.18, 2);
    const broken = lineThrough(ends, { width: 0.03, nib: 'broken', breaks: 0.5, seed: 3 });
    const whole = inked(floor(), [{ ...broken, style: { ...broken.style, breaks: 0 } }], 512);
    const part = inked(floor(), [broken], 512);
    const area = (list: typeof part): number => list.reduce((sum, t) => sum + t.cover, 0);
    expect(area(part) / area(whole)).toBeGreaterThan(0.3);
    expect(area(part) / area(whole)).toBeLessThan(0.8);
  });

  it('a closed line is filled within, over a seam', () => {
    const round = Array.from({ length: 8 }, (_, k): Vec3 => [
      0.5 * Math.cos((k * Math.PI) / 4),
      0,
      0.5 * Math.sin((k * Math.PI) / 4),
    ]);
    const line = lineThrough(round, { width: 0.02, fill: '#ff0000' }, { closed: true });
    for (const { at, cover } of inked(seamedFloor(), [line], 256)) {
      const r = Math.hypot(at[0], at[2]);
      if (r < 0.48) expect(cover).toBe(1);
      if (r > 0.54) expect(cover).toBe(0);
    }
  });

  it('a hand strays by no more than it is let, and the same each time', () => {
    const ends: Vec3[] = [
      [-0.8, 0, 0],
      [0.8, 0, 0],
    ];
    const line = lineThrough(ends, { width: 0.04, wobble: 1, seed: 7 });
    const list = inked(floor(), [line], 256);
    const off = list.filter((t) => t.cover > 0).map((t) => Math.abs(t.at[2]));
    expect(Math.max(...off)).toBeLessThan(0.02 + 0.04 + 0.01);
    expect(Math.max(...off)).toBeGreaterThan(0.03);
    expect(inked(floor(), [line], 256)).toEqual(list);
  });
});

describe('curves through what a hand has drawn', () => {
  it('lie within the tolerance of every point, with few points of their own', () => {
    const random = seededRandom(4);
    const wave = Array.from({ length: 200 }, (_, i): Vec3 => {
      const x = i / 100 - 1;
      return [x, 0.001 * (random() - 0.5), 0.3 * Math.sin(3 * x)];
    });
    for (const tolerance of [0.002, 0.01, 0.05]) {
      const line = fitCurves({ at: wave, press: wave.map(() => 0.5) }, tolerance)!;
      const dense = Array.from({ length: pointCount(line) - 1 }, (_, span) =>
        Array.from({ length: 800 }, (_, k) => cubicAt(spanOf(line, span), k / 799)),
      ).flat();
      for (const p of wave) {
        const least = Math.min(...dense.map((q) => length(sub(p, q))));
        expect(least).toBeLessThan(tolerance * 1.05 + 0.0003);
      }
      expect(pointCount(line)).toBeLessThan(tolerance < 0.005 ? 24 : 9);
      expect(line.press.every((x) => x === 0.5)).toBe(true);
    }
    expect(
      fitCurves(
        {
          at: [
            [0, 0, 0],
            [0, 0, 0],
          ],
          press: [1, 1],
        },
        0.01,
      ),
    ).toBeNull();
  });
});

describe('lines are edited', () => {
  const wave = lineThrough([
    [-0.8, 0, 0],
    [-0.2, 0, 0.4],
    [0.3, 0, -0.2],
    [0.8, 0, 0],
  ]);
  const shape = (line: InkLine): Vec3[] => looseLine(line, 160);
  const nearTo = (points: readonly Vec3[], line: InkLine): number =>
    Math.max(...points.map((p) => Math.min(...shape(line).map((q) => length(sub(p, q))))));

  it('a point more changes nothing; one less keeps the rest; the way back is the same line', () => {
    const more = insertPoint(wave, 1, 0.3);
    expect(pointCount(more)).toBe(5);
    expect(nearTo(shape(more), wave)).toBeLessThan(0.01);
    expect(removePoint(more, 2)!.at).toEqual(wave.at);
    expect(
      removePoint(
        lineThrough([
          [0, 0, 0],
          [1, 0, 0],
        ]),
        0,
      ),
    ).toBeNull();
    expect(reverseLine(reverseLine(wave))).toEqual(wave);
    expect(nearTo(shape(reverseLine(wave)), wave)).toBeLessThan(0.01);
  });

  it('what is split and joined again is the same; lines that don’t touch are joined by a piece', () => {
    const [a, b] = splitLine(wave, 2);
    expect([pointCount(a!), pointCount(b!)]).toEqual([3, 2]);
    expect(joinLines(a!, b!)).toEqual(wave);
    expect(joinLines(reverseLine(a!), reverseLine(b!)).at).toHaveLength(12);
    const far = lineThrough([
      [0.8, 0, 0.5],
      [0.8, 0, 0.9],
    ]);
    expect(pointCount(joinLines(wave, far))).toBe(6);
    expect(splitLine(wave, 0)).toEqual([wave]);
  });

  it('is closed and opened', () => {
    const closed = closeLine(wave, true);
    expect(inkLineSchema.safeParse(closed).success).toBe(true);
    const [opened] = splitLine(closed, 1);
    expect(opened!.closed).toBe(false);
    expect(nearTo(shape(opened!), closed)).toBeLessThan(0.01);
    expect(
      closeLine(
        lineThrough([
          [0, 0, 0],
          [1, 0, 0],
        ]),
        true,
      ).closed,
    ).toBe(false);
  });

  it('is smoothed, mirrored, and carried over the surface', () => {
    const bend = (line: InkLine): number => Math.max(...shape(line).map((p) => Math.abs(p[2])));
    expect(bend(smoothLine(wave, 0.5))).toBeLessThan(bend(wave) * 0.9);
    expect(followLine(wave, ([x, y, z]) => [-x, y, z], 1).at.slice(0, 3)).toEqual([0.8, 0, 0]);
    const mesh = ball(64, 32);
    const ground = new InkSurface(mesh);
    const top = lineThrough([
      [-0.1, 0.995, 0],
      [0, 1, 0],
      [0.1, 0.995, 0],
    ]);
    const carried = carryLine(
      top,
      { at: [0, 1, 0], normal: [0, 1, 0] },
      { at: [1, 0, 0], normal: [1, 0, 0] },
      ground,
    );
    for (let i = 0; i < 3; i++) {
      const p = carried.at.slice(i * 3, i * 3 + 3) as unknown as Vec3;
      expect(length(p)).toBeGreaterThan(0.99);
      expect(p[0]).toBeGreaterThan(0.98);
    }
    expect(Math.abs(carried.at[1]! - carried.at[7]!)).toBeGreaterThan(0.19);
  });

  it('of a layer are put, changed and removed; what isn’t there is told', () => {
    const { lines, ids } = withLines(
      [],
      [
        { ...wave, id: null },
        { ...wave, id: null },
      ],
      [],
    );
    expect(ids).toEqual([0, 1]);
    const next = withLines(lines, [{ ...wave, id: 1, closed: true }], [0]);
    expect(next.lines).toMatchObject([{ id: 1, closed: true }]);
    expect(next.ids).toEqual([]);
    expect(() => withLines(lines, [{ ...wave, id: 9 }], [])).toThrow(/isn’t there any more/);
  });

  it('bad lines are refused', () => {
    for (const bad of [
      { ...wave, press: [1, 1] },
      { ...wave, at: [...wave.at.slice(0, 11), NaN] },
      { ...wave, at: [], ahead: [], back: [], press: [] },
      { ...wave, style: { ...wave.style, width: 0 } },
    ]) {
      expect(inkLineSchema.safeParse(bad).success).toBe(false);
    }
  });
});
