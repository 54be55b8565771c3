import { Queue, QueueEvents, type Job } from 'bullmq';
import { Redis } from 'ioredis';
import { CoreError } from '../../core/errors';
import { MOST_WAITING, type JobDriver, type JobState, type JobStatus } from './job-driver';

/** Name of the line, and where what is sent and made lies. */
export const LINE = 'zanahoria-jobs';
export const sentKey = (id: string): string => `zanahoria:sent:${id}`;
export const madeKey = (id: string): string => `zanahoria:made:${id}`;

/** Long enough for a machine that does jobs to come back. */
export const SENT_SECONDS = 7 * 24 * 3600;

const NO_REDIS =
  'Redis can’t be reached just now, so no job can be taken or told. Jobs that were taken are still there; try again in a while.';

/** What BullMQ calls the states of a job. */
const STATES: Readonly<Record<string, JobState>> = {
  waiting: 'waiting',
  'waiting-children': 'waiting',
  prioritized: 'waiting',
  delayed: 'waiting',
  active: 'working',
  completed: 'done',
  failed: 'failed',
};

/** A connection that answers at once where there is none, instead of waiting for one. */
export function connect(url: string, waits: boolean): Redis {
  const redis = new Redis(url, {
    maxRetriesPerRequest: waits ? null : 1,
    enableOfflineQueue: waits,
    retryStrategy: (tries) => Math.min(5000, 200 * tries),
  });
  // It is tried again by itself; what can't be done meanwhile is told by whoever wanted it.
  redis.on('error', () => undefined);
  return redis;
}

/** Hands jobs to the machines that do them through Redis: each is done once, also when one of them is lost in the middle. */
export class OnRedis implements JobDriver {
  readonly name = 'redis';
  private readonly redis: Redis;
  private readonly line: Queue;
  private readonly events: QueueEvents;
  private readonly listeners = new Map<string, Set<(status: JobStatus) => void>>();

  constructor(url: string) {
    this.redis = connect(url, false);
    this.line = new Queue(LINE, { connection: connect(url, true) });
    this.line.on('error', () => undefined);
    this.events = new QueueEvents(LINE, { connection: connect(url, true) });
    this.events.on('error', () => undefined);
    for (const event of ['waiting', 'active', 'progress', 'completed', 'failed'] as const) {
      this.events.on(event, ({ jobId }: { jobId: string }) => void this.tell(jobId));
    }
  }

  async add(id: string, bytes: Uint8Array): Promise<void> {
    await this.reachable(async () => {
      if ((await this.line.getWaitingCount()) >= MOST_WAITING) {
        throw new CoreError('storage-full', `${MOST_WAITING} jobs wait already. Send it again in a while.`);
      }
      await this.redis.set(sentKey(id), Buffer.from(bytes), 'EX', SENT_SECONDS);
      await this.line.add('job', {}, { jobId: id, removeOnComplete: false, removeOnFail: false });
    });
  }

  status(id: string): Promise<JobStatus | null> {
    return this.reachable(async () => {
      const job = (await this.line.getJob(id)) as Job | undefined;
      if (!job) return null;
      const state = STATES[await job.getState()] ?? 'waiting';
      const bytes = state === 'done' ? await this.redis.strlen(madeKey(id)) : null;
      const done = state === 'done' ? 1 : typeof job.progress === 'number' ? job.progress : 0;
      return { id, state, done, problem: state === 'failed' ? job.failedReason : null, bytes };
    });
  }

  result(id: string): Promise<Uint8Array | null> {
    return this.reachable(() => this.redis.getBuffer(madeKey(id)));
  }

  remove(id: string): Promise<boolean> {
    return this.reachable(async () => {
      const job = (await this.line.getJob(id)) as Job | undefined;
      if (!job) return false;
      await this.redis.del(sentKey(id), madeKey(id));
      // One that is being done can't be taken out of the line; it finds nothing to be kept for.
      await job.remove().catch(() => undefined);
      for (const listener of this.listeners.get(id) ?? [])
        listener({ id, state: 'stopped', done: 0, problem: null, bytes: null });
      return true;
    });
  }

  listen(id: string, listener: (status: JobStatus) => void): () => void {
    const known = this.listeners.get(id) ?? new Set();
    known.add(listener);
    this.listeners.set(id, known);
    return () => {
      known.delete(listener);
      if (known.size === 0) this.listeners.delete(id);
    };
  }

  counts(): Promise<Readonly<Record<JobState, number>>> {
    return this.reachable(async () => {
      const counts = await this.line.getJobCounts('wait', 'active', 'completed', 'failed');
      return {
        waiting: counts['wait'] ?? 0,
        working: counts['active'] ?? 0,
        done: counts['completed'] ?? 0,
        failed: counts['failed'] ?? 0,
        stopped: 0,
      };
    });
  }

  async trouble(): Promise<string | null> {
    return this.reachable(() => this.redis.ping()).then(
      () => null,
      (error: Error) => error.message,
    );
  }

  async close(): Promise<void> {
    await Promise.allSettled([this.events.close(), this.line.close()]);
    this.redis.disconnect();
  }

  private async tell(id: string): Promise<void> {
    const known = this.listeners.get(id);
    if (!known) return;
    const status = await this.status(id).catch(() => null);
    if (status) for (const listener of known) listener(status);
  }

  /** @throws CoreError `storage-failed` where Redis doesn't answer */
  private async reachable<T>(work: () => Promise<T>): Promise<T> {
    if (this.redis.status !== 'ready') {
      // The first moments after the start.
      await new Promise<void>((resolve) => {
        const done = (): void => resolve();
        this.redis.once('ready', done);
        setTimeout(done, 1000).unref();
      });
    }
    try {
      if (this.redis.status !== 'ready') throw new Error(this.redis.status);
      return await work();
    } catch (cause) {
      if (cause instanceof CoreError) throw cause;
      throw new CoreError('storage-failed', NO_REDIS, { cause });
    }
  }
}
