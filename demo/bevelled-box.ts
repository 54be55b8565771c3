import type { Vec3 } from '../core/math';
import type { RawMesh } from './surface-nets';

/** A box of six raised faces, each with narrow slopes around it; the faces don't share vertices, so each is an island. */
export function bevelledBox([cx, cy, cz]: Vec3, h: Vec3, bevel: number): RawMesh {
  const positions: number[] = [];
  const indices: number[] = [];
  // Each face is a raised lid: its own four corners inside, the slopes around it reach to the box's edge.
  for (let axis = 0; axis < 3; axis++) {
    const u = (axis + 1) % 3;
    const v = (axis + 2) % 3;
    for (const side of [1, -1]) {
      const first = positions.length / 3;
      for (const [inset, depth] of [
        [bevel, 0],
        [bevel * 0.3, bevel * 0.7],
      ] as const) {
        for (const [su, sv] of [
          [-1, -1],
          [1, -1],
          [1, 1],
          [-1, 1],
        ] as const) {
          const p = [0, 0, 0];
          p[axis] = side * (h[axis]! - depth);
          p[u] = su * (h[u]! - inset);
          p[v] = sv * (h[v]! - inset);
          positions.push(p[0]! + cx, p[1]! + cy, p[2]! + cz);
        }
      }
      const quad = (a: number, b: number, c: number, d: number): void => {
        const q = side > 0 ? [a, b, c, a, c, d] : [a, c, b, a, d, c];
        indices.push(...q.map((i) => first + i));
      };
      quad(0, 1, 2, 3);
      for (let k = 0; k < 4; k++) quad(4 + k, 4 + ((k + 1) % 4), (k + 1) % 4, k);
    }
  }
  return { positions, indices };
}
