import { readAs } from '../core/read-as';
import { join } from 'node:path';
import { doJob, jobSchema, type Job, type JobWish, type Made } from '../jobs';
import { filesOf } from './local-files';
import { makeFolder, writeOut } from './write-out';

/** A job on files of this machine. */
export interface LocalJob {
  readonly job: JobWish;
  /** The folder that what it makes is written to; null: nothing is. */
  readonly out: string | null;
}

/** @throws CoreError `bad-argument` */
export const checkedJob = (wish: JobWish): Job =>
  readAs(jobSchema, wish, 'bad-argument', (where, says) => `That can't be done: ${where} ${says}.`);

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
