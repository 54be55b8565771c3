import { unzipSync } from 'fflate';
import { expect, test, type Page } from '@playwright/test';
import {
  beginProject,
  chip,
  downloaded,
  kept,
  modelBox,
  picture,
  pixel,
  ready,
  SEAMED_OBJ,
  stage,
  startEmpty,
  stroke,
  type,
} from './helpers';

const row = (page: Page, name: string) =>
  page.locator('.layer-body', { has: page.locator('b', { hasText: new RegExp(`^${name}$`) }) });
const names = (page: Page) => page.locator('.layers .layer-text b').allTextContents();
const choose = (page: Page, name: string) => row(page, name).click({ position: { x: 60, y: 15 } });

/** The floor from above, filling the pane: where its left half lies on the screen. */
async function floorFromAbove(page: Page) {
  await startEmpty(page);
  await beginProject(page, 'floor.obj', SEAMED_OBJ, 256);
  await stage(page, 'Paint');
  await chip(page, 'Model').click();
  await chip(page, 'Top').click();
  await chip(page, 'Frame').click();
  // A little farther away, so that ground is to be seen all around.
  await page.mouse.move(640, 380);
  await page.mouse.wheel(0, 120);
  const { png, left, top } = await picture(page);
  const box = modelBox(png);
  return (u: number, v: number): [number, number] => [
    left + box.left + (box.right - box.left) * u,
    top + box.top + (box.bottom - box.top) * v,
  ];
}

/** The colour in the picture at a place of the screen. */
async function colorAt(page: Page, [x, y]: [number, number]): Promise<[number, number, number]> {
  const { png, left, top } = await picture(page);
  return pixel(png, x - left, y - top);
}

const LOCAL: [number, number, number] = [0xb6, 0xac, 0xa2];
const HAND: [number, number, number] = [0xcf, 0x5a, 0x2e];

test('groups: by key, by dragging in and out, folded, isolated, and back by history @slow', async ({
  page,
}) => {
  await floorFromAbove(page);
  await choose(page, 'Colours');
  await row(page, 'Lines').click({ position: { x: 60, y: 15 }, modifiers: ['Control'] });
  await page.keyboard.press('Control+g');
  await expect
    .poll(() => names(page))
    .toEqual(['Effects', 'Group', 'Lines', 'Colours', 'Form', 'Local colour']);
  await expect(row(page, 'Group')).toContainText('2 inside');
  await page.getByRole('button', { name: 'Fold Group' }).click();
  expect(await names(page)).toEqual(['Effects', 'Group', 'Form', 'Local colour']);
  await page.getByRole('button', { name: 'Open Group' }).click();

  // Effects is dragged into the group, between its two layers.
  const from = (await row(page, 'Effects').boundingBox())!;
  const to = (await row(page, 'Lines').boundingBox())!;
  await page.mouse.move(from.x + 60, from.y + 15);
  await page.mouse.down();
  await page.mouse.move(from.x + 64, from.y + 30, { steps: 4 });
  await page.mouse.move(to.x + 74, to.y + 18, { steps: 8 });
  await page.mouse.up();
  await expect(row(page, 'Group')).toContainText('3 inside');
  await expect
    .poll(() => names(page))
    .toEqual(['Group', 'Lines', 'Effects', 'Colours', 'Form', 'Local colour']);

  await choose(page, 'Group');
  await page.keyboard.press('Control+d');
  await expect(row(page, 'Group copy')).toBeVisible();
  await page.getByRole('button', { name: 'History' }).click();
  await page.getByRole('button', { name: 'as it was opened first' }).click();
  await expect.poll(() => names(page)).toEqual(['Effects', 'Lines', 'Colours', 'Form', 'Local colour']);
  // The list stays open to go back and forth.
  await page.getByRole('button', { name: 'Duplicate Group' }).click();
  await expect(row(page, 'Group copy')).toBeVisible();
  await kept(page);
  await page.reload();
  await ready(page);
  await expect(row(page, 'Group copy')).toContainText('3 inside');
});

