import { describe, expect, it } from 'vitest';
import { EVEN } from '../../../tests/ink';
import { ball, floor, quads, seamedFloor } from '../../../tests/shapes';
import { dot, length, normalize, scale, sub, type Vec3 } from '../../math';
import { cueSpec } from '../../cues';
import { boundsOf, diagonalOf, findIslands, smoothNormals, type UvMesh } from '../../mesh';
import {
  InkSurface,
  looseLine,
  ownLines,
  traceLine,
  type InkLine,
  type OwnCueSurface,
  type OwnSource,
} from '..';

/** A grid of places, columns and rows; closed around where told. */
function grid(columns: number, rows: number, at: (u: number, v: number) => Vec3, round = false): UvMesh {
  const positions: number[] = [];
  const uvs: number[] = [];
  const indices: number[] = [];
  for (let j = 0; j <= rows; j++)
    for (let i = 0; i <= columns; i++) {
      positions.push(...at(i / columns, j / rows));
      uvs.push(0.02 + (0.96 * i) / columns, 0.02 + (0.96 * j) / rows);
    }
  for (let j = 0; j < rows; j++)
    for (let i = 0; i < columns; i++) {
      const p = j * (columns + 1) + i;
      indices.push(p, p + 1, p + columns + 2, p, p + columns + 2, p + columns + 1);
    }
  const p = Float32Array.from(positions);
  // Columns that come round to where they began are one.
  const welded = Uint32Array.from({ length: p.length / 3 }, (_, v) => {
    const [i, j] = [v % (columns + 1), Math.floor(v / (columns + 1))];
    return round ? (j % rows) * (columns + 1) + (i % columns) : v;
  });
  return {
    positions: p.map((_, k) => p[welded[Math.floor(k / 3)]! * 3 + (k % 3)]!),
    normals: smoothNormals(p, Uint32Array.from(indices), welded),
    uvs: Float32Array.from(uvs),
    indices: Uint32Array.from(indices),
    faceParts: new Uint16Array(indices.length / 3),
    parts: ['Grid'],
  };
}

const box = (part = 'Box'): UvMesh => {
  const side = (axis: number, sign: number): Vec3[] => {
    const [b, c] = [(axis + 1) % 3, (axis + 2) % 3];
    return [
      [-1, -1],
      [1, -1],
      [1, 1],
      [-1, 1],
    ].map(([s, t]) => {
      const p = [0, 0, 0];
      p[axis] = sign;
      p[b] = s! * sign;
      p[c] = t!;
      return p as unknown as Vec3;
    });
  };
  return quads(
    [0, 1, 2].flatMap((axis) =>
      [1, -1].map((sign, k) => ({
        part: `${part} ${axis}`,
        corners: side(axis, sign),
        place: [axis / 3 + 0.02, k / 2 + 0.02, axis / 3 + 0.3, k / 2 + 0.4] as const,
      })),
    ),
  );
};

function drawn(
  mesh: UvMesh,
  from: OwnSource,
  more: Partial<OwnCueSurface> & { shortest?: number } = {},
): InkLine[] {
  const { shortest = 0, ...ground } = more;
  return ownLines(
    { from, style: EVEN, shortest, smooth: 0, width: null },
    {
      ground: new InkSurface(mesh),
      islandOfFace: findIslands(mesh).ofFace,
      diagonal: diagonalOf(boundsOf(mesh.positions)),
      region: () => null,
      cue: () => null,
      ...ground,
    },
  );
}

const wayOf = (mesh: UvMesh, lines: readonly InkLine[]): number => {
  const ground = new InkSurface(mesh);
  return lines.reduce((sum, line) => sum + traceLine(line, ground, 0.01).length, 0);
};

const points = (lines: readonly InkLine[], pieces = 6): Vec3[] =>
  lines.flatMap((line) => looseLine(line, pieces));

