import { Worker } from 'bullmq';
import { KEPT_SECONDS } from './job-driver';
import { JobPool, type JobLimits } from './job-pool';
import { connect, LINE, madeKey, sentKey } from './on-redis';

/** How long a machine is believed to be at work without a word, and how often it is looked for such. */
const LOCK_MS = 15_000;

/** A job that has ended machines so often isn't given to another. */
const MOST_LOST = 3;

/** Does jobs that wait in Redis, as many at a time as there are processes, until it is closed. */
export function startRedisWorker(url: string, limits?: JobLimits, lockMs = LOCK_MS) {
  const pool = new JobPool(limits);
  const redis = connect(url, true);
  const worker = new Worker(
    LINE,
    async (job) => {
      const id = job.id!;
      const sent = await redis.getBuffer(sentKey(id));
      if (!sent) throw new Error('What was sent is not there any more. Send the job again.');
      const answer = await pool.run(sent, new AbortController().signal, (done) => {
        void job.updateProgress(done).catch(() => undefined);
      });
      if (!('zip' in answer)) throw new Error('problem' in answer ? answer.problem : 'Stopped.');
      // Kept before it is told to be done: whoever hears of it finds it.
      await redis.set(madeKey(id), Buffer.from(answer.zip), 'EX', KEPT_SECONDS);
      await redis.expire(sentKey(id), KEPT_SECONDS);
      return { bytes: answer.zip.length };
    },
    {
      connection: connect(url, true),
      concurrency: pool.size,
      lockDuration: lockMs,
      stalledInterval: lockMs,
      maxStalledCount: MOST_LOST,
      removeOnComplete: { age: KEPT_SECONDS },
      removeOnFail: { age: KEPT_SECONDS },
    },
  );
  // It is tried again by itself.
  worker.on('error', () => undefined);
  return {
    worker,
    /** Ends after the jobs in hand. */
    async close(): Promise<void> {
      await worker.close();
      pool.close();
      redis.disconnect();
    },
  };
}
