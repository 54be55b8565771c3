import { EventEmitter } from 'node:events';
import PQueue from 'p-queue';
import { CoreError } from '../../core/errors';
import {
  JOB_STATES,
  KEPT_SECONDS,
  MOST_WAITING,
  type JobDriver,
  type JobState,
  type JobStatus,
} from './job-driver';
import { JobThreads, USUAL_LIMITS, type JobLimits } from './job-pool';

interface Held {
  status: JobStatus;
  result: Uint8Array | null;
  readonly stop: AbortController;
}

/** Does jobs on this machine, in this process's own threads. What waits is forgotten when it ends. */
export class InProcess implements JobDriver {
  readonly name = 'in-process';
  private readonly threads: JobThreads;
  private readonly line: PQueue;
  private readonly jobs = new Map<string, Held>();
  private readonly told = new EventEmitter();
  private readonly keptMs: number;

  constructor(limits: JobLimits = USUAL_LIMITS, threads?: number, keptSeconds = KEPT_SECONDS) {
    this.threads = new JobThreads(limits, threads);
    this.line = new PQueue({ concurrency: this.threads.threads });
    this.keptMs = keptSeconds * 1000;
    this.told.setMaxListeners(0);
  }

  add(id: string, bytes: Uint8Array): Promise<void> {
    if (this.line.size >= MOST_WAITING) {
      throw new CoreError('storage-full', `${MOST_WAITING} jobs wait already. Send it again in a while.`);
    }
    const held: Held = {
      status: { id, state: 'waiting', done: 0, problem: null, bytes: null },
      result: null,
      stop: new AbortController(),
    };
    this.jobs.set(id, held);
    void this.line.add(() => this.work(held, bytes));
    return Promise.resolve();
  }

  status(id: string): Promise<JobStatus | null> {
    return Promise.resolve(this.jobs.get(id)?.status ?? null);
  }

  result(id: string): Promise<Uint8Array | null> {
    return Promise.resolve(this.jobs.get(id)?.result ?? null);
  }

  remove(id: string): Promise<boolean> {
    const held = this.jobs.get(id);
    if (!held) return Promise.resolve(false);
    held.stop.abort();
    this.change(held, { state: 'stopped' });
    this.jobs.delete(id);
    return Promise.resolve(true);
  }

  listen(id: string, listener: (status: JobStatus) => void): () => void {
    this.told.on(id, listener);
    return () => this.told.off(id, listener);
  }

  counts(): Promise<Readonly<Record<JobState, number>>> {
    const counts = Object.fromEntries(JOB_STATES.map((s) => [s, 0])) as Record<JobState, number>;
    for (const { status } of this.jobs.values()) counts[status.state]++;
    return Promise.resolve(counts);
  }

  trouble(): Promise<string | null> {
    return Promise.resolve(null);
  }

  async close(graceMs: number): Promise<void> {
    this.line.clear();
    const late = new Promise<void>((resolve) => setTimeout(resolve, graceMs).unref());
    await Promise.race([this.line.onIdle(), late]);
    for (const { stop } of this.jobs.values()) stop.abort();
    await this.threads.close();
  }

  private async work(held: Held, bytes: Uint8Array): Promise<void> {
    const { signal } = held.stop;
    if (signal.aborted) return;
    this.change(held, { state: 'working' });
    const answer = await this.threads.run(bytes, signal, (done) => this.change(held, { done }));
    if ('zip' in answer) {
      held.result = answer.zip;
      this.change(held, { state: 'done', done: 1, bytes: answer.zip.length });
    } else if ('problem' in answer) this.change(held, { state: 'failed', problem: answer.problem });
    else this.change(held, { state: 'stopped' });
    setTimeout(() => this.jobs.delete(held.status.id), this.keptMs).unref();
  }

  private change(held: Held, patch: Partial<JobStatus>): void {
    held.status = { ...held.status, ...patch };
    this.told.emit(held.status.id, held.status);
  }
}
