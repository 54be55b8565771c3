import type { Vec3 } from '../core/math';
import type { Sdf } from './sdf';

export interface RawMesh {
  positions: number[];
  indices: number[];
}

/**
 * Meshes the zero surface of a shape with naive surface nets (S. F. F. Gibson, "Constrained Elastic Surface Nets", 1998):
 * one vertex a crossed cell, one quad a crossed edge; then every vertex is moved onto the surface.
 *
 * @param cell side of a grid cell
 */
export function surfaceNets(sdf: Sdf, min: Vec3, max: Vec3, cell: number): RawMesh {
  const n = [0, 1, 2].map((a) => Math.ceil((max[a]! - min[a]!) / cell) + 2) as [number, number, number];
  const at = (i: number, j: number, k: number): number => i + n[0] * (j + n[1] * k);
  const field = new Float64Array(n[0] * n[1] * n[2]);
  for (let k = 0; k < n[2]; k++) {
    for (let j = 0; j < n[1]; j++) {
      for (let i = 0; i < n[0]; i++) {
        field[at(i, j, k)] = sdf(
          min[0] + (i - 0.5) * cell,
          min[1] + (j - 0.5) * cell,
          min[2] + (k - 0.5) * cell,
        );
      }
    }
  }
  const vertexOf = new Int32Array(field.length).fill(-1);
  const positions: number[] = [];
  for (let k = 0; k + 1 < n[2]; k++) {
    for (let j = 0; j + 1 < n[1]; j++) {
      for (let i = 0; i + 1 < n[0]; i++) {
        if (!isCrossed(field, at(i, j, k), n[0], n[0] * n[1])) continue;
        const crossing = cellCrossing(field, at, i, j, k);
        vertexOf[at(i, j, k)] = positions.length / 3;
        const p = [i, j, k].map((c, a) => min[a]! + (c + crossing[a]! - 0.5) * cell);
        positions.push(...ontoSurface(sdf, p as [number, number, number], cell));
      }
    }
  }
  const indices: number[] = [];
  const quad = (a: number, b: number, c: number, d: number, flip: boolean): void => {
    if (flip) indices.push(a, c, b, a, d, c);
    else indices.push(a, b, c, a, c, d);
  };
  for (let k = 1; k + 1 < n[2]; k++) {
    for (let j = 1; j + 1 < n[1]; j++) {
      for (let i = 1; i + 1 < n[0]; i++) {
        const inside = field[at(i, j, k)]! < 0;
        const v = (di: number, dj: number, dk: number): number => vertexOf[at(i + di, j + dj, k + dk)]!;
        if (inside !== field[at(i + 1, j, k)]! < 0) {
          quad(v(0, -1, -1), v(0, 0, -1), v(0, 0, 0), v(0, -1, 0), !inside);
        }
        if (inside !== field[at(i, j + 1, k)]! < 0) {
          quad(v(-1, 0, -1), v(-1, 0, 0), v(0, 0, 0), v(0, 0, -1), !inside);
        }
        if (inside !== field[at(i, j, k + 1)]! < 0) {
          quad(v(-1, -1, 0), v(0, -1, 0), v(0, 0, 0), v(-1, 0, 0), !inside);
        }
      }
    }
  }
  return { positions, indices };
}

/** True if the surface goes through the cell whose first corner is `o`. */
function isCrossed(field: Float64Array, o: number, row: number, layer: number): boolean {
  const inside = field[o]! < 0;
  for (const step of [1, row, row + 1, layer, layer + 1, layer + row, layer + row + 1]) {
    if (field[o + step]! < 0 !== inside) return true;
  }
  return false;
}

/** Mean of the points where the cell's edges cross zero, 0..1 within the cell. */
function cellCrossing(
  field: Float64Array,
  at: (i: number, j: number, k: number) => number,
  i: number,
  j: number,
  k: number,
): number[] {
  const sum = [0, 0, 0];
  let count = 0;
  for (let corner = 0; corner < 8; corner++) {
    for (let axis = 0; axis < 3; axis++) {
      if (corner & (1 << axis)) continue;
      const a = [corner & 1, (corner >> 1) & 1, corner >> 2];
      const b = a.map((c, x) => (x === axis ? 1 : c));
      const fa = field[at(i + a[0]!, j + a[1]!, k + a[2]!)]!;
      const fb = field[at(i + b[0]!, j + b[1]!, k + b[2]!)]!;
      if (fa < 0 === fb < 0) continue;
      const t = fa / (fa - fb);
      for (let x = 0; x < 3; x++) sum[x]! += a[x]! + (b[x]! - a[x]!) * t;
      count++;
    }
  }
  return sum.map((s) => s / count);
}

/** Slope of the distance field: the outward normal. */
export function gradient(sdf: Sdf, [x, y, z]: Vec3, h: number): [number, number, number] {
  const g: [number, number, number] = [
    sdf(x + h, y, z) - sdf(x - h, y, z),
    sdf(x, y + h, z) - sdf(x, y - h, z),
    sdf(x, y, z + h) - sdf(x, y, z - h),
  ];
  const l = Math.sqrt(g[0] ** 2 + g[1] ** 2 + g[2] ** 2) || 1;
  return [g[0] / l, g[1] / l, g[2] / l];
}

export function ontoSurface(sdf: Sdf, p: [number, number, number], cell: number): [number, number, number] {
  let q = p;
  for (let step = 0; step < 3; step++) {
    const d = sdf(...q);
    const n = gradient(sdf, q, cell * 0.2);
    const move = Math.max(-cell * 0.5, Math.min(cell * 0.5, d));
    q = [q[0] - n[0] * move, q[1] - n[1] * move, q[2] - n[2] * move];
  }
  return q;
}
