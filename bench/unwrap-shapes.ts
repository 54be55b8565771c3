import type { Vec3 } from '../core/math';
import type { Mesh } from '../core/mesh';
import { ring, rod, smoothMin, sphere, turned, type Sdf } from '../demo/sdf';
import { surfaceNets } from '../demo/surface-nets';

/** A model without layout. */
export type Shape = Pick<Mesh, 'positions' | 'indices'>;

const shape = (positions: readonly number[], indices: readonly number[]): Shape => ({
  positions: Float32Array.from(positions),
  indices: Uint32Array.from(indices),
});

const solid = (sdf: Sdf, reach: Vec3, cell: number, around: Vec3 = [0, 0, 0]): Shape => {
  const raw = surfaceNets(
    sdf,
    [around[0] - reach[0], around[1] - reach[1], around[2] - reach[2]],
    [around[0] + reach[0], around[1] + reach[1], around[2] + reach[2]],
    cell,
  );
  return shape(raw.positions, raw.indices);
};

const flowing =
  (k: number, ...shapes: readonly Sdf[]): Sdf =>
  (x, y, z) =>
    shapes.reduce((d, s) => smoothMin(d, s(x, y, z), k), Infinity);

/** A hand that stands upright, its palm to the front; the wrist is closed. */
export function hand(cell = 0.055): Shape {
  const finger = (x: number, y: number, lean: number, length: number, r: number): Sdf =>
    rod([x, y, 0], r, [x + lean * length, y + length, 0.05], r * 0.8);
  const palm = flowing(
    0.25,
    rod([-0.35, -0.35, 0], 0.24, [-0.42, 0.35, 0], 0.2),
    rod([0.35, -0.35, 0], 0.24, [0.42, 0.35, 0], 0.2),
    rod([0, -0.4, 0], 0.26, [0, 0.4, 0], 0.24),
    rod([0, -0.6, 0], 0.3, [0, -1.2, 0], 0.28),
  );
  return solid(
    flowing(
      0.09,
      palm,
      finger(-0.45, 0.4, -0.18, 0.72, 0.15),
      finger(-0.15, 0.5, -0.05, 0.9, 0.16),
      finger(0.16, 0.5, 0.06, 0.85, 0.155),
      finger(0.45, 0.42, 0.2, 0.62, 0.14),
      rod([-0.45, -0.3, 0.05], 0.2, [-1.05, 0.2, 0.2], 0.15),
    ),
    [1.5, 1.8, 0.6],
    cell,
    [0, 0, 0],
  );
}

/** A blob with three holes through it. */
export const threeHoles = (cell = 0.09): Shape =>
  solid(
    flowing(
      0.15,
      ...[-1, 0, 1].map((i) => turned(ring([i * 1.3, 0, 0], [0.8, 0.8], 0.32), 'x', 90, [i * 1.3, 0, 0])),
    ),
    [2.8, 1.5, 0.7],
    cell,
  );

/** A ball with three dents and bulges. */
export const blob = (cell = 0.1): Shape =>
  solid(
    flowing(
      0.4,
      sphere([0, 0, 0], 1),
      sphere([0.8, 0.5, 0.2], 0.5),
      sphere([-0.6, -0.6, 0.4], 0.55),
      sphere([-0.2, 0.9, -0.4], 0.45),
    ),
    [1.7, 1.7, 1.7],
    cell,
  );

/** A grid of quads over a plane or around, as triangles. */
function grid(
  columns: number,
  rows: number,
  at: (u: number, v: number) => Vec3,
  { closedU = false, closedV = false } = {},
): Shape {
  const [across, up] = [closedU ? columns : columns + 1, closedV ? rows : rows + 1];
  const positions: number[] = [];
  for (let j = 0; j < up; j++) for (let i = 0; i < across; i++) positions.push(...at(i / columns, j / rows));
  const indices: number[] = [];
  for (let j = 0; j < rows; j++) {
    for (let i = 0; i < columns; i++) {
      const [a, b] = [j * across + i, j * across + ((i + 1) % across)];
      const [c, d] = [((j + 1) % up) * across + i, ((j + 1) % up) * across + ((i + 1) % across)];
      indices.push(a, b, d, a, d, c);
    }
  }
  return shape(positions, indices);
}

