import { expect, test } from '@playwright/test';
import { PNG } from 'pngjs';
import {
  chip,
  downloaded,
  floorAtPaint,
  kept,
  LOCAL,
  ORANGE,
  picture,
  pixel,
  ready,
  settled,
  stage,
  stroke,
} from './helpers';
import { paintedAgain } from './painted-again';

test('words are set on the surface, dragged, turned by their corner, and delivered; they are there after a reload @slow', async ({
  page,
}) => {
  const { at, seen } = await floorAtPaint(page);
  await chip(page, 'Decal').click();
  await page.mouse.click(...at(0.4, 0.4));
  await expect(page.getByText(/Choose a picture, or write words, first/)).toBeVisible();
  await page.getByLabel('Words to set').fill('III');
  await page.mouse.click(...at(-0.4, 0));
  const layer = page.locator('.layer', { hasText: 'III' });
  await expect(layer).toBeVisible();
  await settled(page);
  /** How many of some places along a line across the letters are orange. */
  const hits = async (v: number, from: number, to: number): Promise<number> => {
    const { png, left, top } = await picture(page);
    let count = 0;
    for (let i = 0; i <= 60; i++) {
      const [x, y] = at(from + ((to - from) * i) / 60, v);
      if (pixel(png, x - left, y - top).join() === ORANGE.join()) count++;
    }
    return count;
  };
  expect(await hits(0, -0.9, 0.1)).toBeGreaterThan(3);
  expect(await hits(0, 0.2, 0.9)).toBe(0);

  // Dragged to the other part, over the seam.
  await page.mouse.move(...at(-0.4, 0));
  await page.mouse.down();
  await page.mouse.move(...at(0.4, 0), { steps: 6 });
  await page.mouse.up();
  await settled(page);
  expect(await hits(0, 0.1, 0.9)).toBeGreaterThan(3);
  expect(await hits(0, -0.9, -0.2)).toBe(0);
  // A quarter turn by the corner: the strokes of the letters lie across now.
  const box = (await page.locator('.decal-frame circle').boundingBox())!;
  const [mx, my] = at(0.4, 0);
  const [cx, cy] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(cx, cy);
  await page.mouse.down();
  await page.mouse.move(mx + (cy - my), my - (cx - mx), { steps: 10 });
  await page.mouse.up();
  await settled(page);
  await expect(page.getByLabel('How far it is turned, as a number')).toHaveValue(/^(89|90|91)°$/);
  const before = await seen(0.4, 0.02);
  await kept(page);
  await page.reload();
  await ready(page);
  await stage(page, 'Paint');
  await chip(page, 'Top').click();
  await ready(page);
  expect(await seen(0.4, 0.02)).toEqual(before);
});

test('strokes are chosen from a list or by touch, coloured anew and removed; all of it is kept and can be undone @slow', async ({
  page,
}) => {
  const { at, seen } = await floorAtPaint(page);
  await page.getByRole('radio', { name: 'Flat paint' }).click();
  await stroke(page, [at(-0.8, -0.4), at(-0.2, -0.4)]);
  await stroke(page, [at(-0.8, 0.2), at(-0.2, 0.2)]);
  await page.getByRole('button', { name: /^Strokes/ }).click();
  const rows = page.locator('.stroke-list button');
  await expect(rows).toHaveCount(2);
  await rows.last().hover();
  await expect(page.locator('.stroke-marks polyline')).toHaveCount(1);

  await chip(page, 'Choose by touch').click();
  await page.mouse.click(...at(-0.5, -0.4));
  await expect(rows.last()).toHaveAttribute('aria-pressed', 'true');
  await page.getByLabel('Hue', { exact: true }).fill('250');
  const changes = page.getByRole('group', { name: 'Chosen strokes' });
  await changes.getByRole('button', { name: 'Colour' }).click();
  await settled(page);
  // Beside the line that marks it.
  const changed = await seen(-0.5, -0.36);
  expect(changed).not.toEqual(ORANGE);
  expect(await seen(-0.5, 0.2)).toEqual(ORANGE);
  await rows.first().click();
  await changes.getByRole('button', { name: 'Remove' }).click();
  await settled(page);
  expect(await seen(-0.5, 0.2)).toEqual(LOCAL);
  await kept(page);
  await page.reload();
  await ready(page);
  await stage(page, 'Paint');
  await chip(page, 'Top').click();
  await ready(page);
  expect(await seen(-0.5, -0.36)).toEqual(changed);
  await page.keyboard.press('Control+z');
  await settled(page);
  expect(await seen(-0.5, 0.2)).toEqual(ORANGE);
  await page.keyboard.press('Control+z');
  await settled(page);
  expect(await seen(-0.5, -0.4)).toEqual(ORANGE);
});

