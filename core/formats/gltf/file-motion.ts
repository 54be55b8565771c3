import { canPose, type Motion } from '../../motion';
import { unpackGltf } from './container';

/**
 * How the model in a file can be posed: by clips, or by morph targets; null where there is nothing of that kind, which is told at once.
 *
 * @throws CoreError as the file is read
 */
export async function readFileMotion(file: Uint8Array): Promise<Motion | null> {
  const { animations = [], meshes = [] } = unpackGltf(file).json;
  const hasTargets = meshes.some((mesh) => mesh.primitives.some((p) => p.targets?.length));
  if (animations.length === 0 && !hasTargets) return null;
  // What reads every kind of glTF is large: it is fetched for the first file.
  const motion = await (await import('./read')).readMotion(file);
  return canPose(motion) ? motion : null;
}