/** A tube along the (2, 3) torus knot. */
export function torusKnot(around = 180, across = 18, r = 0.28): Shape {
  const curve = (t: number): Vec3 => {
    const a = t * 2 * Math.PI;
    const l = 1.2 + 0.5 * Math.cos(3 * a);
    return [l * Math.cos(2 * a), l * Math.sin(2 * a), 0.5 * Math.sin(3 * a)];
  };
  return grid(
    around,
    across,
    (u, v) => {
      const [p, q] = [curve(u), curve(u + 1e-4)];
      const t = unit([q[0] - p[0], q[1] - p[1], q[2] - p[2]]);
      // Square to the curve and to what leads from the middle, which turns with it and closes.
      const n = unit(crossed(t, p));
      const b = crossed(t, n);
      const [c, s] = [Math.cos(v * 2 * Math.PI) * r, -Math.sin(v * 2 * Math.PI) * r];
      return [p[0] + n[0] * c + b[0] * s, p[1] + n[1] * c + b[1] * s, p[2] + n[2] * c + b[2] * s];
    },
    { closedU: true, closedV: true },
  );
}

/** Hills over a square, open at its rim. */
export const heightField = (side = 60): Shape =>
  grid(side, side, (u, v) => [
    (u - 0.5) * 4,
    0.35 * Math.sin(u * 9) * Math.cos(v * 7) + 0.2 * Math.sin(u * 17 + v * 11),
    (0.5 - v) * 4,
  ]);

/** A turned pot with a bulging body, a neck and a rim, open above. */
export const pot = (columns = 48, rows = 40): Shape =>
  grid(
    columns,
    rows,
    (u, v) => {
      const r =
        v < 0.12 ? (v / 0.12) * 0.5 : 0.5 + 0.55 * Math.sin(((v - 0.12) / 0.88) * 2.6) ** 2 * (1 - 0.35 * v);
      const a = -u * 2 * Math.PI;
      return [r * Math.cos(a), v < 0.12 ? 0 : (v - 0.12) * 2, r * Math.sin(a)];
    },
    { closedU: true },
  );

/** Boxes in a row, each by itself. */
export function boxes(count: number): Shape {
  const positions: number[] = [];
  const indices: number[] = [];
  for (let n = 0; n < count; n++) {
    const first = positions.length / 3;
    const half = [0.4 + 0.1 * (n % 3), 0.5, 0.3 + 0.15 * (n % 2)] as const;
    for (let k = 0; k < 8; k++)
      positions.push(
        n * 2 + (k & 1 ? 1 : -1) * half[0],
        (k & 2 ? 1 : -1) * half[1],
        (k & 4 ? 1 : -1) * half[2],
      );
    for (const [a, b, c, d] of [
      [4, 5, 7, 6],
      [1, 0, 2, 3],
      [5, 1, 3, 7],
      [0, 4, 6, 2],
      [6, 7, 3, 2],
      [0, 1, 5, 4],
    ] as const)
      indices.push(first + a, first + b, first + c, first + a, first + c, first + d);
  }
  return shape(positions, indices);
}

/** The shapes by which a natural cut is judged. */
export const naturalShapes = (): { name: string; mesh: Shape; most: number | null }[] => [
  { name: 'hand', mesh: hand(), most: 3 },
  { name: 'torus knot', mesh: torusKnot(), most: 2 },
  { name: 'three holes', mesh: threeHoles(), most: 4 },
  { name: 'blob', mesh: blob(), most: null },
  { name: 'height field', mesh: heightField(), most: 1 },
  { name: 'one box', mesh: boxes(1), most: 1 },
  { name: 'six boxes', mesh: boxes(6), most: 6 },
  { name: 'pot', mesh: pot(), most: 4 },
];

const unit = ([x, y, z]: Vec3): Vec3 => {
  const l = Math.hypot(x, y, z) || 1;
  return [x / l, y / l, z / l];
};
const crossed = (a: Vec3, b: Vec3): Vec3 => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