const sum = (rgb: readonly number[]): number => rgb.reduce((s, c) => s + c, 0);

test('every tool does its work with the pointer; what they made is there after a reload @slow', async ({
  page,
}) => {
  const { at, seen } = await floorAtPaint(page);
  await page.getByRole('radio', { name: 'Flat paint' }).click();

  // Mirrored; while it is drawn it looks as it will be.
  await page.keyboard.press('y');
  await page.mouse.move(...at(-0.7, -0.3));
  await page.mouse.down();
  await page.mouse.move(...at(-0.4, -0.3), { steps: 8 });
  await page.mouse.move(...at(-0.3, -0.1), { steps: 8 });
  await settled(page);
  const [here, there] = [await seen(-0.55, -0.3, true), await seen(0.55, -0.3, true)];
  expect([here, there]).toEqual([ORANGE, ORANGE]);
  await page.mouse.up();
  expect(await seen(0.55, -0.3)).toEqual(ORANGE);
  expect(await seen(0, 0.2)).toEqual(LOCAL);
  await page.keyboard.press('y');

  // The part that is pressed.
  await page.keyboard.press('g');
  await page.mouse.click(...at(-0.5, 0.3));
  await settled(page);
  expect(await seen(-0.9, 0.3)).toEqual(ORANGE);
  expect(await seen(0.2, 0.3)).toEqual(LOCAL);

  // Softened over the border between the parts, which is a seam.
  await page.keyboard.press('t');
  await chip(page, 'Part').click();
  await stroke(page, [at(0, 0.1), at(0, 0.5), at(0, 0.1)]);
  const soft = sum(await seen(0, 0.3));
  expect(soft).toBeGreaterThan(sum(ORANGE) + 10);
  expect(soft).toBeLessThan(sum(LOCAL) - 10);

  await page.keyboard.press('w');
  await stroke(page, [at(-0.3, 0.45), at(0.5, 0.45)]);
  expect(sum(await seen(0.1, 0.45))).toBeLessThan(sum(LOCAL) - 30);

  await page.keyboard.press('q');
  await stroke(page, [at(-0.8, 0.3), at(-0.5, 0.3)]);
  expect(sum(await seen(-0.65, 0.3))).toBeLessThan(sum(ORANGE) - 30);

  // From the other side: the fill of the left part.
  await page.keyboard.press('j');
  await stroke(page, [at(0.6, 0.05), at(0.8, 0.05)]);
  await expect(page.getByText(/Set where to copy from/)).toBeVisible();
  await chip(page, 'Other side').click();
  await stroke(page, [at(0.6, 0.05), at(0.8, 0.05)]);
  expect(await seen(0.7, 0.05)).toEqual(ORANGE);

  await page.keyboard.press('i');
  await stroke(page, [at(0.5, 0.3), at(0.9, 0.3), at(0.9, 0.42), at(0.5, 0.42)]);
  expect(await seen(0.7, 0.36)).toEqual(ORANGE);
  expect(await seen(0.7, 0.26)).toEqual(LOCAL);

  // Held for a moment, the brush erases; let go, it paints again.
  await page.getByRole('radio', { name: 'Flat paint' }).click();
  await page.keyboard.down('z');
  await stroke(page, [at(0.6, 0.36), at(0.8, 0.36)]);
  await page.keyboard.up('z');
  expect(await seen(0.7, 0.36)).toEqual(LOCAL);
  await stroke(page, [at(0.6, 0.2), at(0.8, 0.2)]);
  expect(await seen(0.7, 0.2)).toEqual(ORANGE);

  const albedo = async (): Promise<Buffer> => {
    await stage(page, 'Deliver');
    const file = await downloaded(page, () => page.getByRole('button', { name: /^Albedo/ }).click());
    return PNG.sync.read(file.bytes).data;
  };
  const before = await albedo();
  await kept(page);
  await page.reload();
  await ready(page);
  expect((await albedo()).equals(before)).toBe(true);

  // In Node, from the first stroke on.
  const { bytes } = await downloaded(page, () => page.getByRole('button', { name: /^Project file/ }).click());
  const { is, again, strokes: repainted } = await paintedAgain(bytes);
  expect(repainted).toBe(9);
  expect(again).toBe(is);
});
