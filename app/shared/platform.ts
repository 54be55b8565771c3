import { JobPool, type DeliverMethods, type SetMethods } from '../../workers';
import { ProjectStore } from '../../storage';

/** What the whole page shares: storage, and workers for long jobs. */
export const store = new ProjectStore();

const makeJobWorker = (): Worker =>
  new Worker(new URL('../../workers/job.worker.ts', import.meta.url), { type: 'module' });

export const jobPool = new JobPool(
  makeJobWorker,
  Math.max(1, Math.min(4, navigator.hardwareConcurrency || 2)),
);

/** For what the hand waits for, beside all long work; its worker is started when it is first needed. */
export const quickPool = new JobPool(makeJobWorker, 1);

/** Writes what leaves the project; its worker is started with the first delivery. */
export const deliverPool = new JobPool<DeliverMethods>(
  () => new Worker(new URL('../../workers/deliver.worker.ts', import.meta.url), { type: 'module' }),
  1,
);

/** Looks at projects that aren't open, and changes them. */
export const setPool = new JobPool<SetMethods>(
  () => new Worker(new URL('../../workers/set.worker.ts', import.meta.url), { type: 'module' }),
  1,
);

export const makePaintWorker = (): Worker =>
  new Worker(new URL('../../workers/paint.worker.ts', import.meta.url), { type: 'module' });

export const makeMatchWorker = (): Worker =>
  new Worker(new URL('../../workers/match.worker.ts', import.meta.url), { type: 'module' });
