import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Redis } from 'ioredis';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { buildJob, heard, send } from '../../tests/jobs';
import { createApp } from '../app';
import { madeKey, OnRedis } from './on-redis';

const folder = mkdtempSync(join(tmpdir(), 'zanahoria-redis-'));
writeFileSync(join(folder, 'index.html'), '<title>Zanahoria</title>');
const children: ChildProcess[] = [];
let url: string;
let redisProcess: ChildProcess;
let server: Server;
let address: string;

async function freePort(): Promise<number> {
  const taken = createServer().listen(0, '127.0.0.1');
  await new Promise((resolve) => taken.once('listening', resolve));
  const { port } = taken.address() as AddressInfo;
  await new Promise((resolve) => taken.close(resolve));
  return port;
}

/** Debian's redis-server, on a port of its own, with nothing on disk. */
async function startRedis(port: number): Promise<ChildProcess> {
  const child = spawn('redis-server', [
    '--port',
    String(port),
    '--save',
    '',
    '--appendonly',
    'no',
    '--dir',
    folder,
  ]);
  children.push(child);
  await new Promise<void>((resolve, reject) => {
    child.on('error', reject);
    child.stdout.on('data', (text: Buffer) => String(text).includes('Ready to accept') && resolve());
  });
  return child;
}

/** A machine that does jobs. */
async function startWorker(): Promise<ChildProcess> {
  const child = spawn(process.execPath, ['--import', 'tsx', 'server/work.ts'], {
    env: { ...process.env, REDIS_URL: url, JOB_LOST_MS: '1500' },
  });
  children.push(child);
  await new Promise<void>((resolve) => child.stdout.on('data', () => resolve()));
  return child;
}

beforeAll(async () => {
  const port = await freePort();
  url = `redis://127.0.0.1:${port}`;
  redisProcess = await startRedis(port);
  server = createApp(folder, { jobs: new OnRedis(url) }).listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
  address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
}, 60_000);

afterAll(() => {
  server.close();
  server.closeAllConnections();
  for (const child of children) child.kill('SIGKILL');
});

describe('jobs that several machines share', () => {
  it('are each done once, though one machine is lost in the middle of one', async () => {
    const workers = [await startWorker(), await startWorker()];
    const sent = await Promise.all(Array.from({ length: 10 }, () => send(address, buildJob(512))));
    const over = sent.map(heard);
    // As soon as one is being done, a machine goes without a word.
    for (;;) {
      const states = await Promise.all(
        sent.map(async (job) => (await (await fetch(job)).json()) as { state: string }),
      );
      if (states.filter((s) => s.state === 'working').length >= 2) break;
      await new Promise((resolve) => setTimeout(resolve, 20));
    }
    workers[0]!.kill('SIGKILL');
    const told = await Promise.all(over);
    expect(told.map((t) => t.at(-1)!.state)).toEqual(sent.map(() => 'done'));
    // Told to be done once each, and one result each.
    expect(told.map((t) => t.filter((s) => s.state === 'done').length)).toEqual(sent.map(() => 1));
    const redis = new Redis(url);
    expect(await redis.keys(madeKey('*'))).toHaveLength(sent.length);
    redis.disconnect();
    const sizes = await Promise.all(
      sent.map(async (job) => (await (await fetch(`${job}/result`)).arrayBuffer()).byteLength),
    );
    expect(new Set(sizes).size).toBe(1);
    const metrics = await (await fetch(`${address}/metrics`)).text();
    expect(metrics).toContain(`zanahoria_jobs{state="done"} ${sent.length}`);
    // Asked to stop, a machine ends by itself.
    const ended = new Promise((resolve) => workers[1]!.once('exit', resolve));
    workers[1]!.kill('SIGTERM');
    expect(await ended).toBe(0);
  }, 120_000);

  it('are refused in a sentence while Redis is gone, and taken when it is back', async () => {
    redisProcess.kill('SIGKILL');
    await new Promise((resolve) => redisProcess.once('exit', resolve));
    const answer = await fetch(`${address}/jobs`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/zip' },
      body: buildJob() as BodyInit,
    });
    expect([answer.status, await answer.text()]).toEqual([
      503,
      expect.stringContaining('Redis can’t be reached just now') as string,
    ]);
    expect((await fetch(`${address}/health`)).status).toBe(503);
    redisProcess = await startRedis(Number(new URL(url).port));
    await expect.poll(async () => (await fetch(`${address}/health`)).status, { timeout: 20_000 }).toBe(200);
    const worker = await startWorker();
    expect((await heard(await send(address, buildJob()))).at(-1)!.state).toBe('done');
    worker.kill('SIGKILL');
  }, 90_000);
});
