import { ProcessEnded, ProcessPool } from '../../jobs';
import type { SentBytes } from './job-process';

/** What one job may take. */
export interface JobLimits {
  readonly seconds: number;
  readonly megabytes: number;
}

export const USUAL_LIMITS: JobLimits = { seconds: 600, megabytes: 4096 };

/** How one job went: an error's sentence is all that is told of it. */
export type JobAnswer =
  { readonly zip: Uint8Array } | { readonly problem: string } | { readonly stopped: true };

/** Processes that do jobs, each within its limits. */
export class JobPool {
  private readonly pool: ProcessPool<SentBytes, Uint8Array>;
  private readonly limits: JobLimits;

  constructor(limits: JobLimits = USUAL_LIMITS, processes?: number) {
    this.limits = limits;
    this.pool = new ProcessPool(new URL('job-process.ts', import.meta.url), processes, limits.megabytes);
  }

  /** Jobs at a time. */
  get size(): number {
    return this.pool.size;
  }

  /** @param signal stops it; its process ends then */
  async run(bytes: Uint8Array, signal: AbortSignal, onProgress: (done: number) => void): Promise<JobAnswer> {
    const { seconds, megabytes } = this.limits;
    const late = AbortSignal.timeout(seconds * 1000);
    try {
      return { zip: await this.pool.ask({ bytes }, { signal: AbortSignal.any([signal, late]), onProgress }) };
    } catch (error) {
      if (signal.aborted) return { stopped: true };
      if (late.aborted) {
        return {
          problem: `The job took longer than ${seconds} seconds and was stopped. Send a smaller model or sheet.`,
        };
      }
      if (!(error instanceof ProcessEnded)) return { problem: (error as Error).message };
      return {
        problem: `The job ended by itself; it may have needed more than ${megabytes} MB. Send a smaller model or sheet.`,
      };
    }
  }

  close(): void {
    this.pool.close();
  }
}
