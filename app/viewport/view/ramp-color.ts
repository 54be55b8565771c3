import { Vector3, Triangle } from 'three';
import type { Rgb } from '../../../core/color';
import type { Picture } from '../../../core/formats';
import type { UvMesh } from '../../../core/mesh';
import type { Assigned } from '../../../core/ramps';
import type { Hit } from './picker';

/** What of the model lies on the ramp sheet, and the sheet's texels. */
export interface ShownRamps {
  readonly seated: Assigned;
  readonly picture: Picture;
}

/** The texel of the ramp sheet that a place of the model is read from. */
export function rampColorAt(mesh: UvMesh, { seated, picture }: ShownRamps, { face, point }: Hit): Rgb {
  const [a, b, c] = [0, 1, 2].map((k) =>
    new Vector3().fromArray(mesh.positions, mesh.indices[face * 3 + k]! * 3),
  ) as [Vector3, Vector3, Vector3];
  const share = new Triangle(a, b, c).getBarycoord(point, new Vector3()) ?? new Vector3(1, 0, 0);
  const at = (axis: 0 | 1): number =>
    [share.x, share.y, share.z].reduce((sum, w, k) => sum + w * seated.uvs[face * 6 + k * 2 + axis]!, 0);
  const { width, height, rgba } = picture;
  const clamped = (x: number, size: number): number => Math.min(size - 1, Math.max(0, Math.floor(x * size)));
  const o = (clamped(1 - at(1), height) * width + clamped(at(0), width)) * 4;
  return { r: rgba[o]!, g: rgba[o + 1]!, b: rgba[o + 2]! };
}
