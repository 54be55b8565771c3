import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { createApp } from '../../server/app';
import { InProcess } from '../../server/jobs/in-process';
import type { JobDriver } from '../../server/jobs/job-driver';
import { OnRedis } from '../../server/jobs/on-redis';
import { buildJob, checkJob, heard, send } from '../jobs';

const MANY = 1000;

const portOf = (server: Server): number => (server.address() as AddressInfo).port;

const seconds = (began: number): string => ((performance.now() - began) / 1000).toFixed(1);

async function serve(jobs: JobDriver): Promise<{ server: Server; address: string }> {
  const folder = mkdtempSync(join(tmpdir(), 'zanahoria-many-'));
  writeFileSync(join(folder, 'index.html'), '');
  const server = createApp(folder, { jobs, jobsAMinute: 100_000 }).listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
  return { server, address: `http://127.0.0.1:${portOf(server)}` };
}

/** Sends them all, then looks at each until it is over. @returns how many ended in each state */
async function sendMany(address: string, count: number): Promise<Record<string, number>> {
  const jobs: string[] = [];
  for (let i = 0; i < count; i += 50)
    jobs.push(...(await Promise.all(Array.from({ length: 50 }, () => send(address, checkJob())))));
  const ends: Record<string, number> = {};
  for (const job of jobs) {
    const state = (await heard(job)).at(-1)!.state;
    ends[state] = (ends[state] ?? 0) + 1;
  }
  return ends;
}

test('a thousand jobs in line lose none, in the server’s own threads', async () => {
  const jobs = new InProcess();
  const { server, address } = await serve(jobs);
  const began = performance.now();
  expect(await sendMany(address, MANY)).toEqual({ done: MANY });
  test.info().annotations.push({ type: 'seconds', description: seconds(began) });
  server.close();
  server.closeAllConnections();
  await jobs.close(0);
});

test('a thousand jobs in line lose none on Redis, though machines come and go', async () => {
  const free = createServer().listen(0, '127.0.0.1');
  await new Promise((resolve) => free.once('listening', resolve));
  const port = portOf(free);
  free.close();
  const redis = spawn('redis-server', ['--port', String(port), '--save', '', '--dir', tmpdir()]);
  await new Promise<void>((resolve) =>
    redis.stdout.on('data', (text: Buffer) => String(text).includes('Ready to accept') && resolve()),
  );
  const url = `redis://127.0.0.1:${port}`;
  const jobs = new OnRedis(url);
  const { server, address } = await serve(jobs);
  const worker = (): ChildProcess =>
    spawn(process.execPath, ['--import', 'tsx', 'server/work.ts'], {
      env: { ...process.env, REDIS_URL: url, JOB_LOST_MS: '2000' },
    });
  const began = performance.now();
  let machine = worker();
  // One after the other is lost, and another takes its place.
  const losing = setInterval(() => {
    machine.kill('SIGKILL');
    machine = worker();
  }, 12_000);
  const steady = worker();
  expect(await sendMany(address, MANY)).toEqual({ done: MANY });
  test.info().annotations.push({ type: 'seconds', description: seconds(began) });
  clearInterval(losing);
  for (const child of [machine, steady]) child.kill('SIGKILL');
  server.close();
  server.closeAllConnections();
  await jobs.close();
  redis.kill('SIGKILL');
});

test('on a server whose disk is full a job is done all the same: none of it goes over the disk', async () => {
  const disk = mkdtempSync(join(tmpdir(), 'zanahoria-full-'));
  const mounted = spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=40k', 'tmpfs', disk]);
  test.skip(mounted.status !== 0, 'only where a small disk can be mounted');
  const before = process.env['TMPDIR'];
  try {
    const { address, server } = await serve(new InProcess());
    // Threads are started after this.
    process.env['TMPDIR'] = disk;
    expect((await heard(await send(address, buildJob(512)))).at(-1)!.state).toBe('done');
    server.close();
    server.closeAllConnections();
  } finally {
    if (before === undefined) delete process.env['TMPDIR'];
    else process.env['TMPDIR'] = before;
    spawnSync('umount', ['-l', disk]);
  }
});
