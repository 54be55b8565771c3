import { fork, type ChildProcess } from 'node:child_process';
import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { doneAside, doneHere, type ShellAnswer, type Working } from '../core/unwrap';
import { askProcess } from './ask-process';

const WORKER = fileURLToPath(new URL('shell-process.ts', import.meta.url));

/** Does work on shells with a process on each core, and ends them with it. */
export async function onAllCores<T>(working: Working<T>, processes = availableParallelism()): Promise<T> {
  if (processes < 2) return doneHere(working);
  const idle: ChildProcess[] = [];
  const all: ChildProcess[] = [];
  const line: ((child: ChildProcess) => void)[] = [];
  const taken = async (): Promise<ChildProcess> => {
    const child = idle.pop();
    if (child) return child;
    if (all.length >= processes) return new Promise((resolve) => line.push(resolve));
    const made = fork(WORKER, { stdio: ['ignore', 'ignore', 'inherit', 'ipc'], serialization: 'advanced' });
    all.push(made);
    return made;
  };
  try {
    return await doneAside(working, async (job) => {
      const child = await taken();
      const answer = (await askProcess(child, job)) as ShellAnswer;
      const next = line.shift();
      if (next) next(child);
      else idle.push(child);
      return answer;
    });
  } finally {
    for (const child of all) child.kill();
  }
}
