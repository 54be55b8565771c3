import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, expect, test } from '@playwright/test';
import { floorToPaint, paintOnFloor, ready, startEmpty } from '../browser/helpers';

/** ./script/kills does a hundred. */
const KILLS = Number(process.env['KILLS'] ?? 10);
const AGE_MS = 500;

test(`a stroke that is ${AGE_MS} ms old survives the death of the browser, in the middle of the next one`, async ({
  launchOptions,
  baseURL,
}) => {
  test.setTimeout(120_000 + KILLS * 20_000);
  const profile = mkdtempSync(join(tmpdir(), 'zanahoria-kill-'));
  const open = () =>
    chromium.launchPersistentContext(profile, {
      ...launchOptions,
      ...(baseURL ? { baseURL } : {}),
      viewport: { width: 1280, height: 800 },
    });
  try {
    let context = await open();
    let page = context.pages()[0]!;
    await startEmpty(page);
    await floorToPaint(page);
    const url = page.url();
    for (let kill = 1; kill <= KILLS; kill++) {
      const draw = await paintOnFloor(page);
      const y = 0.1 + (0.8 * kill) / KILLS;
      await draw([0.2, y], [0.4, y]);
      // The stroke's own wait is part of its age.
      await page.waitForTimeout(AGE_MS - 250);
      // The next one is under way: it may be lost, and nothing else.
      const box = (await page.getByTestId('viewport').boundingBox())!;
      await page.mouse.move(box.x + box.width * 0.3, box.y + box.height * 0.5);
      await page.mouse.down();
      await page.mouse.move(box.x + box.width * 0.32, box.y + box.height * 0.55, { steps: 3 });
      const ended = new Promise((resolve) => context.once('close', resolve));
      spawnSync('pkill', ['-9', '-f', profile]);
      await ended;
      context = await open();
      page = context.pages()[0]!;
      await page.goto(url);
      await ready(page);
      await expect(page.getByRole('navigation').getByText(new RegExp(`^${kill} strokes?$`))).toBeVisible();
      if (kill % 10 === 0) process.stdout.write(`${kill} kills, ${kill} strokes kept\n`);
    }
    await context.close();
  } finally {
    rmSync(profile, { recursive: true, force: true });
  }
});
