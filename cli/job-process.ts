import { sentenceOf } from '../core/errors';
import { doJob, type Job } from './jobs';
import type { JobAnswer } from './many';

// Does one job after the other as they are asked for, until nobody asks any more.
process.on('message', (job: Job) => {
  const begun = performance.now();
  const tell = (answer: JobAnswer): void => void process.send?.(answer);
  doJob(job).then(
    (figures) => tell({ figures, seconds: (performance.now() - begun) / 1000 }),
    (error: unknown) => tell({ error: sentenceOf(error).replace(/\s*\n\s*/g, ' ') }),
  );
});
