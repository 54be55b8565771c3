import { fork, type ChildProcess } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { askProcess, hasEnded } from './ask-process';
import type { BuildJob } from './build-model';

/** A line of summary.json. */
export type BuiltRow =
  | { readonly model: string; readonly seconds: number; readonly texelHash: string }
  | { readonly model: string; readonly error: string };

/** What a process that builds tells. */
export type BuildAnswer =
  { readonly texelHash: string; readonly seconds: number } | { readonly error: string };

const WORKER = fileURLToPath(new URL('build-process.ts', import.meta.url));

/**
 * Builds many models, each in one of several processes, and goes on after one that can't be built.
 *
 * @param processes how many work at once
 * @param onDone told each as it comes, and how many are there
 * @returns one row a job, in their order
 */
export async function buildMany(
  jobs: readonly BuildJob[],
  processes: number,
  onDone: (done: number, row: BuiltRow) => void,
): Promise<BuiltRow[]> {
  const rows: BuiltRow[] = [];
  let next = 0;
  let done = 0;
  const work = async (): Promise<void> => {
    let child: ChildProcess | null = null;
    for (let i = next++; i < jobs.length; i = next++) {
      const job = jobs[i]!;
      child ??= fork(WORKER, { stdio: ['ignore', 'ignore', 'inherit', 'ipc'] });
      const answer = await ask(child, job);
      // One that died is followed by a new one.
      if (hasEnded(child)) child = null;
      const row =
        'error' in answer ? { model: job.model, error: answer.error } : { model: job.model, ...answer };
      rows[i] = row;
      onDone(++done, row);
    }
    child?.disconnect();
  };
  await Promise.all(Array.from({ length: Math.min(processes, jobs.length) }, work));
  return rows;
}

async function ask(child: ChildProcess, job: BuildJob): Promise<BuildAnswer> {
  try {
    return (await askProcess(child, job)) as BuildAnswer;
  } catch (error) {
    return { error: error instanceof Error ? error.message : String(error) };
  }
}
