import { PlaceReader } from './places';
import { subTileBounds } from './sub-bounds';
import type { SurfaceMap } from './surface-map';

/**
 * The same texels on the model in another pose: what belongs to which triangle stays.
 *
 * @param form positions and unit normals, xyz a vertex of the surface's mesh
 */
export function posedSurface(
  surface: SurfaceMap,
  form: { readonly positions: Float32Array; readonly normals: Float32Array },
): SurfaceMap {
  const posed = { ...surface, mesh: { ...surface.mesh, ...form } };
  return { ...posed, subBounds: subTileBounds(posed, new PlaceReader(posed)) };
}
