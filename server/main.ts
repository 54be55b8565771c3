import { createApp } from './app';
import { InProcess } from './jobs/in-process';
import { OnRedis } from './jobs/on-redis';

/** How long open connections are waited for when the server is asked to stop. */
const GRACE_MS = 3000;

/** How long jobs in hand are waited for then. */
const JOB_GRACE_MS = 20_000;

function fail(words: string): never {
  process.stderr.write(`${words}\n`);
  process.exit(1);
}

/**
 * Serves the built application and takes jobs. PORT chooses the port, HOST the address (by default this machine only), REDIS_URL where jobs
 * wait for other machines, ZANAHORIA_TOKEN what whoever asks has to know.
 */
const wanted = process.env['PORT'] ?? '4173';
const port = /^\d+$/.test(wanted) ? Number(wanted) : NaN;
if (!(port >= 0 && port <= 65_535)) {
  fail(`PORT is “${wanted}”, which is no port. Use a number from 0 to 65535: PORT=4200 ./script/start`);
}
const host = process.env['HOST'] ?? '127.0.0.1';

const redis = process.env['REDIS_URL'];
const jobs = redis ? new OnRedis(redis) : new InProcess();
const token = process.env['ZANAHORIA_TOKEN'] || undefined;

const server = createApp('dist', { jobs, token }).listen(port, host, (error?: NodeJS.ErrnoException) => {
  if (error) {
    fail(
      error.code === 'EADDRINUSE'
        ? `Port ${port} is taken. Choose another one: PORT=4200 ./script/start`
        : `The server could not start: ${error.message}`,
    );
  }
  const address = server.address();
  const actual = typeof address === 'object' && address ? address.port : port;
  process.stdout.write(`Zanahoria is at http://${host === '127.0.0.1' ? 'localhost' : host}:${actual}/\n`);
});

for (const signal of ['SIGTERM', 'SIGINT'] as const) {
  process.once(signal, () => {
    server.close(() => void jobs.close(JOB_GRACE_MS).then(() => process.exit(0)));
    setTimeout(() => {
      server.closeAllConnections();
    }, GRACE_MS).unref();
  });
}
