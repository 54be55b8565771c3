import { expect, test, type Page } from '@playwright/test';
import { PNG } from 'pngjs';
import { encodePng } from '../../core/formats';
import {
  chip,
  downloaded,
  drop,
  floorAtPaint,
  kept,
  LOCAL,
  ORANGE,
  ready,
  settled,
  stage,
  stroke,
} from './helpers';
import { paintedAgain } from './painted-again';

const BLUE = [40, 90, 160];
const GREEN = [60, 160, 80];

/** Left half blue, right half green. */
const twoHalves = (): number[] => {
  const side = 64;
  const rgba = new Uint8Array(side * side * 4);
  for (let i = 0; i < side * side; i++) rgba.set([...(i % side < side / 2 ? BLUE : GREEN), 255], i * 4);
  return [...encodePng({ width: side, height: side, rgba })];
};

const sum = (rgb: readonly number[]): number => rgb.reduce((s, c) => s + c, 0);

/** Clicks the reference on the easel, in parts of its width from the left. */
async function clickReference(page: Page, across: number): Promise<void> {
  const board = page.locator('.easel').getByTestId('reference');
  await expect(board).toHaveAttribute('data-ready', 'true');
  const box = (await board.locator('img').boundingBox())!;
  await page.mouse.click(box.x + box.width * across, box.y + box.height / 2);
}

test('lines and arcs are drawn, guards hold strokes, sides and references are copied; the film is cut, and all of it kept @slow', async ({
  page,
}) => {
  const { at, seen } = await floorAtPaint(page);
  await page.getByRole('radio', { name: 'Flat paint' }).click();

  await chip(page, 'Line').click();
  await stroke(page, [at(-0.85, -0.6), at(-0.15, -0.6)]);
  expect(await seen(-0.5, -0.6)).toEqual(ORANGE);
  await chip(page, 'Arc').click();
  await stroke(page, [at(-0.85, 0.1), at(-0.15, 0.1)]);
  await page.mouse.move(...at(-0.5, -0.15), { steps: 3 });
  await page.mouse.click(...at(-0.5, -0.15));
  await settled(page);
  expect(await seen(-0.5, -0.15)).toEqual(ORANGE);
  expect(await seen(-0.5, 0.1)).toEqual(LOCAL);
  // Escape: freely again.
  await page.keyboard.press('Escape');

  // Blue, on what is orange only.
  await drop(page, '.easel', 'halves.png', twoHalves(), 'image/png');
  await clickReference(page, 0.25);
  await chip(page, 'Alike').click();
  await stroke(page, [at(-0.5, -0.6), at(-0.5, -0.35)]);
  expect(await seen(-0.5, -0.6)).toEqual(BLUE);
  expect(await seen(-0.5, -0.38)).toEqual(LOCAL);
  await chip(page, 'Alike').click();

  // What the part's guard keeps out is hatched.
  await page.keyboard.press('Shift+E');
  await page.mouse.move(...at(-0.5, 0.5), { steps: 2 });
  await expect.poll(async () => sum(await seen(0.5, 0.5, true))).toBeLessThan(sum(LOCAL) - 100);
  expect(await seen(-0.8, 0.5, true)).toEqual(LOCAL);
  await page.keyboard.press('Shift+E');
  await page.mouse.move(...at(-0.5, 0.55), { steps: 2 });
  await expect.poll(() => seen(0.5, 0.5, true)).toEqual(LOCAL);

  // A fill on both sides, taken back.
  await page.keyboard.press('y');
  await page.keyboard.press('g');
  await page.mouse.click(...at(-0.5, 0.5));
  await settled(page);
  expect([await seen(-0.5, 0.7), await seen(0.5, 0.7)]).toEqual([BLUE, BLUE]);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('y');
  await page.keyboard.press('g');
  await settled(page);

  await page.getByRole('button', { name: 'How symmetry is set' }).click();
  await chip(page, '−X onto +X').click();
  await settled(page);
  expect([await seen(0.5, -0.6), await seen(0.7, -0.6)]).toEqual([BLUE, ORANGE]);
  await page.getByRole('button', { name: 'How symmetry is set' }).click();

  // From the reference: its right half, as large as it is seen.
  await page.keyboard.press('j');
  await chip(page, 'A reference').click();
  await clickReference(page, 0.75);
  await expect(chip(page, 'A reference')).toHaveAttribute('aria-pressed', 'true');
  await stroke(page, [at(0.5, 0.3), at(0.56, 0.3)]);
  expect(await seen(0.53, 0.3)).toEqual(GREEN);

  await chip(page, 'Through').click();
  await chip(page, 'halves').click();
  await chip(page, 'Lay all').click();
  await settled(page);
  await page.keyboard.press('Escape');
  expect([await seen(-0.3, 0.6), await seen(0.3, 0.6)]).toEqual([BLUE, GREEN]);

  // The film back to its first stroke, and what follows cut.
  await page.locator('.fold-title', { hasText: 'Strokes' }).click();
  const film = page.getByRole('group', { name: 'Film of the strokes' });
  const strokes = film.getByLabel(/so many of its 6 strokes, as a number/);
  await strokes.fill('2');
  await strokes.press('Enter');
  await expect.poll(() => seen(-0.3, 0.6)).toEqual(LOCAL);
  expect(await seen(-0.5, -0.6)).toEqual(ORANGE);
  await film.getByRole('button', { name: 'Cut what follows' }).click();
  await settled(page);
  await expect(page.getByRole('navigation').getByText('2 strokes')).toBeVisible();
  expect(await seen(0.3, 0.6)).toEqual(LOCAL);
  await kept(page);
  await page.reload();
  await ready(page);
  await expect(page.getByRole('navigation').getByText('2 strokes')).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('navigation').getByText('6 strokes')).toBeVisible();

  // In Node, from the first stroke on.
  await stage(page, 'Deliver');
  const { bytes } = await downloaded(page, () => page.getByRole('button', { name: /^Project file/ }).click());
  const { is, again, strokes: repainted } = await paintedAgain(bytes);
  expect(repainted).toBe(6);
  expect(again).toBe(is);
});

