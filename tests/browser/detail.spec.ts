import { expect, test, type Page } from '@playwright/test';
import { PNG } from 'pngjs';
import { ball } from '../shapes';
import { objOf } from '../obj';
import {
  beginProject,
  chip,
  downloaded,
  LOCAL,
  modelBox,
  picture,
  pixel,
  settled,
  stage,
  startEmpty,
  type,
} from './helpers';

const OUTLINE = [35, 27, 34];
const like = (a: readonly number[], b: readonly number[]): boolean =>
  a.every((c, k) => Math.abs(c - b[k]!) <= 2);

/** Adds a mask of the detail sheet and fills it with the colour in hand. */
async function filledMask(page: Page, name: string): Promise<void> {
  await chip(page, 'Add').click();
  await page
    .locator('.add-menu')
    .getByRole('button', { name: new RegExp(`^${name}`) })
    .click();
  await expect(page.locator('.layer.on')).toContainText(`${name}, painted`);
  await page.keyboard.press('Shift+G');
  await settled(page);
}

test('the detail sheet is painted like a layer, tells the toon view where it darkens and how wide the outline is, and is delivered @slow', async ({
  page,
}) => {
  await startEmpty(page);
  await beginProject(page, 'ball.obj', objOf(ball(64, 32)));
  await stage(page, 'Paint');
  await chip(page, 'Model').click();
  await chip(page, 'Front').click();
  await settled(page);
  const box = modelBox((await picture(page)).png);
  const [x, y, r] = [(box.left + box.right) / 2, (box.top + box.bottom) / 2, (box.right - box.left) / 2];
  /** Pixels of outline along four ways out, and whether the lit side is lit. */
  const toon = async (): Promise<{ outline: number; isLit: boolean }> => {
    const { png } = await picture(page);
    let outline = 0;
    for (const [c, s] of [
      [1, 0],
      [-1, 0],
      [0, 1],
      [0, -1],
    ] as const)
      for (let d = r - 6; d < r + 14; d++) if (like(pixel(png, x + c * d, y + s * d), OUTLINE)) outline++;
    return { outline, isLit: like(pixel(png, x + r * 0.4, y - r * 0.5), LOCAL) };
  };
  await page.keyboard.press('Shift+T');
  const plain = await toon();
  expect(plain.outline).toBeGreaterThan(4);
  expect(plain.isLit).toBe(true);
  // Black in hand: no outline, and dark everywhere.
  await type(page, 'Lightness', '0');
  await filledMask(page, 'Line weight');
  await expect(chip(page, 'Line weight')).toHaveAttribute('aria-pressed', 'true');
  const mask = pixel((await picture(page)).png, x, y);
  expect(mask[0]! < 5 && mask[0] === mask[1] && mask[1] === mask[2]).toBe(true);
  await page.keyboard.press('Shift+T');
  expect(await toon()).toEqual({ outline: 0, isLit: true });
  await filledMask(page, 'Darkens first');
  await page.keyboard.press('Shift+T');
  expect(await toon()).toEqual({ outline: 0, isLit: false });
  // Taken back, both are as before.
  for (let i = 0; i < 6; i++) await page.keyboard.press('Control+z');
  await settled(page);
  expect(await toon()).toEqual(plain);
  for (let i = 0; i < 6; i++) await page.keyboard.press('Control+Shift+z');
  await settled(page);
  await stage(page, 'Deliver');
  await page.getByLabel(/^Red/).selectOption('line');
  await page.getByLabel(/^Blue/).selectOption('dark');
  const png = PNG.sync.read(
    (await downloaded(page, () => page.getByRole('button', { name: /^Detail sheet/ }).click())).bytes,
  );
  const middle = ((png.height / 2) * png.width + png.width / 2) * 4;
  // Red and blue are the painted masks, green is still the line's: all black.
  expect([...png.data.subarray(middle, middle + 4)]).toEqual([0, 0, 0, 255]);
  await page.getByLabel(/^Red/).selectOption('shine');
  const report = JSON.parse(
    (await downloaded(page, () => page.getByRole('button', { name: /^Report/ }).click())).bytes.toString(),
  ) as { detail: { channels: object } };
  expect(report.detail.channels).toEqual({ r: 'shine', g: 'line', b: 'dark', a: 'none' });
});
