import { expect, test, type Page } from '@playwright/test';
import { strFromU8, unzipSync } from 'fflate';
import { chip, downloaded, floorToPaint, kept, layerId, ready, stage, startEmpty } from './helpers';

const paintWorker = (page: Page) => page.workers().find((w) => w.url().includes('paint.worker'))!;

/** From now on the script of the paint worker can't be had. */
const withholdWorker = (page: Page): Promise<void> =>
  page.evaluate(() => {
    const Real = Worker;
    globalThis.Worker = class extends Real {
      constructor(url: string | URL, options?: WorkerOptions) {
        super(String(url).includes('paint.worker') ? '/assets/not-there.js' : url, options);
      }
    };
  });

test('a painting worker that hangs is replaced, and what was painted meanwhile is there @slow', async ({
  page,
}) => {
  await startEmpty(page);
  const draw = await floorToPaint(page);
  await draw([0.2, 0.3], [0.4, 0.4]);
  await kept(page);
  void paintWorker(page)
    .evaluate(() => {
      setTimeout(() => {
        for (;;);
      });
    })
    .catch(() => undefined);
  await draw([0.2, 0.6], [0.4, 0.7]);
  await draw([0.6, 0.6], [0.8, 0.7]);
  await expect(page.getByText('was started again')).toBeVisible({ timeout: 60_000 });
  await ready(page);
  await kept(page);
  await expect(page.getByRole('navigation').getByText('3 strokes')).toBeVisible();
  const painted = async (): Promise<Buffer> => {
    await stage(page, 'Deliver');
    const zip = unzipSync(
      (await downloaded(page, () => page.getByRole('button', { name: /^Project file/ }).click())).bytes,
    );
    return Buffer.from(zip[`layers/${layerId(zip, 'Colours')}.png`]!);
  };
  const before = await painted();
  await page.reload();
  await ready(page);
  await expect(page.getByRole('navigation').getByText('3 strokes')).toBeVisible();
  expect(Buffer.compare(await painted(), before)).toBe(0);
});

test('a worker that can’t be loaded isn’t tried for ever: it is told, and the project file can be had @slow', async ({
  page,
}) => {
  await startEmpty(page);
  const draw = await floorToPaint(page);
  await draw([0.2, 0.3], [0.4, 0.4]);
  await kept(page);
  await withholdWorker(page);
  await paintWorker(page).evaluate(() => {
    setTimeout(() => {
      throw new Error('killed by the test');
    });
  });
  // No worker has seen this one.
  await draw([0.6, 0.6], [0.8, 0.7]);
  await expect(page.getByRole('alert')).toHaveText(/stopped several times in a row/, { timeout: 30_000 });
  const file = await downloaded(page, () => chip(page, 'Save the project file').click());
  const zip = unzipSync(file.bytes);
  const strokes = JSON.parse(strFromU8(zip[`strokes/${layerId(zip, 'Colours')}.json`]!)) as unknown[];
  expect(strokes).toHaveLength(2);
  // Storage took it in as well.
  await page.reload();
  await ready(page);
  await expect(page.getByRole('navigation').getByText('2 strokes')).toBeVisible();
});