test('a picture becomes a tip: it is tried, painted with, kept with the brush and with the project @slow', async ({
  page,
}) => {
  const { at } = await floorAtPaint(page);
  await page.getByRole('radio', { name: 'Flat paint' }).click();
  await chip(page, 'Brush…').click();
  // A ring: dark on white.
  const side = 96;
  const rgba = new Uint8Array(side * side * 4).fill(255);
  for (let i = 0; i < side * side; i++) {
    const r = Math.hypot((i % side) - 47.5, Math.floor(i / side) - 47.5);
    if (r < 44 && r > 26) rgba.set([0, 0, 0, 255], i * 4);
  }
  const choosing = page.waitForEvent('filechooser');
  await page.getByRole('radio', { name: 'Picture…' }).click();
  await (
    await choosing
  ).setFiles({
    name: 'ring.png',
    mimeType: 'image/png',
    buffer: Buffer.from(encodePng({ width: side, height: side, rgba })),
  });
  await expect(page.getByRole('radio', { name: 'Picture…' })).toBeChecked();
  // Tried on the patch.
  const patch = (await page.locator('.scratch-patch').boundingBox())!;
  await page.mouse.click(patch.x + patch.width * 0.3, patch.y + patch.height / 2);
  await expect(page.locator('.scratch-patch img')).toHaveAttribute('src', /^blob:/);
  await page.keyboard.press('Escape');
  await page.mouse.click(...at(-0.5, 0));
  await settled(page);
  await kept(page);
  await page.reload();
  await ready(page);
  await page.mouse.click(...at(0.5, 0));
  await settled(page);
  await stage(page, 'Deliver');
  const file = await downloaded(page, () => page.getByRole('button', { name: /^Albedo/ }).click());
  const { data, width } = PNG.sync.read(file.bytes);
  // Each ring is orange around a middle that isn't.
  let rings = 0;
  const isOrange = (x: number, y: number): boolean => data[(y * width + x) * 4 + 2]! < 60;
  const orange: [number, number][] = [];
  for (let y = 0; y < width; y += 2)
    for (let x = 0; x < width; x += 2) if (isOrange(x, y)) orange.push([x, y]);
  for (const half of [0, 1]) {
    const own = orange.filter(([x]) => x >= (half * width) / 2 && x < ((half + 1) * width) / 2);
    const [mx, my] = [0, 1].map((k) => Math.round(own.reduce((s, p) => s + p[k]!, 0) / own.length)) as [
      number,
      number,
    ];
    expect(own.length).toBeGreaterThan(50);
    if (!isOrange(mx, my)) rings++;
  }
  expect(rings).toBe(2);
});

test('a copy is kept in a folder, and what takes room is told and freed @slow', async ({ page }) => {
  // The browser's own private folder stands in for one that is chosen.
  await page.addInitScript(() => {
    Object.assign(window, {
      showDirectoryPicker: async () =>
        (await navigator.storage.getDirectory()).getDirectoryHandle('copies', { create: true }),
    });
  });
  const { at } = await floorAtPaint(page);
  await stroke(page, [at(-0.5, 0), at(0.5, 0)]);
  await kept(page);
  await page.getByRole('button', { name: /^kept/ }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('button', { name: 'Choose a folder…' }).click();
  await expect(dialog.getByRole('status')).toContainText('A copy is kept in “copies”, last written');
  const copy = await page.evaluate(async () => {
    const folder = await (await navigator.storage.getDirectory()).getDirectoryHandle('copies');
    const file = await (await folder.getFileHandle('floor.zip')).getFile();
    return [...new Uint8Array(await file.slice(0, 2).arrayBuffer()), file.size];
  });
  expect(copy.slice(0, 2)).toEqual([0x50, 0x4b]);
  expect(copy[2]).toBeGreaterThan(1000);
  await expect(dialog.getByRole('rowheader', { name: 'floor', exact: true })).toBeVisible();
  // Open here, its steps can't be forgotten; from the start page they can.
  await expect(dialog.getByRole('button', { name: /undo steps of floor/ })).toBeDisabled();
  await dialog.getByRole('button', { name: 'Close' }).click();
  const url = page.url();
  await page.getByTitle('To the start page').click();
  await page.getByRole('button', { name: 'Room used…' }).click();
  await page.getByRole('button', { name: /undo steps of floor/ }).click();
  await expect(page.getByRole('button', { name: /undo steps of floor, 0 KB/ })).toBeDisabled();
  await page.goto(url);
  await ready(page);
  await expect(page.getByRole('navigation').getByText('1 stroke')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Undo' })).toBeDisabled();
});
