import { build } from './build';
import { check } from './check';
import { deliver } from './deliver';
import type { FileSet } from './file-set';
import type { DoJob, Job, Made } from './job';
import { match } from './match';

/** Every kind of job. A new one is a file beside these, its schema and a line here. */
const JOBS: { readonly [K in Job['do']]: DoJob<K> } = { build, deliver, check, match };

/**
 * Does a job with what was handed over. The command line and the server both do their jobs by this.
 *
 * @throws CoreError with a sentence
 */
export const doJob = (
  job: Job,
  files: FileSet,
  onProgress: (done: number) => void = () => undefined,
): Promise<Made> => (JOBS[job.do] as DoJob<Job['do']>)(job as never, files, onProgress);

/** Files that a job names; what it makes changes when they do. */
export function namedIn(job: Job): string[] {
  const { model, recipe, project, settings, albedos, albedo, reference, mask, camera, points } = {
    ...NOTHING,
    ...job,
  };
  const all = [model, recipe, project, settings, ...albedos, albedo, reference, mask, camera, points];
  return all.filter((name) => name !== undefined);
}

const NOTHING: { readonly albedos: readonly string[] } & Readonly<
  Partial<
    Record<
      'model' | 'recipe' | 'project' | 'settings' | 'albedo' | 'reference' | 'mask' | 'camera' | 'points',
      string
    >
  >
> = { albedos: [] };
