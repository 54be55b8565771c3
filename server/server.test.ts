import { mkdtempSync, writeFileSync } from 'node:fs';
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
    expect(await (await fetch(`${address}/app.js`)).text()).toBe('1');
  });
});
