import { IcosahedronGeometry } from 'three';
import { mergeVertices } from 'three/examples/jsm/utils/BufferGeometryUtils.js';
import type { Mesh } from '../core/mesh';

/** Models without layout, of one part, made from formulas. */

export type Place = readonly [x: number, y: number, z: number];

/** @param indices three vertices a triangle, counter-clockwise from outside */
export const form = (positions: readonly number[], indices: readonly number[]): Mesh => ({
  positions: Float32Array.from(positions),
  normals: Float32Array.from(positions, (_, i) => (i % 3 === 1 ? 1 : 0)),
  uvs: null,
  indices: Uint32Array.from(indices),
  faceParts: new Uint16Array(indices.length / 3),
  parts: ['Part'],
});

/** A grid over a plane or round an axis. */
export function grid(
  columns: number,
  rows: number,
  at: (u: number, v: number) => Place,
  closed = false,
): Mesh {
  const across = closed ? columns : columns + 1;
  const positions: number[] = [];
  for (let j = 0; j <= rows; j++)
    for (let i = 0; i < across; i++) positions.push(...at(i / columns, j / rows));
  const indices: number[] = [];
  for (let j = 0; j < rows; j++) {
    for (let i = 0; i < columns; i++) {
      const [a, b] = [j * across + i, j * across + ((i + 1) % across)];
      indices.push(a, b, b + across, a, b + across, a + across);
    }
  }
  return form(positions, indices);
}

/** A box as twelve triangles. @param x, y, z half of its sides */
export const box = (x: number, y: number, z: number): Mesh => bevelledBox(x, y, z, 0);

/** A box whose edges and corners are cut off flat; without a bevel it has only its six sides. @param x, y, z half of its sides */
export function bevelledBox(x: number, y: number, z: number, bevel: number): Mesh {
  const half = [x, y, z];
  const each = bevel > 0 ? 3 : 1;
  const positions: number[] = [];
  for (let corner = 0; corner < 8; corner++) {
    for (let own = 0; own < each; own++) {
      for (let k = 0; k < 3; k++)
        positions.push((corner >> k) & 1 ? half[k]! - inset(k, own) : -half[k]! + inset(k, own));
    }
  }
  function inset(k: number, own: number): number {
    return k === own ? 0 : bevel;
  }
  const vertex = (corner: number, axis: number): number => corner * each + (each > 1 ? axis : 0);
  const indices: number[] = [];
  const side = (loop: readonly number[]): void => {
    const p = (i: number): Place => [0, 1, 2].map((k) => positions[loop[i]! * 3 + k]!) as unknown as Place;
    const [a, b, c] = [p(0), p(1), p(2)];
    const u = [0, 1, 2].map((k) => b[k]! - a[k]!);
    const v = [0, 1, 2].map((k) => c[k]! - a[k]!);
    const out = [0, 1, 2].reduce((sum, k) => {
      const [m, n] = [(k + 1) % 3, (k + 2) % 3];
      return sum + (u[m]! * v[n]! - u[n]! * v[m]!) * (a[k]! + b[k]! + c[k]!);
    }, 0);
    const way = out > 0 ? loop : loop.toReversed();
    for (let k = 2; k < way.length; k++) indices.push(way[0]!, way[k - 1]!, way[k]!);
  };
  for (let axis = 0; axis < 3; axis++) {
    const [p, q] = [(axis + 1) % 3, (axis + 2) % 3];
    const at = (s: number, i: number, j: number): number => (s << axis) | (i << p) | (j << q);
    for (const s of [0, 1])
      side([at(s, 0, 0), at(s, 1, 0), at(s, 1, 1), at(s, 0, 1)].map((k) => vertex(k, axis)));
    if (each === 1) continue;
    for (const [i, j] of [
      [0, 0],
      [0, 1],
      [1, 0],
      [1, 1],
    ] as const) {
      const [low, high] = [at(0, i, j), at(1, i, j)];
      side([vertex(low, p), vertex(high, p), vertex(high, q), vertex(low, q)]);
    }
  }
  if (each > 1) for (let corner = 0; corner < 8; corner++) side([0, 1, 2].map((k) => vertex(corner, k)));
  return form(positions, indices);
}

/** A thin thing with two sides and a rim: a surface made thick along z. @returns also whether each vertex is on its front */
export function thinSheet(
  columns: number,
  rows: number,
  thickness: number,
  at: (u: number, v: number) => Place,
): Mesh {
  const front = grid(columns, rows, at);
  const count = front.positions.length / 3;
  const positions = [1, -1].flatMap((side) =>
    Array.from(front.positions, (x, i) => (i % 3 === 2 ? x + (side * thickness) / 2 : x)),
  );
  const indices = [...front.indices];
  for (let c = 0; c < front.indices.length; c += 3)
    indices.push(...[0, 2, 1].map((k) => front.indices[c + k]! + count));
  const across = columns + 1;
  const rim = [
    ...Array.from({ length: columns }, (_, i) => i),
    ...Array.from({ length: rows }, (_, j) => j * across + columns),
    ...Array.from({ length: columns }, (_, i) => rows * across + columns - i),
    ...Array.from({ length: rows }, (_, j) => (rows - j) * across),
  ];
  rim.forEach((a, k) => {
    const b = rim[(k + 1) % rim.length]!;
    indices.push(b, a, a + count, b, a + count, b + count);
  });
  return form(positions, indices);
}

/** A form turned on a lathe about y: radius and height along its profile, from bottom to top on the outside. A radius of 0 is a pole. */
export function turnedForm(profile: readonly (readonly [number, number])[], around: number): Mesh {
  const positions: number[] = [];
  const first = profile.map(([r, y]) => {
    const from = positions.length / 3;
    const count = r > 0 ? around : 1;
    for (let i = 0; i < count; i++) {
      const a = (2 * Math.PI * i) / around;
      positions.push(r * Math.sin(a), y, r * Math.cos(a));
    }
    return from;
  });
  const indices: number[] = [];
  for (let k = 0; k + 1 < profile.length; k++) {
    const [low, high] = [first[k]!, first[k + 1]!];
    const [below, above] = [profile[k]![0] > 0, profile[k + 1]![0] > 0];
    for (let i = 0; i < around; i++) {
      const j = (i + 1) % around;
      if (below && above) indices.push(low + i, low + j, high + j, low + i, high + j, high + i);
      else if (below) indices.push(low + i, low + j, high);
      else indices.push(low, high + j, high + i);
    }
  }
  return form(positions, indices);
}

/**
 * A ball of nearly even triangles, turned so that no two sides of it have the same, and then moved vertex by vertex.
 *
 * @param detail cuts along each edge of an icosahedron, less one
 * @param turn round all three axes, radians
 * @param moved where a place of the unit sphere goes
 */
export function evenBall(detail: number, turn: number, moved: (p: Place) => Place): Mesh {
  const whole = new IcosahedronGeometry(1, detail).rotateX(turn).rotateY(turn).rotateZ(turn);
  whole.deleteAttribute('normal');
  whole.deleteAttribute('uv');
  const geometry = mergeVertices(whole, 1e-5);
  const at = geometry.getAttribute('position');
  const positions = Array.from({ length: at.count }, (_, v) => moved([at.getX(v), at.getY(v), at.getZ(v)]));
  return form(positions.flat(), Array.from(geometry.index!.array));
}
