import type { ModelHost, ModelState } from '../../core/engine';
import { jobPool } from '../shared/platform';
import { measureModel } from './measure-model';
import type { PaintLink } from './paint-link';

/** How long is waited for a stroke in hand before a change of model is tried again. */
const STROKE_WAIT_MS = 150;

/** The project that is open here: its engine in the paint worker, the long work in job workers. */
export const modelHost = (link: PaintLink, model: () => ModelState): ModelHost<AbortSignal> => ({
  model,
  begin: () => link.ask('beginChange', null),
  paint: () => link.ask('paintPlanes', null),
  file: (id) => link.ask('file', { id }),
  hash: (mesh, signal) => jobPool.run('meshHash', { mesh }, { signal }),
  measure: (made, signal) => measureModel(made, { signal }),
  carry: (input, signal, onProgress) => jobPool.run('carryPaint', input, { signal, onProgress }),
  change: (change) => link.change('changeModel', { change }),
  rest: () => new Promise((resolve) => setTimeout(resolve, STROKE_WAIT_MS)),
});
