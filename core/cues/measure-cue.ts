import type { UvMesh } from '../mesh';
import type { SurfaceMap } from '../surface';
import { cueKind, type CueSpec } from './cue';

/**
 * A whole cue on one thread, as the command line and the tests make it.
 *
 * @param onProgress told the part done, 0..1; may throw to stop
 * @returns 0..65535 a texel in the order of the map's codes, 0 where nothing lies
 */
export const measureCue = (
  mesh: UvMesh,
  map: SurfaceMap,
  spec: CueSpec,
  onProgress: (done: number) => void = () => undefined,
): Uint16Array => cueKind(spec).measure(mesh, map, spec, onProgress);