describe('contours', () => {
  // At 800 pixels for 2.4 units.
  const PIXEL = 3e-3;

  it('of a ball seen from a place are the circle where the ways to the eye touch it, within half a pixel', () => {
    const mesh = ball(192, 96);
    for (const eye of [
      [3, 0, 0],
      [1, 2, 1.5],
      [0.3, -2.5, 4],
    ] as const) {
      const lines = drawn(mesh, {
        along: 'contours',
        views: [{ name: '', eye: [...eye], flat: false }],
        inner: true,
      });
      const d = length(eye);
      // Closed form: the plane at 1 / d along the way to the eye, radius √(1 - 1/d²).
      const way = normalize(eye);
      const found = points(lines);
      expect(found.length).toBeGreaterThan(20);
      for (const p of found) {
        const high = dot(p, way);
        const out = length(sub(p, scale(way, high)));
        expect(Math.abs(out - Math.sqrt(1 - 1 / d ** 2))).toBeLessThan(PIXEL / 2);
        expect(Math.abs(high - 1 / d)).toBeLessThan(0.02);
      }
      const round = 2 * Math.PI * Math.sqrt(1 - 1 / d ** 2);
      expect(Math.abs(wayOf(mesh, lines) - round) / round).toBeLessThan(0.03);
    }
  });

  it('of a ring lie where its normal stands square to the view; what is hidden, and what lies before the ring itself, can be told apart', () => {
    const [R, r] = [1, 0.35];
    const mesh = grid(
      120,
      60,
      (u, v) => {
        const [a, b] = [u * 2 * Math.PI, v * 2 * Math.PI];
        return [(R + r * Math.cos(b)) * Math.cos(a), r * Math.sin(b), -(R + r * Math.cos(b)) * Math.sin(a)];
      },
      true,
    );
    const eye = normalize([0.2, 0.45, 1]);
    const from = (inner: boolean): OwnSource => ({
      along: 'contours',
      views: [{ name: '', eye: [...eye] as [number, number, number], flat: true }],
      inner,
    });
    const all = drawn(mesh, from(true));
    for (const p of points(all)) {
      // The normal of the ring at the place, closed form.
      const round = Math.hypot(p[0], p[2]);
      const n = normalize([p[0] * (1 - R / round), p[1], p[2] * (1 - R / round)]);
      expect(Math.abs(dot(n, eye)) * r).toBeLessThan(PIXEL * 2);
    }
    // Of the hole's rim only that part is before the background that can be seen through it.
    const outer = drawn(mesh, from(false));
    expect(wayOf(mesh, outer)).toBeLessThan(wayOf(mesh, all) - 0.1);
    expect(wayOf(mesh, outer)).toBeGreaterThan(2 * Math.PI * R);
  });

  it('of a box are its edges between what is seen and what isn’t; those behind it are left out', () => {
    const lines = drawn(box(), {
      along: 'contours',
      views: [{ name: '', eye: [3, 4, 5], flat: false }],
      inner: true,
    });
    // Six edges make the outline of a box seen from a corner.
    expect(wayOf(box(), lines)).toBeCloseTo(12, 1);
  });
});

describe('edges', () => {
  it('creases of a box are its twelve edges, only those that bulge', () => {
    const mesh = box();
    const from = { along: 'creases', angle: 60, which: 'ridges' } as const;
    expect(wayOf(mesh, drawn(mesh, from))).toBeCloseTo(24, 2);
    expect(drawn(mesh, { ...from, which: 'valleys' })).toEqual([]);
    expect(drawn(mesh, { ...from, angle: 95 })).toEqual([]);
    // No line goes round a corner.
    expect(drawn(mesh, from)).toHaveLength(12);
    expect(drawn(mesh, from, { shortest: 0.9 })).toEqual([]);
  });

  it('borders run where parts, islands and regions meet', () => {
    const borders = (of: ('parts' | 'islands')[], regions: number[] = []): OwnSource => ({
      along: 'borders',
      of,
      regions,
    });
    const flat = seamedFloor();
    const [line, ...others] = drawn(flat, borders(['islands']));
    expect(others).toEqual([]);
    expect(points([line!]).every((p) => Math.abs(p[0]) < 1e-6)).toBe(true);
    expect(wayOf(flat, [line!])).toBeCloseTo(2, 3);
    expect(drawn(flat, borders(['parts']))).toEqual([]);
    // The three pairs of sides of a box meet at all of its edges.
    expect(wayOf(box(), drawn(box(), borders(['parts'])))).toBeCloseTo(24, 2);
    const region = (): Uint8Array => Uint8Array.from([1, 1, 0, 0]);
    expect(wayOf(flat, drawn(flat, borders([], [5]), { region }))).toBeCloseTo(2, 3);
  });
});