test('masks: painted by hand to hide and to reveal, seen alone, by steps, and in the project file @slow', async ({
  page,
}) => {
  const at = await floorFromAbove(page);
  const middle = at(0.3, 0.5);
  await choose(page, 'Colours');
  await page.keyboard.press('Shift+G');
  await ready(page);
  expect(await colorAt(page, middle)).toEqual(HAND);
  await page.getByRole('radio', { name: 'Flat paint' }).click();
  await type(page, 'Size', '60');
  await page.keyboard.press('Shift+M');
  await expect(row(page, 'Colours')).toContainText('painting on its mask');
  await stroke(page, [at(0.15, 0.5), at(0.45, 0.5)]);
  await ready(page);
  expect(await colorAt(page, middle)).toEqual(LOCAL);
  await page.keyboard.press('m');
  expect(await colorAt(page, middle)).toEqual([0, 0, 0]);
  expect(await colorAt(page, at(0.3, 0.15))).toEqual([255, 255, 255]);
  await page.keyboard.press('m');
  await page.keyboard.press('r');
  await stroke(page, [at(0.2, 0.5), at(0.4, 0.5)]);
  await ready(page);
  expect(await colorAt(page, middle)).toEqual(HAND);
  await page.keyboard.press('Control+z');
  await ready(page);
  expect(await colorAt(page, middle)).toEqual(LOCAL);

  // A step of a cue comes before what is painted.
  await chip(page, 'Add a step').click();
  await page.getByRole('button', { name: 'Height', exact: true }).click();
  await expect(page.locator('.mask-step')).toHaveCount(2);
  await expect(page.locator('.mask-step').nth(1)).toContainText('then painted by hand');
  await page.keyboard.press('Shift+M');
  await ready(page);
  await stage(page, 'Deliver');
  const file = await downloaded(page, () => page.getByRole('button', { name: /^Project file/ }).click());
  const files = Object.keys(unzipSync(new Uint8Array(file.bytes)));
  expect(files.filter((name) => /-mask/.test(name))).toHaveLength(2);
});

test('clip, lock, change of colour, merge down, clear, flatten @slow', async ({ page }) => {
  const at = await floorFromAbove(page);
  await page.getByRole('radio', { name: 'Flat paint' }).click();
  await type(page, 'Size', '60');
  await choose(page, 'Colours');
  await stroke(page, [at(0.1, 0.5), at(0.45, 0.5)]);
  // Lines, filled and clipped, only shows on what Colours has.
  await choose(page, 'Lines');
  await page.getByLabel('Colour in hand, as #rrggbb').fill('#2040c0');
  await page.getByLabel('Colour in hand, as #rrggbb').press('Enter');
  await page.keyboard.press('Shift+G');
  await page.keyboard.press('k');
  await ready(page);
  await expect(chip(page, 'Clip')).toHaveAttribute('aria-pressed', 'true');
  expect(await colorAt(page, at(0.3, 0.5))).toEqual([0x20, 0x40, 0xc0]);
  expect(await colorAt(page, at(0.3, 0.15))).toEqual(LOCAL);
  await page.keyboard.press('Alt+Shift+ArrowDown');
  await expect.poll(() => names(page)).toEqual(['Effects', 'Colours', 'Form', 'Local colour']);
  expect(await colorAt(page, at(0.3, 0.5))).toEqual([0x20, 0x40, 0xc0]);

  await page.getByLabel('Lock', { exact: true }).selectOption({ label: 'pixels locked' });
  await stroke(page, [at(0.1, 0.2), at(0.45, 0.2)]);
  await expect(page.getByText('The pixels of “Colours” are locked.')).toBeVisible();
  await page.getByLabel('Lock', { exact: true }).selectOption({ label: 'nothing locked' });

  await choose(page, 'Effects');
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  await page.getByRole('button', { name: /^Hue and chroma/ }).click();
  const chroma = page.locator('.inspector').getByLabel('Chroma, as a number');
  await chroma.fill('0');
  await chroma.press('Enter');
  await ready(page);
  const [r, g, b] = await colorAt(page, at(0.3, 0.5));
  expect(Math.max(r, g, b) - Math.min(r, g, b)).toBeLessThanOrEqual(1);
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  await page.getByRole('button', { name: /^Curve/ }).click();
  // The middle of the curve is pulled up by key: everything grows lighter.
  await page.getByRole('slider', { name: 'Point 2' }).focus();
  for (let i = 0; i < 20; i++) await page.keyboard.press('ArrowUp');
  await ready(page);
  expect((await colorAt(page, at(0.3, 0.5)))[0]).toBeGreaterThan(r + 20);

  await page.getByRole('button', { name: 'Layer', exact: true }).click();
  const before = await colorAt(page, at(0.3, 0.5));
  await page.getByRole('button', { name: 'Flatten', exact: true }).click();
  await expect.poll(() => names(page)).toEqual(['Flattened']);
  await ready(page);
  expect(await colorAt(page, at(0.3, 0.5))).toEqual(before);
  await page.locator('[data-sonner-toast]').getByRole('button', { name: 'Undo' }).click();
  await expect.poll(() => names(page)).toHaveLength(6);
  expect(await colorAt(page, at(0.3, 0.5))).toEqual(before);
});
