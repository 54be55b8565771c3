import { CoreError } from '../core/errors';
import type { JobEvents, JobMethods } from './job-protocol';
import { WorkerClient, type Methods } from './rpc';

export interface JobOptions {
  readonly signal?: AbortSignal;
  readonly onProgress?: (done: number) => void;
  readonly onCueTiles?: (data: JobEvents['cueTiles']) => void;
}

interface Waiting<M extends Methods> {
  start(slot: Slot<M>): void;
  reject(error: Error): void;
}

interface Slot<M extends Methods> {
  client: WorkerClient<M, JobEvents> | null;
  options: JobOptions | null;
}

/**
 * A few workers that take long jobs in turn. A job that is cancelled ends its worker; a worker that dies rejects its job;
 * both are replaced at the next job.
 */
export class JobPool<M extends Methods = JobMethods> {
  private readonly makeWorker: () => Worker;
  private readonly slots: Slot<M>[];
  private readonly line: Waiting<M>[] = [];

  constructor(makeWorker: () => Worker, workers: number) {
    this.makeWorker = makeWorker;
    this.slots = Array.from({ length: workers }, () => ({ client: null, options: null }));
  }

  get size(): number {
    return this.slots.length;
  }

  /** Starts the workers that aren't there yet, so that the next jobs find them ready. */
  warmUp(): void {
    for (const slot of this.slots) this.clientOf(slot);
  }

  /** @throws CoreError `cancelled`, `worker-died`, or what the job throws */
  run<K extends keyof M & string>(
    method: K,
    params: M[K]['params'],
    options: JobOptions = {},
    transfer: Transferable[] = [],
  ): Promise<M[K]['result']> {
    return new Promise((resolve, reject) => {
      const waiting: Waiting<M> = {
        reject,
        start: (slot) => {
          slot.options = options;
          const client = this.clientOf(slot);
          const stop = (): void => {
            slot.client = null;
            client.close(new CoreError('cancelled', 'Stopped.'));
          };
          options.signal?.addEventListener('abort', stop);
          client
            .call(method, params, transfer)
            .then(resolve, reject)
            .finally(() => {
              options.signal?.removeEventListener('abort', stop);
              slot.options = null;
              this.next();
            });
        },
      };
      if (options.signal?.aborted) {
        reject(new CoreError('cancelled', 'Stopped.'));
        return;
      }
      options.signal?.addEventListener('abort', () => {
        const at = this.line.indexOf(waiting);
        if (at < 0) return;
        this.line.splice(at, 1);
        reject(new CoreError('cancelled', 'Stopped.'));
      });
      this.line.push(waiting);
      this.next();
    });
  }

  /** Ends every worker and rejects what waits. */
  close(): void {
    for (const waiting of this.line.splice(0)) waiting.reject(new CoreError('cancelled', 'Stopped.'));
    for (const slot of this.slots) {
      slot.client?.close();
      slot.client = null;
    }
  }

  private next(): void {
    for (const slot of this.slots) {
      if (slot.options) continue;
      const waiting = this.line.shift();
      if (!waiting) return;
      waiting.start(slot);
    }
  }

  private clientOf(slot: Slot<M>): WorkerClient<M, JobEvents> {
    slot.client ??= new WorkerClient<M, JobEvents>(
      this.makeWorker(),
      {
        progress: (done) => slot.options?.onProgress?.(done),
        cueTiles: (data) => slot.options?.onCueTiles?.(data),
      },
      () => {
        slot.client = null;
      },
    );
    return slot.client;
  }
}
