import type { AssetSet } from '../../core/set';
import type { SeenProject } from '../../workers';
import { setPool } from '../shared/platform';

/** A project as it would leave, measured beside the palette of its set. @throws CoreError */
export const seenOf = (
  set: AssetSet,
  project: string,
  how: { readonly signal: AbortSignal; readonly onProgress?: (done: number) => void },
): Promise<SeenProject> =>
  setPool.run('see', { project, swatches: set.shared.palette.map((s) => s.color) }, how);
