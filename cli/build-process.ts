import { sentenceOf } from '../core/errors';
import { buildModel, type BuildJob } from './build-model';
import type { BuildAnswer } from './build-many';

// Builds one model after the other as they are asked for, until nobody asks any more.
process.on('message', (job: BuildJob) => {
  const begun = performance.now();
  const tell = (answer: BuildAnswer): void => void process.send?.(answer);
  buildModel(job).then(
    ({ texelHash }) => tell({ texelHash, seconds: (performance.now() - begun) / 1000 }),
    (error: unknown) => tell({ error: sentenceOf(error).replace(/\s*\n\s*/g, ' ') }),
  );
});
