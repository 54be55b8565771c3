import { appendFileSync, cpSync, mkdtempSync } from 'node:fs';
import type { Server } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { createApp } from '../../server/app';
import { chip, ready, settled, stage } from './helpers';

test.use({ serviceWorkers: 'allow' });

/** A server of its own, that can be taken away. */
function serve(folder: string, port = 0): Promise<{ server: Server; port: number }> {
  return new Promise((resolve) => {
    const server = createApp(folder).listen(port, '127.0.0.1', () => {
      const address = server.address();
      resolve({ server, port: typeof address === 'object' && address ? address.port : 0 });
    });
  });
}

const gone = (server: Server): Promise<void> =>
  new Promise((resolve) => {
    server.close(() => resolve());
    server.closeAllConnections();
  });

test('starts and works with the server gone; a new version is offered, not forced', async ({ page }) => {
  const folder = mkdtempSync(join(tmpdir(), 'zanahoria-offline-'));
  cpSync('dist', folder, { recursive: true });
  const first = await serve(folder);
  const address = `http://localhost:${first.port}/`;
  await page.goto(address);
  await page.waitForURL(/paint$/);
  await ready(page);
  await page.evaluate(() => navigator.serviceWorker.ready.then(() => undefined));
  await gone(first.server);

  // The server is gone: the project opens, isolated as before, and what needs workers and WebAssembly works.
  const refused: string[] = [];
  page.on('requestfailed', (request) => refused.push(request.url()));
  await page.reload();
  await ready(page);
  expect(await page.evaluate(() => crossOriginIsolated)).toBe(true);
  await stage(page, 'Deliver');
  await chip(page, 'Check what would leave').click();
  await expect(page.locator('.checked')).toBeVisible();
  await settled(page);
  await page.goto(address);
  await expect(page.getByText('New from a model')).toBeVisible();
  expect(refused).toEqual([]);
  // The manifest that makes it installable (Lighthouse's rules, from memory: name, icons, start, display; a worker that answers offline).
  const manifest = await page.evaluate(async () => {
    const link = document.querySelector<HTMLLinkElement>('link[rel=manifest]')!;
    return (await (await fetch(link.href)).json()) as Record<string, unknown>;
  });
  expect(manifest).toMatchObject({ name: 'Zanahoria', start_url: '/', display: 'standalone' });
  expect(manifest['icons']).toHaveLength(1);

  // A new version is on the server: it is told, the page stays as it is, and it is taken when that is wanted.
  appendFileSync(join(folder, 'sw.js'), '\n// another version\n');
  const second = await serve(folder, first.port);
  await page.reload();
  const offer = page
    .locator('[data-sonner-toast]')
    .filter({ hasText: 'A new version of Zanahoria is ready' });
  await expect(offer).toBeVisible({ timeout: 60_000 });
  const reloaded = page.waitForEvent('load');
  await offer.getByRole('button', { name: 'Start it now' }).click();
  await reloaded;
  await expect(page.getByText('New from a model')).toBeVisible();
  await expect
    .poll(() => page.evaluate(async () => (await navigator.serviceWorker.getRegistration())?.waiting ?? null))
    .toBeNull();
  await gone(second.server);
});
