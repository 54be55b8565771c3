import { spawnSync } from 'node:child_process';
import { closeSync, mkdtempSync, openSync, rmSync, writeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, expect, test } from '@playwright/test';
import { strFromU8, unzipSync } from 'fflate';
import { downloaded, floorToPaint, kept, layerId, ready, stage, startEmpty } from '../browser/helpers';

const MOUNT_MB = 400;

/** Writes until nothing more goes in. */
function fill(file: string): void {
  const handle = openSync(file, 'w');
  try {
    for (let chunk = 1 << 20; chunk >= 512; chunk >>= 1) {
      const zeros = Buffer.alloc(chunk);
      try {
        for (;;) writeSync(handle, zeros);
      } catch {
        // The rest is filled in smaller pieces.
      }
    }
  } finally {
    closeSync(handle);
  }
}

test('on a disk that is really full nothing is lost, the project file can be had, and writing goes on when there is room', async ({
  launchOptions,
  baseURL,
}) => {
  const disk = mkdtempSync(join(tmpdir(), 'zanahoria-disk-'));
  const mounted = spawnSync('mount', ['-t', 'tmpfs', '-o', `size=${MOUNT_MB}m`, 'tmpfs', disk]);
  test.skip(mounted.status !== 0, 'only where a small disk can be mounted');
  const filler = join(disk, 'filler');
  try {
    const context = await chromium.launchPersistentContext(join(disk, 'profile'), {
      ...launchOptions,
      ...(baseURL ? { baseURL } : {}),
      viewport: { width: 1280, height: 800 },
      acceptDownloads: true,
    });
    const page = context.pages()[0] ?? (await context.newPage());
    await startEmpty(page);
    const draw = await floorToPaint(page);
    await draw([0.2, 0.05], [0.4, 0.05]);
    await kept(page);
    fill(filler);
    for (let i = 1; i < 10; i++) await draw([0.2, 0.05 + i / 11], [0.4, 0.05 + i / 11]);
    await expect(page.locator('.not-kept')).toHaveText(/disk is full|can’t be written/, { timeout: 60_000 });
    await expect(page.getByRole('navigation').getByText('10 strokes')).toBeVisible();

    await stage(page, 'Deliver');
    const file = await downloaded(page, () => page.getByRole('button', { name: /^Project file/ }).click());
    const zip = unzipSync(file.bytes);
    const strokes = JSON.parse(strFromU8(zip[`strokes/${layerId(zip, 'Colours')}.json`]!)) as unknown[];
    expect(strokes).toHaveLength(10);

    rmSync(filler);
    await kept(page, 60_000);
    await page.reload();
    await ready(page);
    await expect(page.getByRole('navigation').getByText('10 strokes')).toBeVisible();
    await context.close();
  } finally {
    spawnSync('umount', ['-l', disk]);
    rmSync(disk, { recursive: true, force: true });
  }
});
