import { join, resolve } from 'node:path';
import express, { type Express } from 'express';
import { rateLimit } from 'express-rate-limit';
import helmet from 'helmet';
import { pino } from 'pino';
import { pinoHttp } from 'pino-http';

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
  app.use(rateLimit({ windowMs: 60_000, limit: 3000, standardHeaders: 'draft-8', legacyHeaders: false }));
  app.use(express.static(root, { index: 'index.html', maxAge: '1h', setHeaders: neverStale }));
  // Every other address is a page of the application.
  app.get('/{*splat}', (request, response) => {
    if (/\.\w+$/.test(request.path)) response.status(404).type('text').send('Not found');
    else response.sendFile(join(root, 'index.html'));
  });
  return app;
}

function neverStale(response: { setHeader(name: string, value: string): void }, path: string): void {
  if (path.endsWith('.html') || path.includes('/demo/')) response.setHeader('Cache-Control', 'no-cache');
}
