import { join, resolve } from 'node:path';
import compression from 'compression';
import express, { type Express, type NextFunction, type Request, type Response } from 'express';
import { rateLimit } from 'express-rate-limit';
import helmet from 'helmet';
import { pino } from 'pino';
import { pinoHttp } from 'pino-http';

/** Addresses that are pages of the application: the start page, and a project at one of its stages. */
const PAGES = ['/', '/project/:id', '/project/:id/:stage'];

const YEAR = 365 * 24 * 3600;

/** @param folder the built application */
export function createApp(folder: string): Express {
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
  app.get('/health', (_request, response) => {
    response.set('Cache-Control', 'no-store').json({ status: 'ok' });
  });
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
    say(
      response,
      status,
      status === 500 ? 'The server could not answer that.' : 'That address can’t be read.',
    );
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

const say = (response: Response, status: number, words: string): void =>
  void response.status(status).set('Cache-Control', 'no-store').type('text').send(`${words}\n`);

/** Files in assets/ have a hash of their contents in their name; all others may be other ones tomorrow. */
function keepFor(
  response: { setHeader(name: string, value: string): void },
  path: string,
  root: string,
): void {
  const hashed = path.startsWith(join(root, 'assets'));
  response.setHeader('Cache-Control', hashed ? `public, max-age=${YEAR}, immutable` : 'no-cache');
}
