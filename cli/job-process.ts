import { serveProcess, type JobFigures } from '../jobs';
import { doLocalJob, type LocalJob } from './local-job';

/** How one of many jobs went. */
export interface JobDone {
  readonly figures: JobFigures;
  readonly seconds: number;
}

// Does one job after the other.
serveProcess(async (job: LocalJob): Promise<JobDone> => {
  const begun = performance.now();
  const { figures } = await doLocalJob(job);
  return { figures, seconds: (performance.now() - begun) / 1000 };
});
