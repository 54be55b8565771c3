import type { z } from 'zod';
import type { UvMesh } from '../mesh';
import type { SurfaceMap } from '../surface';

/** A way to measure form: one file in `kinds/`, one line in the list of kinds. */
export interface CueKind<S extends { readonly cue: string }> {
  readonly schema: z.ZodType<S>;
  /** As it is begun with. */
  readonly usual: S;
  /** What it is good for, in a sentence. */
  readonly says: string;
  /** Names all that its values depend on besides the surface: two specs of equal keys measure the same. */
  key(spec: S): string;
  /**
   * Measures it on one thread.
   *
   * @param onProgress told the part done, 0..1; may throw to stop
   * @returns 0..65535 a texel in the order of the map's codes, 0 where nothing lies
   */
  measure(mesh: UvMesh, map: SurfaceMap, spec: S, onProgress: (done: number) => void): Uint16Array;
}
