import { mkdtempSync, writeFileSync } from 'node:fs';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { strFromU8, unzipSync } from 'fflate';
import { differenceCiede2000 } from 'culori';
import { PNG } from 'pngjs';
import { encodePng } from '../../core/formats';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { buildJob, checkJob, FLOOR_OBJ, heard, jobZip, send } from '../../tests/jobs';
import { createApp } from '../app';
import { InProcess } from './in-process';
import { JobPool } from './job-pool';

const folder = mkdtempSync(join(tmpdir(), 'zanahoria-jobs-'));
writeFileSync(join(folder, 'index.html'), '<title>Zanahoria</title>');

const running: { server: Server; jobs: InProcess }[] = [];

/** A server with its own processes. @returns its address */
async function start(options: { token?: string; jobsAMinute?: number } = {}): Promise<string> {
  const jobs = new InProcess({ seconds: 60, megabytes: 1024 }, 1);
  const server = createApp(folder, { jobs, ...options }).listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
  running.push({ server, jobs });
  return `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
}

let address: string;
beforeAll(async () => {
  address = await start();
});
afterAll(async () => {
  for (const { server, jobs } of running) {
    server.close();
    server.closeAllConnections();
    await jobs.close(0);
  }
});

const sent = (body: Uint8Array, type = 'application/zip') =>
  fetch(`${address}/jobs`, { method: 'POST', headers: { 'Content-Type': type }, body: body as BodyInit });

describe('a job over HTTP', () => {
  it('is taken, told as it goes on, and fetched whole or in parts', async () => {
    const job = await send(address, buildJob());
    const told = await heard(job);
    expect(
      told
        .map((t) => t.state)
        .filter((s, i, all) => s !== all[i - 1])
        .at(-1),
    ).toBe('done');
    expect(told.some((t) => t.state === 'working')).toBe(true);
    expect(told.map((t) => t.done)).toEqual(told.map((t) => t.done).toSorted((a, b) => a - b));
    const zip = new Uint8Array(await (await fetch(`${job}/result`)).arrayBuffer());
    expect(zip.length).toBe(told.at(-1)!.bytes);
    const files = unzipSync(zip);
    expect(Object.keys(files).toSorted()).toEqual(['albedo.png', 'model.glb', 'report.json', 'result.json']);
    expect(PNG.sync.read(Buffer.from(files['albedo.png']!)).width).toBe(64);
    const part = await fetch(`${job}/result`, { headers: { Range: 'bytes=10-19' } });
    expect([part.status, part.headers.get('content-range')]).toEqual([206, `bytes 10-19/${zip.length}`]);
    expect(new Uint8Array(await part.arrayBuffer())).toEqual(zip.slice(10, 20));
    const past = await fetch(`${job}/result`, { headers: { Range: `bytes=${zip.length}-` } });
    expect([past.status, past.headers.get('content-range')]).toEqual([416, `bytes */${zip.length}`]);
    // A download that was cut off goes on where it was.
    const rest = await fetch(`${job}/result`, { headers: { Range: 'bytes=20-' } });
    expect((await rest.arrayBuffer()).byteLength).toBe(zip.length - 20);
  });

  it('says what would be seen as wrong, and how far it is', async () => {
    const job = await send(address, checkJob());
    const told = await heard(job);
    expect(told.some((t) => t.state === 'working' && t.done > 0 && t.done < 1)).toBe(true);
    const files = unzipSync(new Uint8Array(await (await fetch(`${job}/result`)).arrayBuffer()));
    expect(JSON.parse(strFromU8(files['result.json']!))).toMatchObject({
      ok: true,
    });
  });

  it('compares a model with a picture of it', async () => {
    // A square of one colour, seen from straight above, beside a picture of it in another.
    const camera = {
      position: [0, 4, 0],
      target: [0, 0, 0],
      up: [0, 0, -1],
      fovY: 40,
      shift: [0, 0],
      width: 64,
      height: 64,
    };
    const flat = (grey: number): Uint8Array =>
      encodePng({
        width: 64,
        height: 64,
        rgba: new Uint8Array(64 * 64 * 4).map((_, i) => (i % 4 === 3 ? 255 : grey)),
      });
    const seen = new Uint8Array(64 * 64 * 4).map((_, i) => (i % 4 === 3 ? 255 : 20));
    // Half the side of the square over the distance, beside the tangent of half the field: 0.25 / 0.364 of 32 pixels.
    for (let y = 10; y < 54; y++)
      for (let x = 10; x < 54; x++) seen.fill(160, (y * 64 + x) * 4, (y * 64 + x) * 4 + 3);
    const job = await send(
      address,
      jobZip(
        { do: 'match' },
        {
          'model.obj': FLOOR_OBJ,
          'albedo.png': flat(120),
          'reference.png': encodePng({ width: 64, height: 64, rgba: seen }),
          'camera.json': JSON.stringify(camera),
        },
      ),
    );
    const told = await heard(job);
    expect(told.at(-1)).toMatchObject({ state: 'done' });
    expect(told.some((t) => t.done > 0 && t.done < 1)).toBe(true);
    const files = unzipSync(new Uint8Array(await (await fetch(`${job}/result`)).arrayBuffer()));
    expect(Object.keys(files).toSorted()).toEqual([
      'heat.png',
      'report.json',
      'result.json',
      'side-by-side.png',
    ]);
    const { deltaE, iou } = JSON.parse(strFromU8(files['result.json']!)) as { deltaE: number; iou: number };
    expect(iou).toBeGreaterThan(0.95);
    // CIEDE2000 of sRGB greys 120 and 160 by culori.
    const apart = differenceCiede2000()('#787878', '#a0a0a0');
    expect(Math.abs(deltaE - apart)).toBeLessThan(0.5);
  });

  it('that can’t be done fails with its sentence, and the next one is done', async () => {
    const noUvs = FLOOR_OBJ.replace(/^vt.*\n/gm, '').replaceAll(/(\d)\/\d/g, '$1');
    const bad = await send(address, jobZip({ do: 'build' }, { 'model.obj': noUvs, 'recipe.json': '{}' }));
    const told = (await heard(bad)).at(-1)!;
    expect(told.state).toBe('failed');
    expect(told.problem).toContain('no UVs');
    const result = await fetch(`${bad}/result`);
    expect([result.status, await result.text()]).toEqual([409, `${told.problem}\n`]);
    expect((await heard(await send(address, checkJob()))).at(-1)!.state).toBe('done');
  });

  it('is refused at the door where it is none', async () => {
    const words = async (answer: Response): Promise<[number, string]> => [answer.status, await answer.text()];
    const [type, why] = await words(await sent(buildJob(), 'text/plain'));
    expect([type, why]).toEqual([415, expect.stringContaining('sent as a zip') as string]);
    expect(await words(await sent(Uint8Array.of(1, 2, 3)))).toEqual([
      400,
      expect.stringContaining('not a whole job') as string,
    ]);
    // A file from elsewhere.
    const other = await words(await sent(jobZip(undefined, {}).slice()));
    expect(other[0]).toBe(400);
    const bad: readonly (readonly [unknown, Record<string, string>, string])[] = [
      [{ do: 'bake' }, {}, 'not valid'],
      [{ do: 'build', size: 77 }, {}, '“size”'],
      [{ do: 'build' }, { 'model.obj': FLOOR_OBJ }, 'needs “recipe.json”'],
      [{ do: 'deliver' }, { 'model.obj': FLOOR_OBJ }, 'needs “project.zip”'],
      [{ do: 'build' }, { '../model.obj': FLOOR_OBJ, 'recipe.json': '{}' }, 'needs “model.glb”'],
    ];
    for (const [request, files, part] of bad)
      expect((await words(await sent(jobZip(request, files))))[1]).toContain(part);
  });

  it('lets go of the oldest results where all take too much memory, and says so; the newest stays', async () => {
    const few = 100;
    const jobs = new InProcess({ seconds: 60, megabytes: 1024 }, 1, 60, few);
    for (const id of ['a', 'b']) {
      const over = new Promise<void>((resolve) =>
        jobs.listen(id, ({ state }) => state === 'done' && resolve()),
      );
      await jobs.add(id, checkJob());
      await over;
    }
    expect((await jobs.result('b'))!.length).toBeGreaterThan(few);
    expect(await jobs.result('a')).toBeNull();
    expect(await jobs.status('a')).toMatchObject({
      state: 'failed',
      problem: expect.stringContaining('needed the room') as string,
    });
    await jobs.close(0);
  });

  it('is let go of, and then isn’t there', async () => {
    const job = await send(address, checkJob());
    await heard(job);
    expect((await fetch(job, { method: 'DELETE' })).status).toBe(204);
    for (const path of ['', '/events', '/result']) {
      const answer = await fetch(job + path);
      expect([answer.status, await answer.text()]).toEqual([
        404,
        expect.stringContaining('no such job') as string,
      ]);
    }
    expect((await fetch(job, { method: 'DELETE' })).status).toBe(404);
    expect((await fetch(job, { method: 'PUT' })).status).toBe(405);
  });

  it('that waits is stopped before it begins', async () => {
    const first = await send(address, buildJob(256));
    const second = await send(address, buildJob());
    const over = heard(second);
    await new Promise((resolve) => setTimeout(resolve, 100));
    expect((await fetch(second, { method: 'DELETE' })).status).toBe(204);
    expect((await over).at(-1)!.state).toBe('stopped');
    expect((await heard(first)).at(-1)!.state).toBe('done');
  });

  it('is counted for whoever watches', async () => {
    const text = await (await fetch(`${address}/metrics`)).text();
    expect(text).toMatch(/zanahoria_jobs\{state="done"\} [1-9]/);
    expect(text).toMatch(/zanahoria_jobs_taken_total\{job="build"\} [1-9]/);
    expect(text).toContain('process_cpu_seconds_total');
  });

  it('is not taken too often', async () => {
    const busy = await start({ jobsAMinute: 2 });
    const statuses: number[] = [];
    for (let i = 0; i < 3; i++)
      statuses.push((await fetch(`${busy}/jobs`, { method: 'POST', body: 'x' })).status);
    expect(statuses).toEqual([415, 415, 429]);
  });
});

describe('a token', () => {
  it('is wanted for all but health, as bearer or as password', async () => {
    const guarded = await start({ token: 'turnip-soup' });
    const status = async (path: string, authorization?: string) =>
      (await fetch(guarded + path, authorization ? { headers: { Authorization: authorization } } : {}))
        .status;
    expect(await status('/health')).toBe(200);
    for (const path of ['/', '/metrics', '/jobs/x']) {
      expect(await status(path)).toBe(401);
      expect(await status(path, 'Bearer turnip')).toBe(401);
      expect(await status(path, 'Bearer turnip-soup')).not.toBe(401);
      expect(await status(path, `Basic ${btoa('anyone:turnip-soup')}`)).not.toBe(401);
    }
    const asked = await fetch(guarded);
    expect(asked.headers.get('www-authenticate')).toContain('Basic');
    // It isn't found by trying, and who knows it isn't kept out before that.
    const tried: number[] = [];
    for (let i = 0; i < 40; i++) tried.push(await status('/', `Bearer guess-${i}`));
    expect(new Set(tried)).toEqual(new Set([401, 429]));
  });
});

describe('limits of one job', () => {
  it('stop what takes too long, and the next one works', async () => {
    const pool = new JobPool({ seconds: 0.05, megabytes: 512 }, 1);
    const never = new AbortController().signal;
    const answer = await pool.run(buildJob(2048), never, () => undefined);
    expect(answer).toEqual({ problem: expect.stringContaining('took longer than 0.05 seconds') as string });
    pool.close();
  });
});
