import { fork, type ChildProcess } from 'node:child_process';
import { availableParallelism } from 'node:os';

/** Reads TypeScript, in whatever way this process was started. */
const LOADER = import.meta.resolve('tsx');

/** What a process that was asked tells: how far it is, then an answer, or why there is none. */
export type Told<A> = { readonly progress: number } | { readonly answer: A } | { readonly problem: string };

export interface AskOptions {
  /** Ends the process that works on it. */
  readonly signal?: AbortSignal;
  readonly onProgress?: (done: number) => void;
}

/** A process ended before it answered, by itself or because it was stopped. */
export class ProcessEnded extends Error {
  readonly isStopped: boolean;
  constructor(how: string, isStopped: boolean) {
    super(`The process ended (${how}); it may need more memory.`);
    this.isStopped = isStopped;
  }
}

/**
 * Processes that do one thing after the other as they are asked for, as many at a time as there are cores. One that dies takes its own work with
 * it only, and is followed by a new one.
 */
export class ProcessPool<Q extends object, A> {
  readonly size: number;
  private readonly script: URL;
  private readonly megabytes: number | null;
  private readonly idle: ChildProcess[] = [];
  private readonly all = new Set<ChildProcess>();
  private readonly line: (() => void)[] = [];
  private working = 0;

  /** @param script says `serveProcess`; @param megabytes that its heap may grow to; null: as usual */
  constructor(script: URL, size = availableParallelism(), megabytes: number | null = null) {
    this.script = script;
    this.size = size;
    this.megabytes = megabytes;
  }

  /** @throws Error with the sentence that the work ended with, ProcessEnded */
  async ask(question: Q, { signal, onProgress }: AskOptions = {}): Promise<A> {
    if (this.working >= this.size) await new Promise<void>((resolve) => this.line.push(resolve));
    this.working++;
    const child = this.idle.pop() ?? this.begin();
    try {
      if (signal?.aborted) throw new ProcessEnded('stopped', true);
      return await asked<A>(child, question, signal, onProgress);
    } finally {
      if (child.exitCode === null && child.signalCode === null && !child.killed) this.idle.push(child);
      this.working--;
      this.line.shift()?.();
    }
  }

  /** Ends all processes. */
  close(): void {
    for (const child of this.all) child.kill();
  }

  private begin(): ChildProcess {
    const heap = this.megabytes === null ? [] : [`--max-old-space-size=${this.megabytes}`];
    const child = fork(this.script, {
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
      serialization: 'advanced',
      execArgv: [...heap, '--import', LOADER],
    });
    this.all.add(child);
    child.once('exit', () => {
      this.all.delete(child);
      const at = this.idle.indexOf(child);
      if (at >= 0) this.idle.splice(at, 1);
    });
    return child;
  }
}

function asked<A>(
  child: ChildProcess,
  question: object,
  signal?: AbortSignal,
  onProgress?: (done: number) => void,
): Promise<A> {
  return new Promise((resolve, reject) => {
    const settle = (): void => {
      child.off('message', told);
      child.off('exit', ended);
      signal?.removeEventListener('abort', stop);
    };
    const told = (message: unknown): void => {
      const say = message as Told<A>;
      if ('progress' in say) return onProgress?.(say.progress);
      settle();
      if ('answer' in say) resolve(say.answer);
      else reject(new Error(say.problem));
    };
    const ended = (code: number | null, name: string | null): void => {
      settle();
      reject(new ProcessEnded(name ?? `code ${code}`, signal?.aborted === true));
    };
    const stop = (): void => void child.kill('SIGKILL');
    child.on('message', told);
    child.once('exit', ended);
    signal?.addEventListener('abort', stop);
    child.send(question);
  });
}
