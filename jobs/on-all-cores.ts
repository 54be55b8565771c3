import { availableParallelism } from 'node:os';
import { doneAside, doneHere, type ComponentAnswer, type ComponentJob, type Working } from '../core/unwrap';
import { ProcessPool } from './process-pool';

const WORKER = new URL('unwrap-process.ts', import.meta.url);

/** Does work on shells with a process on each core, and ends them with it. */
export async function onAllCores<T>(working: Working<T>, processes = availableParallelism()): Promise<T> {
  if (processes < 2) return doneHere(working);
  const pool = new ProcessPool<ComponentJob, ComponentAnswer>(WORKER, processes);
  try {
    return await doneAside(working, (job) => pool.ask(job));
  } finally {
    pool.close();
  }
}
