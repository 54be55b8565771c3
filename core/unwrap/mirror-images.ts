import { dot, scale, sub, type Vec3 } from '../math';
import type { SymmetryPlane } from '../mesh';

/**
 * The welded vertex at the mirrored place of each, where there is one.
 *
 * @param p positions, xyz a vertex
 * @param reach how near it must lie, model units
 */
export function mirrorImages(
  p: Float32Array,
  welded: Uint32Array,
  { point, normal }: Pick<SymmetryPlane, 'point' | 'normal'>,
  reach: number,
): Map<number, number> {
  const cells = new Map<string, number[]>();
  const cell = reach * 4 || 1;
  const name = (x: number, y: number, z: number): string =>
    `${Math.floor(x / cell)} ${Math.floor(y / cell)} ${Math.floor(z / cell)}`;
  const all = [...new Set(welded)];
  const at = (v: number): Vec3 => [p[v * 3]!, p[v * 3 + 1]!, p[v * 3 + 2]!];
  for (const v of all) {
    const here = name(...at(v));
    const list = cells.get(here);
    if (list) list.push(v);
    else cells.set(here, [v]);
  }
  const out = new Map<number, number>();
  for (const v of all) {
    const [x, y, z] = sub(at(v), scale(normal, 2 * dot(sub(at(v), point), normal)));
    let best = -1;
    let nearest = reach;
    // Only the cells that the reach touches.
    for (let n = 0; n < 8; n++) {
      const side = (bit: number): number => (n & bit ? reach : -reach);
      for (const w of cells.get(name(x + side(1), y + side(2), z + side(4))) ?? []) {
        const d = Math.hypot(p[w * 3]! - x, p[w * 3 + 1]! - y, p[w * 3 + 2]! - z);
        if (d > nearest) continue;
        nearest = d;
        best = w;
      }
    }
    if (best >= 0) out.set(v, best);
  }
  return out;
}
