import { startRedisWorker } from './jobs/redis-worker';

/**
 * Does jobs that wait in Redis: one such process on each machine that shares the work. JOB_LOST_MS: a machine that hasn't told for so long
 * that it is at work counts as lost, and its job is given to another.
 */
const url = process.env['REDIS_URL'];
if (!url) {
  process.stderr.write(
    'REDIS_URL is not set. It says where the jobs wait: REDIS_URL=redis://10.0.0.5:6379 ./script/start-jobs\n',
  );
  process.exit(1);
}
const lost = Number(process.env['JOB_LOST_MS'] || NaN);
const { worker, close } = startRedisWorker(url, undefined, lost > 0 ? lost : undefined);
worker.on('ready', () => process.stdout.write(`Jobs are fetched from ${new URL(url).host}.\n`));
for (const signal of ['SIGTERM', 'SIGINT'] as const) {
  process.once(signal, () => void close().then(() => process.exit(0)));
}
