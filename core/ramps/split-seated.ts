import type { Mesh, UvMesh } from '../mesh';
import type { Seated } from './seats';

/**
 * A model in two: what lies on its own sheets, and what lies on the ramp sheet, with the UVs that it has there. Both have all of its
 * parts, some of them empty, so that a part's number is the same in either.
 */
export function splitSeated(
  mesh: UvMesh,
  seated: Seated,
): { readonly own: UvMesh; readonly onRamps: UvMesh } {
  const own: number[] = [];
  const seatedFaces: number[] = [];
  seated.seatOf.forEach((seat, f) => (seat < 0 ? own : seatedFaces).push(f));
  return {
    own: withFaces(mesh, own),
    onRamps: withCornerUvs(mesh, seatedFaces, seated.uvs),
  };
}

function withFaces(mesh: UvMesh, faces: readonly number[]): UvMesh {
  const { polygons: _, ...rest } = mesh;
  return {
    ...rest,
    indices: Uint32Array.from(faces.flatMap((f) => [...mesh.indices.subarray(f * 3, f * 3 + 3)])),
    faceParts: Uint16Array.from(faces, (f) => mesh.faceParts[f]!),
  };
}

/** Some triangles of a mesh with other UVs. Vertices are parted where these differ, and shared where they don't. @param uvs uv a corner of the mesh */
export function withCornerUvs(mesh: Mesh, faces: readonly number[], uvs: Float32Array): UvMesh {
  const known = new Map<string, number>();
  const from: number[] = [];
  const places: number[] = [];
  const indices = new Uint32Array(faces.length * 3);
  faces.forEach((f, i) => {
    for (let c = 0; c < 3; c++) {
      const v = mesh.indices[f * 3 + c]!;
      const [x, y] = [uvs[f * 6 + c * 2]!, uvs[f * 6 + c * 2 + 1]!];
      const key = `${v} ${x} ${y}`;
      let n = known.get(key);
      if (n === undefined) {
        known.set(key, (n = from.length));
        from.push(v);
        places.push(x, y);
      }
      indices[i * 3 + c] = n;
    }
  });
  const taken = (values: Float32Array): Float32Array =>
    Float32Array.from({ length: from.length * 3 }, (_, i) => values[from[Math.floor(i / 3)]! * 3 + (i % 3)]!);
  return {
    positions: taken(mesh.positions),
    normals: taken(mesh.normals),
    uvs: Float32Array.from(places),
    indices,
    faceParts: Uint16Array.from(faces, (f) => mesh.faceParts[f]!),
    parts: mesh.parts,
  };
}
