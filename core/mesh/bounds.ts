import type { Vec3 } from '../math';

export interface Bounds {
  readonly min: Vec3;
  readonly max: Vec3;
}

/** The box around all points. @param positions xyz a point, at least one point */
export function boundsOf(positions: ArrayLike<number>): Bounds {
  const min: [number, number, number] = [Infinity, Infinity, Infinity];
  const max: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < positions.length; i += 3) {
    for (let k = 0; k < 3; k++) {
      const x = positions[i + k]!;
      if (x < min[k]!) min[k] = x;
      if (x > max[k]!) max[k] = x;
    }
  }
  return { min, max };
}

/** Length of the box's diagonal. */
export function diagonalOf({ min, max }: Bounds): number {
  return Math.hypot(max[0] - min[0], max[1] - min[1], max[2] - min[2]);
}

/** The middle of a box. */
export function centreOf({ min, max }: Bounds): Vec3 {
  return [(min[0] + max[0]) / 2, (min[1] + max[1]) / 2, (min[2] + max[2]) / 2];
}

/** The box around the triangles of one part. */
export function partBounds(
  mesh: { positions: Float32Array; indices: Uint32Array; faceParts: Uint16Array },
  part: number,
): Bounds {
  const points: number[] = [];
  for (let f = 0; f < mesh.faceParts.length; f++) {
    if (mesh.faceParts[f] !== part) continue;
    for (let k = 0; k < 3; k++) {
      const v = mesh.indices[f * 3 + k]! * 3;
      points.push(mesh.positions[v]!, mesh.positions[v + 1]!, mesh.positions[v + 2]!);
    }
  }
  return boundsOf(points);
}
