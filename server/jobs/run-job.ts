import { zipOf } from '../../core/delivery';
import { doJob, FileSet, jobSchema, type Job, type JobWish } from '../../jobs';
import { readJob, type SentJob } from './job-request';

/**
 * Does a job as the command line would, with what was sent and nothing else.
 *
 * @param bytes the zip that was sent
 * @returns what it makes, as a zip; always with `result.json`
 * @throws CoreError with a sentence
 */
export async function runJob(
  bytes: Uint8Array,
  onProgress: (done: number) => void = () => undefined,
): Promise<Uint8Array> {
  const sent = readJob(bytes);
  const { figures, files } = await doJob(jobOf(sent), new FileSet(sent.files), onProgress);
  return zipOf([['result.json', `${JSON.stringify(figures, null, 2)}\n`], ...files]);
}

/** The job with what its zip holds under the names that say what each file is. */
function jobOf({ request, files }: SentJob): Job {
  const named = (start: string): string[] =>
    [...files.keys()].filter((name) => name.startsWith(start)).sort();
  const wanted = (start: string): string => named(start)[0] ?? '';
  const given = (...kinds: string[]): object =>
    Object.fromEntries(kinds.flatMap((kind) => named(kind).map((name) => [kind, name])));
  return jobSchema.parse(wish());
  function wish(): JobWish {
    switch (request.do) {
      case 'build':
        return { ...request, model: wanted('model'), recipe: wanted('recipe') };
      case 'deliver':
        return { ...request, project: wanted('project'), ...given('settings') };
      case 'check': {
        const { mips, limit } = request;
        return { do: 'check', model: wanted('model'), albedos: named('albedo'), how: { mips, limit } };
      }
      case 'match':
        return {
          do: 'match',
          model: wanted('model'),
          albedo: wanted('albedo'),
          reference: wanted('reference'),
          ...given('camera', 'points', 'mask'),
        };
    }
  }
}
