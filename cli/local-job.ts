import { join } from 'node:path';
import { doJob, jobSchema, type Job, type JobWish, type Made } from '../jobs';
import { filesOf } from './local-files';
import { UsageError } from './options';
import { makeFolder, writeOut } from './write-out';

/** A job on files of this machine. */
export interface LocalJob {
  readonly job: JobWish;
  /** The folder that what it makes is written to; null: nothing is. */
  readonly out: string | null;
}

/** @throws UsageError */
export function checkedJob(wish: JobWish): Job {
  const parsed = jobSchema.safeParse(wish);
  if (parsed.success) return parsed.data;
  const issue = parsed.error.issues[0];
  throw new UsageError(`That can't be done: ${issue?.path.join('.') ?? ''} ${issue?.message ?? ''}.`);
}

/** Does a job and writes what it makes. @throws UsageError, CoreError, OutputError with a sentence */
export async function doLocalJob(
  { job: wish, out }: LocalJob,
  onProgress?: (done: number) => void,
): Promise<Made> {
  const job = checkedJob(wish);
  const made = await doJob(job, await filesOf(job), onProgress);
  if (out !== null) {
    await makeFolder(out);
    await writeOut(new Map([...made.files].map(([name, bytes]) => [join(out, name), bytes])));
  }
  return made;
}
