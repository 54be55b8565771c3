import type { Chart } from '../core/unwrap';
import type { Mesh } from '../core/mesh';

export type Place = (u: number, v: number) => readonly [number, number, number];

/** A grid of quads bent by `place`. */
export function sheet(columns: number, rows: number, place: Place): Chart {
  const positions: number[] = [];
  const indices: number[] = [];
  for (let j = 0; j <= rows; j++)
    for (let i = 0; i <= columns; i++) positions.push(...place(i / columns, j / rows));
  for (let j = 0; j < rows; j++) {
    for (let i = 0; i < columns; i++) {
      const p = j * (columns + 1) + i;
      indices.push(p, p + 1, p + columns + 2, p, p + columns + 2, p + columns + 1);
    }
  }
  return { positions: Float32Array.from(positions), indices: Uint32Array.from(indices) };
}

/** As a model without UVs, one part. */
export const model = ({ positions, indices }: Chart): Mesh => ({
  positions,
  indices,
  normals: new Float32Array(positions.length).fill(Math.SQRT1_2),
  uvs: null,
  faceParts: new Uint16Array(indices.length / 3),
  parts: ['Piece'],
});

export const cylinder: Place = (u, v) => [
  Math.sin(u * 2 * Math.PI * 0.98),
  v * 3,
  Math.cos(u * 2 * Math.PI * 0.98),
];
export const cone: Place = (u, v) => {
  const r = 0.3 + v;
  return [r * Math.sin(u * 6), -v * 1.5, r * Math.cos(u * 6)];
};
export const folded: Place = (u, v) => [
  u < 0.5 ? u : 0.5 + (u - 0.5) * 0.5,
  v,
  u < 0.5 ? 0 : (u - 0.5) * Math.sqrt(0.75),
];
/** Half a ball by rings from the pole to the equator; v is the angle from the pole. */
export const halfBall: Place = (u, v) => {
  const a = u * 2 * Math.PI;
  const b = (v * Math.PI) / 2;
  return [Math.sin(b) * Math.cos(a), Math.cos(b), -Math.sin(b) * Math.sin(a)];
};

export function boxShape(): Chart {
  const positions: number[] = [];
  for (let i = 0; i < 8; i++) positions.push(i & 1, (i >> 1) & 1, i >> 2);
  const quads = [
    [0, 2, 3, 1],
    [4, 5, 7, 6],
    [0, 1, 5, 4],
    [2, 6, 7, 3],
    [0, 4, 6, 2],
    [1, 3, 7, 5],
  ] as const;
  return {
    positions: Float32Array.from(positions),
    indices: Uint32Array.from(quads.flatMap(([a, b, c, d]) => [a, b, c, a, c, d])),
  };
}

export function moebius(): Chart {
  const n = 24;
  const positions: number[] = [];
  const indices: number[] = [];
  for (let i = 0; i < n; i++) {
    const a = (i / n) * 2 * Math.PI;
    for (const s of [-0.3, 0.3]) {
      const r = 1 + s * Math.cos(a / 2);
      positions.push(r * Math.cos(a), s * Math.sin(a / 2), r * Math.sin(a));
    }
  }
  for (let i = 0; i < n; i++) {
    const [p, q] = [i * 2, i * 2 + 1];
    const [r, s] = i + 1 < n ? [p + 2, q + 2] : [1, 0];
    indices.push(p, q, s, p, s, r);
  }
  return { positions: Float32Array.from(positions), indices: Uint32Array.from(indices) };
}

export function torus(): Chart {
  const [n, m] = [24, 12];
  const positions: number[] = [];
  const indices: number[] = [];
  for (let i = 0; i < n; i++) {
    for (let j = 0; j < m; j++) {
      const [a, b] = [(i / n) * 2 * Math.PI, (j / m) * 2 * Math.PI];
      positions.push((2 + Math.cos(b)) * Math.cos(a), Math.sin(b), (2 + Math.cos(b)) * Math.sin(a));
      const at = (x: number, y: number): number => (x % n) * m + (y % m);
      indices.push(at(i, j), at(i, j + 1), at(i + 1, j + 1), at(i, j), at(i + 1, j + 1), at(i + 1, j));
    }
  }
  return { positions: Float32Array.from(positions), indices: Uint32Array.from(indices) };
}
