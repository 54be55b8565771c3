import type { ChildProcess } from 'node:child_process';

/**
 * Asks a process one thing and waits for its answer. One that is asked several things is asked them one after the other.
 *
 * @throws Error if it ends before it answers
 */
export function askProcess(child: ChildProcess, message: object): Promise<unknown> {
  return new Promise((resolve, reject) => {
    const settle = (): void => {
      child.off('message', answered);
      child.off('exit', ended);
    };
    const answered = (answer: unknown): void => {
      settle();
      resolve(answer);
    };
    const ended = (code: number | null, signal: string | null): void => {
      settle();
      reject(new Error(`The process ended (${signal ?? `code ${code}`}); it may need more memory.`));
    };
    child.once('message', answered);
    child.once('exit', ended);
    child.send(message);
  });
}

/** Whether a process has ended. */
export const hasEnded = (child: ChildProcess): boolean =>
  child.exitCode !== null || child.signalCode !== null;
