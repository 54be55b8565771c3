import { expect, test } from '@playwright/test';
import { floorToPaint, kept, ready, startEmpty } from '../browser/helpers';

const strokes = (n: number): string => `${n} stroke${n === 1 ? '' : 's'}`;

test('storage that the browser clears away under an open project is written anew, all of it', async ({
  page,
}) => {
  await startEmpty(page);
  const draw = await floorToPaint(page);
  await draw([0.2, 0.2], [0.5, 0.2]);
  await draw([0.2, 0.3], [0.5, 0.3]);
  await kept(page);
  // What a browser does to an origin that may not stay when room is short (Storage Standard, section 7: eviction).
  const session = await page.context().newCDPSession(page);
  const { origin } = new URL(page.url());
  await session.send('Storage.clearDataForOrigin', { origin, storageTypes: 'indexeddb,cache_storage' });
  await draw([0.2, 0.4], [0.5, 0.4]);
  await kept(page, 60_000);
  await page.reload();
  await ready(page);
  await expect(page.getByRole('navigation').getByText(strokes(3))).toBeVisible();
});

test('a tab that is frozen goes on where it was, and loses nothing', async ({ page }) => {
  await startEmpty(page);
  const draw = await floorToPaint(page);
  const session = await page.context().newCDPSession(page);
  for (let n = 1; n <= 3; n++) {
    await draw([0.2, 0.1 + n / 6], [0.5, 0.1 + n / 6]);
    // At once, while the stroke may still be on its way to the disk (Page Lifecycle, frozen).
    await session.send('Page.setWebLifecycleState', { state: 'frozen' });
    await new Promise((resolve) => setTimeout(resolve, 3000));
    await session.send('Page.setWebLifecycleState', { state: 'active' });
    await expect(page.getByRole('navigation').getByText(strokes(n))).toBeVisible();
  }
  await kept(page, 30_000);
  await page.reload();
  await ready(page);
  await expect(page.getByRole('navigation').getByText(strokes(3))).toBeVisible();
});

test('a clock that is set back and forth by years changes nothing of what is kept', async ({ page }) => {
  await startEmpty(page);
  const draw = await floorToPaint(page);
  for (const [n, year] of [2031, 2001, 2026].entries()) {
    // Workers keep the machine's clock, so page and workers disagree as well.
    await page.clock.setSystemTime(new Date(`${year}-03-01T12:00:00Z`));
    await draw([0.2, 0.2 + n / 6], [0.5, 0.2 + n / 6]);
    await expect(page.locator('.not-kept')).toHaveCount(0);
  }
  await page.keyboard.press('Control+Z');
  await ready(page);
  await expect(page.getByRole('navigation').getByText(strokes(2))).toBeVisible();
  await page.waitForTimeout(2000);
  const address = page.url();
  await page.goto('/');
  await expect(
    page
      .getByRole('link', { name: /floor/ })
      .or(page.getByText('floor', { exact: true }))
      .first(),
  ).toBeVisible();
  await page.goto(address);
  await ready(page);
  await expect(page.getByRole('navigation').getByText(strokes(2))).toBeVisible();
  await page.keyboard.press('Control+Shift+Z');
  await expect(page.getByRole('navigation').getByText(strokes(3))).toBeVisible();
});
