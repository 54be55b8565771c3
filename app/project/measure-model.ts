import type { UvMesh } from '../../core/mesh';
import type { SurfaceMap } from '../../core/surface';
import { jobPool } from '../shared/platform';

/** Measures a model on sheets of these sizes, in a job worker. */
export function measureModel(
  model: {
    readonly mesh: UvMesh;
    readonly hash: string;
    readonly sheets: readonly { readonly size: number }[];
  },
  options: { readonly signal: AbortSignal; readonly onProgress?: (done: number) => void },
): Promise<SurfaceMap> {
  const { mesh, hash, sheets } = model;
  const sizes = sheets.map((s) => s.size);
  return jobPool.run('measure', { mesh, modelHash: hash, sizes, shared: crossOriginIsolated }, options);
}
