import { join, resolve } from 'node:path';
import compression from 'compression';
import express, { type Express, type NextFunction, type Request, type Response } from 'express';
import { rateLimit } from 'express-rate-limit';
import helmet from 'helmet';
import { pino } from 'pino';
import { pinoHttp } from 'pino-http';
import type { JobDriver } from './jobs/job-driver';
import { serverMetrics } from './jobs/metrics';
import { jobRoutes } from './jobs/routes';
import { say } from './say';
import { onlyWith } from './token';

/** Addresses that are pages of the application: the start page, a project at one of its stages, a set. */
const PAGES = ['/', '/project/:id', '/project/:id/:stage', '/set/:id'];

const YEAR = 365 * 24 * 3600;

/** Tokens are not found by trying: only answers that refuse one count. */
const seldomWrong = rateLimit({
  windowMs: 60_000,
  limit: 30,
  standardHeaders: 'draft-8',
  legacyHeaders: false,
  requestWasSuccessful: (_request, response) => response.statusCode !== 401,
  skipSuccessfulRequests: true,
  message: 'Too many wrong tokens. Wait a minute.\n',
});

/** Jobs that one address may send. */
const JOBS_A_MINUTE = 240;

export interface ServerOptions {
  /** Does jobs that are sent; without one none are taken. */
  readonly jobs?: JobDriver;
  /** What whoever asks has to know; everybody may where it is left out. */
  readonly token?: string | undefined;
  readonly jobsAMinute?: number;
}

/** @param folder the built application */
export function createApp(
  folder: string,
  { jobs, token, jobsAMinute = JOBS_A_MINUTE }: ServerOptions = {},
): Express {
  const root = resolve(folder);
  const app = express();
  app.disable('x-powered-by');
  app.use(pinoHttp({ logger: pino({ level: process.env['LOG_LEVEL'] ?? 'warn' }) }));
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          defaultSrc: ["'self'"],
          // The kernels are WebAssembly.
          scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
          workerSrc: ["'self'"],
          imgSrc: ["'self'", 'blob:', 'data:'],
          connectSrc: ["'self'", 'blob:'],
          styleSrc: ["'self'", "'unsafe-inline'"],
          fontSrc: ["'self'", 'data:'],
          // It is served on plain HTTP on the artist's own machine.
          upgradeInsecureRequests: null,
        },
      },
      crossOriginOpenerPolicy: { policy: 'same-origin' },
      crossOriginEmbedderPolicy: { policy: 'require-corp' },
    }),
  );
  app.use(compression());
  app.get('/health', async (_request, response) => {
    const trouble = (await jobs?.trouble()) ?? null;
    response
      .status(trouble ? 503 : 200)
      .set('Cache-Control', 'no-store')
      .json(trouble ? { status: 'trouble', trouble } : { status: 'ok' });
  });
  if (token) app.use(seldomWrong, onlyWith(token));
  if (jobs) {
    const metrics = serverMetrics(jobs);
    app.get('/metrics', async (_request, response) => {
      response.set('Cache-Control', 'no-store').type(metrics.registry.contentType);
      response.send(await metrics.registry.metrics());
    });
    app.use('/jobs', jobRoutes(jobs, metrics, jobsAMinute));
  }
  app.use(rateLimit({ windowMs: 60_000, limit: 3000, standardHeaders: 'draft-8', legacyHeaders: false }));
  app.use(onlyReading);
  app.use(
    express.static(root, { index: false, setHeaders: (response, path) => keepFor(response, path, root) }),
  );
  app.get(PAGES, (_request, response) => {
    response.set('Cache-Control', 'no-cache').sendFile(join(root, 'index.html'));
  });
  app.use((_request, response) => {
    say(response, 404, 'There is nothing at this address.');
  });
  app.use((error: unknown, request: Request, response: Response, _next: NextFunction) => {
    const stated = (error as { status?: number }).status ?? 500;
    const status = stated >= 400 && stated < 500 ? stated : 500;
    if (status === 500) request.log.error(error);
    const words: Readonly<Record<number, string>> = {
      413: 'That is larger than the 300 MB that a job may have.',
      500: 'The server could not answer that.',
    };
    say(response, status, words[status] ?? 'That address can’t be read.');
  });
  return app;
}

function onlyReading(request: Request, response: Response, next: NextFunction): void {
  if (request.method === 'GET' || request.method === 'HEAD') {
    next();
    return;
  }
  response.set('Allow', 'GET, HEAD');
  say(response, 405, 'This server only gives out the application; it takes nothing in.');
}

/** Files in assets/ have a hash of their contents in their name; all others may be other ones tomorrow. */
function keepFor(
  response: { setHeader(name: string, value: string): void },
  path: string,
  root: string,
): void {
  const hashed = path.startsWith(join(root, 'assets'));
  response.setHeader('Cache-Control', hashed ? `public, max-age=${YEAR}, immutable` : 'no-cache');
}
