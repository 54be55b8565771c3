import { randomUUID } from 'node:crypto';
import express, { Router, type Request, type Response } from 'express';
import { rateLimit } from 'express-rate-limit';
import { CoreError, sentenceOf } from '../../core/errors';
import { say } from '../say';
import type { JobDriver, JobStatus } from './job-driver';
import { readJob } from './job-request';
import type { ServerMetrics } from './metrics';

/** The largest job that is let in. */
const MOST_BYTES = '300mb';

/** How often a listener that hears nothing is told that the line is still open. */
const HEARTBEAT_MS = 15_000;

const STATUS: Partial<Readonly<Record<CoreError['code'], number>>> = {
  'storage-full': 503,
  'storage-failed': 503,
};

/** Jobs over HTTP: sent as a zip, watched as events, fetched as a zip. */
export function jobRoutes(driver: JobDriver, metrics: ServerMetrics, jobsAMinute: number): Router {
  const router = Router();
  const often = rateLimit({
    windowMs: 60_000,
    limit: jobsAMinute,
    standardHeaders: 'draft-8',
    legacyHeaders: false,
    message: `More than ${jobsAMinute} jobs a minute are not taken. Wait a little.\n`,
  });
  router.post(
    '/',
    often,
    express.raw({ type: 'application/zip', limit: MOST_BYTES }),
    answered(async (request, response) => {
      const body: unknown = request.body;
      if (!(body instanceof Uint8Array)) {
        return say(response, 415, 'A job is sent as a zip: Content-Type: application/zip.');
      }
      const { request: asked } = readJob(body);
      const id = randomUUID();
      await driver.add(id, body);
      metrics.taken.inc({ job: asked.do });
      const address = `${request.baseUrl}/${id}`;
      response.status(202).location(address).json({ id, state: 'waiting', address });
    }),
  );
  router.get(
    '/:id',
    answered(async (request, response) => {
      const status = await statusOf(driver, request, response);
      if (status) response.set('Cache-Control', 'no-store').json(status);
    }),
  );
  router.get(
    '/:id/events',
    answered(async (request, response) => {
      const status = await statusOf(driver, request, response);
      if (status) follow(driver, status, request, response);
    }),
  );
  router.get(
    '/:id/result',
    answered(async (request, response) => {
      const status = await statusOf(driver, request, response);
      if (!status) return;
      const zip = status.state === 'done' ? await driver.result(status.id) : null;
      if (!zip) {
        const why = status.problem ?? `It is ${status.state}; there is a result when it is done.`;
        return say(response, 409, why);
      }
      sendPart(request, response, zip, `${status.id}.zip`);
    }),
  );
  router.delete(
    '/:id',
    answered(async (request, response) => {
      if (await driver.remove(idOf(request))) response.status(204).end();
      else say(response, 404, NO_JOB);
    }),
  );
  router.all(['/', '/:id', '/:id/events', '/:id/result'], (_request, response) => {
    say(response.set('Allow', 'GET, POST, DELETE'), 405, 'That can’t be done here. See docs/server.md.');
  });
  return router;
}

const NO_JOB =
  'There is no such job. It was never sent here, or its result was let go an hour after it was made.';

const idOf = (request: Request): string => String(request.params['id']);

async function statusOf(driver: JobDriver, request: Request, response: Response): Promise<JobStatus | null> {
  const status = await driver.status(idOf(request));
  if (!status) say(response, 404, NO_JOB);
  return status;
}

/** Whatever is thrown becomes an answer in a sentence. */
const answered =
  (work: (request: Request, response: Response) => Promise<void>) =>
  (request: Request, response: Response): void => {
    work(request, response).catch((error: unknown) => {
      if (!(error instanceof CoreError)) request.log.error(error);
      const status = error instanceof CoreError ? (STATUS[error.code] ?? 400) : 500;
      if (!response.headersSent)
        say(response, status, status === 500 ? 'The server could not answer that.' : sentenceOf(error));
      else response.end();
    });
  };

const isOver = ({ state }: JobStatus): boolean =>
  state === 'done' || state === 'failed' || state === 'stopped';

/** Server-sent events (WHATWG HTML, section 9.2) until the job is over. */
function follow(driver: JobDriver, first: JobStatus, request: Request, response: Response): void {
  response.writeHead(200, {
    'Content-Type': 'text/event-stream',
    // Compression would keep events back.
    'Cache-Control': 'no-store, no-transform',
  });
  let last = '';
  const tell = (status: JobStatus): void => {
    const data = JSON.stringify(status);
    if (data === last) return;
    last = data;
    response.write(`event: ${status.state}\ndata: ${data}\n\n`);
    if (isOver(status)) end();
  };
  const beat = setInterval(() => response.write(': still here\n\n'), HEARTBEAT_MS);
  const stop = driver.listen(first.id, tell);
  const end = (): void => {
    clearInterval(beat);
    stop();
    response.end();
  };
  request.on('close', end);
  tell(first);
  // It may have changed between the answer and the listening.
  void driver.status(first.id).then((now) => now && !response.writableEnded && tell(now), end);
}

/** All of some bytes, or the range that was asked for (RFC 9110, section 14). */
function sendPart(request: Request, response: Response, bytes: Uint8Array, name: string): void {
  response.set({ 'Accept-Ranges': 'bytes', 'Cache-Control': 'no-store, no-transform' });
  response.attachment(name).type('application/zip');
  const ranges = request.range(bytes.length);
  if (ranges === -1 || ranges === -2 || !ranges || ranges.type !== 'bytes' || ranges.length !== 1) {
    if (ranges === -1) {
      response.set('Content-Range', `bytes */${bytes.length}`);
      return say(response, 416, `The result has ${bytes.length} bytes; that range lies outside of it.`);
    }
    response.send(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.length));
    return;
  }
  const { start, end } = ranges[0]!;
  response
    .status(206)
    .set('Content-Range', `bytes ${start}-${end}/${bytes.length}`)
    .send(Buffer.from(bytes.subarray(start, end + 1)));
}
