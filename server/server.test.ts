import { spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { createApp } from './app';

let server: Server;
let address: string;

beforeAll(async () => {
  const folder = mkdtempSync(join(tmpdir(), 'zanahoria-server-'));
  writeFileSync(join(folder, 'index.html'), '<title>Zanahoria</title>');
  writeFileSync(join(folder, 'app.js'), '1');
  mkdirSync(join(folder, 'assets'));
  writeFileSync(join(folder, 'assets', 'app-1a2b3c.js'), 'x'.repeat(5000));
  server = createApp(folder).listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
  address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(() => server.close());

describe('the server', () => {
  it('isolates the page, so that workers can share memory', async () => {
    const { headers } = await fetch(`${address}/`);
    expect(headers.get('cross-origin-opener-policy')).toBe('same-origin');
    expect(headers.get('cross-origin-embedder-policy')).toBe('require-corp');
  });

  it('allows WebAssembly and nothing from elsewhere', async () => {
    const policy = (await fetch(`${address}/`)).headers.get('content-security-policy')!;
    expect(policy).toContain("'wasm-unsafe-eval'");
    expect(policy).toContain("default-src 'self'");
    expect(policy).not.toContain('https:');
    expect(policy).not.toContain('upgrade-insecure-requests');
  });

  it('answers every page with the application and a missing file with 404', async () => {
    expect(await (await fetch(`${address}/project/abc/paint`)).text()).toContain('Zanahoria');
    expect((await fetch(`${address}/assets/missing.js`)).status).toBe(404);
    expect((await fetch(`${address}/../package.json`)).status).toBe(404);
    expect((await fetch(`${address}/nothing`)).status).toBe(404);
    expect((await fetch(`${address}/project/a/paint/more`)).status).toBe(404);
    expect(await (await fetch(`${address}/app.js`)).text()).toBe('1');
  });

  it('says in a sentence what can’t be answered, never where its files lie', async () => {
    for (const path of ['/%', '/%E0%A4%A', '/project/%ff/paint']) {
      const answer = await fetch(address + path);
      expect(await answer.text()).toMatch(
        /^(That address can’t be read|There is nothing at this address)\.\n$/,
      );
      expect([400, 404]).toContain(answer.status);
    }
    expect((await fetch(`${address}/project/%ff/paint`)).status).toBe(400);
    const posted = await fetch(`${address}/`, { method: 'POST', body: 'x' });
    expect(posted.status).toBe(405);
    expect(posted.headers.get('allow')).toBe('GET, HEAD');
  });

  it('tells that it is well', async () => {
    expect(await (await fetch(`${address}/health`)).json()).toEqual({ status: 'ok' });
  });

  it('compresses, keeps hashed files for ever and asks for all others anew', async () => {
    const asset = await fetch(`${address}/assets/app-1a2b3c.js`, { headers: { 'accept-encoding': 'gzip' } });
    expect(asset.headers.get('content-encoding')).toBe('gzip');
    expect(asset.headers.get('cache-control')).toBe('public, max-age=31536000, immutable');
    expect((await fetch(`${address}/`)).headers.get('cache-control')).toBe('no-cache');
    expect((await fetch(`${address}/app.js`)).headers.get('cache-control')).toBe('no-cache');
  });
});

describe('the program that serves', () => {
  const start = (env: Record<string, string>) =>
    spawn(process.execPath, ['--import', 'tsx', 'server/main.ts'], { env: { ...process.env, ...env } });
  const words = async (child: ReturnType<typeof start>, stream: 'stdout' | 'stderr'): Promise<string> => {
    let text = '';
    for await (const part of child[stream]) {
      text += String(part);
      if (/Zanahoria|PORT/.test(text)) break;
    }
    return text;
  };
  const ended = (child: ReturnType<typeof start>): Promise<number | null> =>
    new Promise((resolve) => child.once('exit', (code) => resolve(code)));

  it('says when its port is no port or is taken, and ends', async () => {
    const odd = start({ PORT: 'abc' });
    const oddEnd = ended(odd);
    expect(await words(odd, 'stderr')).toMatch(/PORT is “abc”, which is no port/);
    expect(await oddEnd).toBe(1);
    const { port } = server.address() as AddressInfo;
    const taken = start({ PORT: String(port) });
    const takenEnd = ended(taken);
    expect(await words(taken, 'stderr')).toMatch(/is taken\. Choose another one/);
    expect(await takenEnd).toBe(1);
  }, 30_000);

  it('stops when it is asked to', async () => {
    const child = start({ PORT: '0' });
    const end = ended(child);
    expect(await words(child, 'stdout')).toMatch(/^Zanahoria is at http:\/\/localhost:\d+\//);
    child.kill('SIGTERM');
    expect(await end).toBe(0);
  }, 30_000);
});
