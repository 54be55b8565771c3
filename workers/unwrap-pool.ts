import { doneAside, doneHere, type Working } from '../core/unwrap';
import { JobPool } from './job-pool';

/** No more helpers than that: each has a copy of the program in its memory. */
const MOST_HELPERS = 8;

/**
 * Does work on shells with helpers on all of the machine's cores, and ends them with it. Who ends the asking worker ends its helpers too.
 *
 * @param makeWorker starts a worker that serves jobs
 * @param cores of the machine
 */
export async function withHelpers<T>(
  working: Working<T>,
  makeWorker: () => Worker,
  cores = navigator.hardwareConcurrency,
): Promise<T> {
  if (!(cores > 1)) return doneHere(working);
  const pool = new JobPool(makeWorker, Math.min(MOST_HELPERS, cores));
  try {
    return await doneAside(working, (job, onProgress) =>
      pool.run('workOnComponent', { job }, { onProgress }),
    );
  } finally {
    pool.close();
  }
}
