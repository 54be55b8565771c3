import { JobPool, ProjectStore } from '../../workers';

/** What the whole page shares: storage, and workers for long jobs. */
export const store = new ProjectStore();

export const jobPool = new JobPool(
  () => new Worker(new URL('../../workers/job.worker.ts', import.meta.url), { type: 'module' }),
  Math.max(1, Math.min(4, navigator.hardwareConcurrency || 2)),
);

export const makePaintWorker = (): Worker =>
  new Worker(new URL('../../workers/paint.worker.ts', import.meta.url), { type: 'module' });
