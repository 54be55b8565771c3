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
import { JobPool, USUAL_LIMITS, type JobLimits } from './job-pool';

/** Results that are held take so much memory together at the most. */
const MOST_RESULT_BYTES = 1e9;

const LET_GO =
  'Its result was let go, since later ones needed the room. Send the job again, and fetch what it makes soon.';

interface Held {
  status: JobStatus;
  result: Uint8Array | null;
  readonly stop: AbortController;
}

/** Does jobs on this machine, in processes of this one's own. What waits is forgotten when it ends. */
export class InProcess implements JobDriver {
  readonly name = 'in-process';
  private readonly pool: JobPool;
  private readonly line: PQueue;
  private readonly jobs = new Map<string, Held>();
  private readonly told = new EventEmitter();
  private readonly keptMs: number;
  private readonly mostBytes: number;

  constructor(
    limits: JobLimits = USUAL_LIMITS,
    processes?: number,
    keptSeconds = KEPT_SECONDS,
    mostBytes = MOST_RESULT_BYTES,
  ) {
    this.mostBytes = mostBytes;
    this.pool = new JobPool(limits, processes);
    this.line = new PQueue({ concurrency: this.pool.size });
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
    this.pool.close();
  }

  private async work(held: Held, bytes: Uint8Array): Promise<void> {
    const { signal } = held.stop;
    if (signal.aborted) return;
    this.change(held, { state: 'working' });
    const answer = await this.pool.run(bytes, signal, (done) => this.change(held, { done }));
    if ('zip' in answer) {
      held.result = answer.zip;
      this.makeRoom(held);
      this.change(held, { state: 'done', done: 1, bytes: answer.zip.length });
    } else if ('problem' in answer) this.change(held, { state: 'failed', problem: answer.problem });
    else this.change(held, { state: 'stopped' });
    setTimeout(() => this.jobs.delete(held.status.id), this.keptMs).unref();
  }

  /** What was sent first goes where all that is held takes too much memory; what was just made stays. */
  private makeRoom(made: Held): void {
    let bytes = made.result?.length ?? 0;
    for (const held of [...this.jobs.values()].reverse()) {
      if (held === made || !held.result) continue;
      bytes += held.result.length;
      if (bytes <= this.mostBytes) continue;
      held.result = null;
      this.change(held, { state: 'failed', problem: LET_GO, bytes: null });
    }
  }

  private change(held: Held, patch: Partial<JobStatus>): void {
    held.status = { ...held.status, ...patch };
    this.told.emit(held.status.id, held.status);
  }
}
