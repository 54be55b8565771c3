import type { Vec3 } from '../math';
import { subjectBounds } from './backdrops';
import { centreOf, diagonalOf } from './bounds';
import type { Mesh } from './mesh';

/** Where a place is that is told from the middle of the model's box, in parts of its diagonal; model units. */
export function boxPlace(mesh: Mesh, at: Vec3): Vec3 {
  const bounds = subjectBounds(mesh);
  const [c, d] = [centreOf(bounds), diagonalOf(bounds)];
  return [c[0] + at[0] * d, c[1] + at[1] * d, c[2] + at[2] * d];
}

/** The same the other way round. */
export function placeInBox(mesh: Mesh, point: Vec3): Vec3 {
  const bounds = subjectBounds(mesh);
  const [c, d] = [centreOf(bounds), diagonalOf(bounds) || 1];
  return [(point[0] - c[0]) / d, (point[1] - c[1]) / d, (point[2] - c[2]) / d];
}
