import type { UvMesh } from '../core/mesh';

/** A square of side 1 in the plane y = 0 whose layout fills the sheet: a texel is 1 / size long. */
export function square(): UvMesh {
  return {
    positions: new Float32Array([0, 0, 0, 1, 0, 0, 1, 0, -1, 0, 0, -1]),
    normals: new Float32Array([0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1, 0]),
    uvs: new Float32Array([0, 0, 1, 0, 1, 1, 0, 1]),
    indices: new Uint32Array([0, 1, 2, 0, 2, 3]),
    faceParts: new Uint16Array(2),
    parts: ['Square'],
  };
}

/** A ball with bumps, so that rays have something to meet; columns * rows * 2 triangles, laid out as one rectangle. */
export function bumpyBall(columns: number, rows: number): UvMesh {
  const positions: number[] = [];
  const uvs: number[] = [];
  const indices: number[] = [];
  for (let j = 0; j <= rows; j++) {
    for (let i = 0; i <= columns; i++) {
      const u = i / columns;
      const v = j / rows;
      const a = u * 2 * Math.PI;
      const b = (0.02 + 0.96 * v) * Math.PI;
      const r = 1 + 0.12 * Math.sin(9 * a) * Math.sin(8 * b);
      positions.push(r * Math.sin(b) * Math.cos(a), -r * Math.cos(b), -r * Math.sin(b) * Math.sin(a));
      uvs.push(u, v);
    }
  }
  for (let j = 0; j < rows; j++) {
    for (let i = 0; i < columns; i++) {
      const p = j * (columns + 1) + i;
      indices.push(p, p + 1, p + columns + 2, p, p + columns + 2, p + columns + 1);
    }
  }
  const normals = Float32Array.from(positions);
  for (let i = 0; i < normals.length; i += 3) {
    const l = Math.hypot(normals[i]!, normals[i + 1]!, normals[i + 2]!);
    for (let k = 0; k < 3; k++) normals[i + k] = normals[i + k]! / l;
  }
  return {
    positions: Float32Array.from(positions),
    normals,
    uvs: Float32Array.from(uvs),
    indices: Uint32Array.from(indices),
    faceParts: new Uint16Array(indices.length / 3),
    parts: ['Ball'],
  };
}

/** Every triangle cut into four at the middles of its sides: the same shape, with four times as many. */
export function dividedInFour({
  positions,
  indices,
}: Pick<UvMesh, 'positions' | 'indices'>): Pick<UvMesh, 'positions' | 'indices'> {
  const points = Array.from(positions);
  const middles = new Map<string, number>();
  const middle = (a: number, b: number): number => {
    const key = a < b ? `${a} ${b}` : `${b} ${a}`;
    let v = middles.get(key);
    if (v === undefined) {
      middles.set(key, (v = points.length / 3));
      for (let k = 0; k < 3; k++) points.push((points[a * 3 + k]! + points[b * 3 + k]!) / 2);
    }
    return v;
  };
  const out: number[] = [];
  for (let c = 0; c < indices.length; c += 3) {
    const [a, b, d] = [indices[c]!, indices[c + 1]!, indices[c + 2]!];
    const [x, y, z] = [middle(a, b), middle(b, d), middle(d, a)];
    out.push(a, x, z, x, b, y, z, y, d, x, y, z);
  }
  return { positions: Float32Array.from(points), indices: Uint32Array.from(out) };
}
