import { Vector3 } from 'three';
import { texelOnSheet, type SurfaceMap } from '../../core/surface';
import type { Hit } from './picker';

/** A place on the model that owns its texels. */
export interface Owner {
  readonly point: Vector3;
  readonly normal: Vector3;
  readonly part: number;
}

/**
 * Where islands lie on one another, each texel is measured at one place only. A stroke on another place that shows the same
 * texels is made at the one that owns them, so that it paints what the artist sees there.
 */
export function ownerOf(surface: SurfaceMap, hit: Hit): Owner {
  const wrapped = (x: number): number => x - Math.floor(x);
  const sheet = surface.sheets[hit.sheet]!;
  const { size, texelLength } = sheet;
  const at = (x: number): number => Math.min(size - 1, Math.floor(x * size));
  const i = texelOnSheet(sheet, at(wrapped(hit.u)), at(1 - wrapped(hit.v)));
  const point = new Vector3(surface.px[i], surface.py[i], surface.pz[i]);
  // A texel's middle lies within a texel's diagonal of the place under the pointer, stretched layouts allowed for.
  const own = surface.face[i]! < 0 || point.distanceTo(hit.point) < texelLength * 8;
  if (own) return { point: hit.point, normal: hit.normal, part: hit.part };
  return {
    point,
    normal: new Vector3(surface.nx[i], surface.ny[i], surface.nz[i]).normalize(),
    part: surface.part[i]!,
  };
}