describe('folds', () => {
  const hill = (sign: number): UvMesh =>
    grid(60, 40, (u, v) => {
      const x = u * 2 - 1;
      return [x, sign * 0.4 * Math.exp(-(x * x) / 0.04), 1 - v * 2];
    });

  it('a ridge is found on its crest, a valley on its floor', () => {
    for (const [sign, which] of [
      [1, 'ridges'],
      [-1, 'valleys'],
    ] as const) {
      const lines = drawn(hill(sign), { along: 'folds', which, scale: 0.01, least: 0.3 }, { shortest: 0.2 });
      const middle = points(lines).filter((p) => Math.abs(p[0]) < 0.08);
      expect(middle.length).toBeGreaterThan(3);
      for (const p of middle) expect(Math.abs(p[0])).toBeLessThan(0.02);
      expect(Math.max(...middle.map((p) => p[2])) - Math.min(...middle.map((p) => p[2]))).toBeGreaterThan(
        1.6,
      );
    }
  });

  it('a plane and a ball have none', () => {
    const from = { along: 'folds', which: 'both', scale: 0.02, least: 0.5 } as const;
    expect(
      drawn(
        grid(20, 20, (u, v) => [u, 0, -v]),
        from,
      ),
    ).toEqual([]);
    expect(drawn(ball(48, 24), from, { shortest: 0.1 })).toEqual([]);
  });
});

describe('hatching', () => {
  const from = {
    along: 'hatching',
    tone: { cue: 'occlusion' },
    low: 0,
    high: 1,
    invert: false,
    way: 'around',
    directions: 1,
    spacing: 0.02,
    length: 0.08,
  } as const;
  // Dark on the left, light on the right.
  const cue = () => (_: number, at: Vec3) => (at[0] + 1) / 2;

  it('is closer where it is darker, and runs on the surface', () => {
    const wall = grid(4, 4, (u, v) => [u * 2 - 1, v * 2 - 1, 0]);
    const lines = drawn(wall, from as unknown as OwnSource, { cue });
    const at = points(lines, 2);
    const share = (from: number, to: number): number => at.filter((p) => p[0] >= from && p[0] < to).length;
    expect(share(-1, -0.5)).toBeGreaterThan(share(-0.25, 0.25) * 1.3);
    expect(share(-0.25, 0.25)).toBeGreaterThan(share(0.5, 1) * 1.5);
    expect(at.every((p) => Math.abs(p[2]) < 1e-6)).toBe(true);
    // Round the upright axis is level on a wall.
    const tilts = lines.map((l) => Math.abs(l.at.at(-2)! - l.at[1]!) / Math.abs(l.at.at(-3)! - l.at[0]!));
    expect(Math.max(...tilts)).toBeLessThan(0.05);
    expect(drawn(wall, { ...from, directions: 2 } as unknown as OwnSource, { cue }).length).toBeGreaterThan(
      lines.length,
    );
    expect(drawn(wall, from as unknown as OwnSource)).toEqual([]);
  });
});

describe('their width', () => {
  it('follows a cue', () => {
    const lines = ownLines(
      {
        from: { along: 'borders', of: ['islands'], regions: [] },
        style: EVEN,
        shortest: 0,
        smooth: 0,
        width: {
          cue: cueSpec.parse({ cue: 'height', direction: [0, 1, 0], from: 0, to: 1 }),
          least: 0.2,
          invert: false,
        },
      },
      {
        ground: new InkSurface(seamedFloor()),
        islandOfFace: findIslands(seamedFloor()).ofFace,
        diagonal: diagonalOf(boundsOf(seamedFloor().positions)),
        region: () => null,
        cue: () => (_, at) => (at[2] + 1) / 2,
      },
    );
    const [line] = lines;
    expect(line!.press.length).toBeGreaterThan(10);
    line!.press.forEach((press, i) => {
      expect(press).toBeCloseTo(1 - (0.8 * (line!.at[i * 3 + 2]! + 1)) / 2, 5);
    });
  });
  it('a floor alone has no borders', () => {
    expect(drawn(floor(), { along: 'borders', of: ['parts', 'islands'], regions: [] })).toEqual([]);
  });
});
