import { Vector3 } from 'three';
import {
  partAt,
  PlaceReader,
  placesFor,
  SUB_TEXELS,
  texelOnSheet,
  type SurfaceMap,
} from '../../../core/surface';
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
  const own = { point: hit.point, normal: hit.normal, part: hit.part };
  const part = partAt(surface, i);
  if (part < 0) return own;
  const place = placeOf(surface, i);
  const point = new Vector3(place[0], place[1], place[2]);
  // A texel's middle lies within a texel's diagonal of the place under the pointer, stretched layouts allowed for.
  if (point.distanceTo(hit.point) < texelLength * 8) return own;
  return { point, normal: new Vector3(place[3], place[4], place[5]).normalize(), part };
}

const readers = new WeakMap<SurfaceMap, PlaceReader>();
const places = placesFor(SUB_TEXELS);

/** Position and normal of a texel. */
function placeOf(
  surface: SurfaceMap,
  texel: number,
): readonly [number, number, number, number, number, number] {
  let reader = readers.get(surface);
  if (!reader) readers.set(surface, (reader = new PlaceReader(surface)));
  reader.readSub(Math.floor(texel / SUB_TEXELS), places);
  const k = texel % SUB_TEXELS;
  const { px, py, pz, nx, ny, nz } = places;
  return [px[k]!, py[k]!, pz[k]!, nx[k]!, ny[k]!, nz[k]!];
}
