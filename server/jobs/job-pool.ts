import { availableParallelism } from 'node:os';
import { Piscina } from 'piscina';
import { MessageChannel } from 'node:worker_threads';
import type { ThreadAnswer, ThreadTask } from './job-thread';

/** What one job may take. */
export interface JobLimits {
  readonly seconds: number;
  readonly megabytes: number;
}

export const USUAL_LIMITS: JobLimits = { seconds: 600, megabytes: 4096 };

/** How one job went. */
export type JobAnswer = ThreadAnswer | { readonly stopped: true };

/** Threads that do jobs, each within its limits. */
export class JobThreads {
  private readonly pool: Piscina<ThreadTask, ThreadAnswer>;
  private readonly limits: JobLimits;
  readonly threads: number;

  constructor(limits: JobLimits = USUAL_LIMITS, threads = availableParallelism()) {
    this.limits = limits;
    this.threads = threads;
    this.pool = new Piscina({
      filename: new URL('./job-thread.ts', import.meta.url).href,
      execArgv: ['--import', 'tsx'],
      minThreads: 0,
      maxThreads: threads,
      idleTimeout: 60_000,
      resourceLimits: { maxOldGenerationSizeMb: limits.megabytes },
    });
  }

  /** @param signal stops it; its thread ends then */
  async run(bytes: Uint8Array, signal: AbortSignal, onProgress: (done: number) => void): Promise<JobAnswer> {
    const { seconds, megabytes } = this.limits;
    const late = AbortSignal.timeout(seconds * 1000);
    const { port1, port2 } = new MessageChannel();
    port1.on('message', onProgress);
    const stop = AbortSignal.any([signal, late]);
    try {
      return await this.pool.run({ bytes, port: port2 }, { signal: stop, transferList: [port2] });
    } catch (error) {
      if (signal.aborted) return { stopped: true };
      if (late.aborted) {
        return {
          problem: `The job took longer than ${seconds} seconds and was stopped. Send a smaller model or sheet.`,
        };
      }
      const { code } = error as { code?: string };
      return {
        problem:
          code === 'ERR_WORKER_OUT_OF_MEMORY'
            ? `The job needed more than ${megabytes} MB. Send a smaller model or sheet.`
            : 'The job ended by itself, which is a fault of the program. Send it once more; if it ends again, report it.',
      };
    } finally {
      port1.close();
    }
  }

  close(): Promise<void> {
    return this.pool.destroy();
  }
}
