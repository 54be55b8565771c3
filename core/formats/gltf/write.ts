import type { UvMesh } from '../../mesh';
import type { GlbLook } from './look';
import type { KeptFile } from './write-into';
import { writeUnlitGlb } from './write-unlit';

/**
 * A painted model as a GLB: the file that it was read from with what was painted in it, or one made anew where none is kept.
 *
 * @throws CoreError `file-truncated`, `file-unsupported` if the file can't be read
 */
export async function writeGlb(mesh: UvMesh, look: GlbLook, file: KeptFile | null): Promise<Uint8Array> {
  if (!file || !mesh.origins) return writeUnlitGlb(mesh, look.name, look.albedos, look);
  // What reads every kind of glTF is large: it is fetched for the first file.
  const { writeIntoGltf } = await import('./write-into');
  return writeIntoGltf(file, mesh, look);
}
