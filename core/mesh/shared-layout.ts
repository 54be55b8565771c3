import type { Mesh } from './mesh';

/** Of the UV points of a part so many must be another's, before its layout may be the same. */
const SAME_POINTS = 0.5;

/** Lattice on which points of two layouts count as one, a side. */
const LATTICE = 4096;

/**
 * Whether any part's layout may be that of the part of the same name on the other model: half of its UV points are.
 * It looks at points only, so it is quick, and says yes too often rather than no.
 */
export function mayShareLayout(former: Mesh, next: Mesh): boolean {
  if (!former.uvs || !next.uvs) return false;
  const before = pointsOfParts(former);
  for (const [name, points] of pointsOfParts(next)) {
    const known = before.get(name);
    if (!known) continue;
    let same = 0;
    for (const point of known) if (points.has(point)) same++;
    if (same >= SAME_POINTS * known.size) return true;
  }
  return false;
}

function pointsOfParts({ uvs, indices, faceParts, parts }: Mesh): Map<string, Set<number>> {
  const all = new Map(parts.map((name) => [name, new Set<number>()]));
  for (let corner = 0; corner < indices.length; corner++) {
    const v = indices[corner]!;
    const [x, y] = [Math.round(uvs![v * 2]! * LATTICE), Math.round(uvs![v * 2 + 1]! * LATTICE)];
    all.get(parts[faceParts[Math.floor(corner / 3)]!]!)!.add(y * LATTICE * 64 + x);
  }
  return all;
}
