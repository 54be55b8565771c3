import type { UvMesh } from '../mesh';
import { withCornerUvs } from '../unwrap';
import type { Assigned } from './assignments';

/**
 * A model in two: what lies on its own sheets, and what lies on the ramp sheet, with the UVs that it has there. Both have all of its
 * parts, some of them empty, so that a part's number is the same in either.
 */
export function splitSeated(
  mesh: UvMesh,
  seated: Assigned,
): { readonly own: UvMesh; readonly onRamps: UvMesh } {
  const own: number[] = [];
  const seatedFaces: number[] = [];
  seated.seatOf.forEach((seat, f) => (seat < 0 ? own : seatedFaces).push(f));
  const uvs = Float32Array.from(seatedFaces.flatMap((f) => [...seated.uvs.subarray(f * 6, f * 6 + 6)]));
  const { partSheets: _, ...onOneSheet } = withFaces(mesh, seatedFaces);
  return { own: withFaces(mesh, own), onRamps: withCornerUvs(onOneSheet, uvs) };
}

function withFaces(mesh: UvMesh, faces: readonly number[]): UvMesh {
  const { polygons: _, ...rest } = mesh;
  return {
    ...rest,
    indices: Uint32Array.from(faces.flatMap((f) => [...mesh.indices.subarray(f * 3, f * 3 + 3)])),
    faceParts: Uint16Array.from(faces, (f) => mesh.faceParts[f]!),
  };
}
