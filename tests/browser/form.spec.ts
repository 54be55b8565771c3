import { expect, test, type Page } from '@playwright/test';
import { PNG } from 'pngjs';
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
  settled,
  stage,
  startEmpty,
} from './helpers';

test.beforeEach(({ page }) => startEmpty(page));

/** The floor from above, filling the middle: told as a place of the window for parts of its width and depth. */
async function fromAbove(page: Page): Promise<(u: number, v: number) => readonly [number, number]> {
  await chip(page, 'Model').click();
  await chip(page, 'Top').click();
  const { png, left, top } = await picture(page);
  const box = modelBox(png);
  return (u, v) => [left + box.left + (box.right - box.left) * u, top + box.top + (box.bottom - box.top) * v];
}

async function command(page: Page, words: string): Promise<void> {
  await page.keyboard.press('Control+k');
  await page.keyboard.type(words);
  await page.keyboard.press('Enter');
}

async function drag(page: Page, points: readonly (readonly [number, number])[]): Promise<void> {
  await page.mouse.move(...(points[0] as [number, number]));
  await page.mouse.down();
  for (const [x, y] of points.slice(1)) await page.mouse.move(x, y, { steps: 2 });
  await page.mouse.up();
}

const albedo = async (page: Page): Promise<PNG> => {
  await stage(page, 'Deliver');
  const file = await downloaded(page, () => page.getByRole('button', { name: /^Albedo/ }).click());
  return PNG.sync.read(file.bytes);
};

/** Where a place of the floor lies on its sheet: two squares, apart. */
function onSheet(png: PNG, x: number, z: number): [number, number, number] {
  const u = x < 0 ? 0.05 + 0.4 * (x + 1) : 0.55 + 0.4 * x;
  const v = 0.05 + (0.8 * (1 - z)) / 2;
  return pixel(png, Math.floor(u * png.width), Math.floor((1 - v) * png.height));
}

test('a lasso through the middle of two faces is coloured, crisp to the texel across a seam, and holds through a reload @slow', async ({
  page,
}) => {
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await stage(page, 'Block in');
  const at = await fromAbove(page);
  await page.keyboard.press('3');
  await expect(chip(page, 'Lasso')).toHaveAttribute('aria-pressed', 'true');
  const circle = Array.from({ length: 41 }, (_, i) => {
    const a = (i / 40) * 2 * Math.PI;
    return at(0.5 + 0.25 * Math.cos(a), 0.5 + 0.25 * Math.sin(a));
  });
  await drag(page, circle);
  await expect(page.getByText(/with a cut border/)).toBeVisible();
  await page.keyboard.press('g');
  await settled(page);
  await kept(page);
  await page.reload();
  await ready(page);
  const png = await albedo(page);
  const inside = onSheet(png, 0.1, 0.1);
  const outside = onSheet(png, 0.8, 0.8);
  expect(inside).not.toEqual(outside);
  // Both sides of the seam, up to a texel or two within the line; the circle has half the floor's width.
  for (const [x, z] of [
    [-0.1, -0.2],
    [-0.44, 0],
    [0.44, 0],
    [0, 0.44],
    [0.02, -0.44],
  ] as const) {
    expect(onSheet(png, x, z)).toEqual(inside);
  }
  for (const [x, z] of [
    [-0.56, 0],
    [0.56, 0],
    [0.02, 0.56],
    [0.4, 0.4],
  ] as const) {
    expect(onSheet(png, x, z)).toEqual(outside);
  }
});

test('faces are chosen by area, inverted, kept as a region, and a wash is kept to it @slow', async ({
  page,
}) => {
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await stage(page, 'Block in');
  const at = await fromAbove(page);
  await page.keyboard.press('5');
  await page.mouse.click(...(at(0.25, 0.5) as [number, number]));
  await expect(page.getByText('2 faces')).toBeVisible();
  await chip(page, 'Invert').click();
  await page.keyboard.press('Shift+K');
  await expect(page.getByText(/Kept as the region/)).toBeVisible();
  await stage(page, 'Form');
  await command(page, 'add a layer: facing');
  await page.getByRole('button', { name: 'Add a step' }).click();
  await page.getByRole('button', { name: 'Right', exact: true }).last().click();
  await settled(page);
  await ready(page);
  const png = await albedo(page);
  expect(onSheet(png, -0.5, 0)).not.toEqual(onSheet(png, 0.5, 0));
});

test('a ramp is drawn along a line, its stop slides on the model, and undo takes both back @slow', async ({
  page,
}) => {
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await stage(page, 'Form');
  const at = await fromAbove(page);
  await page.keyboard.press('j');
  await drag(page, [at(0.05, 0.5), at(0.3, 0.5), at(0.45, 0.5)]);
  await settled(page);
  await ready(page);
  await expect(page.locator('.layer', { hasText: 'Ramp on Left' })).toBeVisible();
  const before = (await picture(page)).png;
  const handle = page.getByLabel('Beginning of the ramp');
  await expect(handle).toBeVisible();
  // From light to dark along the left square.
  const { left, top } = await picture(page);
  const seen = (png: PNG, u: number): number => pixel(png, at(u, 0.3)[0] - left, at(u, 0.3)[1] - top)[0];
  expect(seen(before, 0.08)).toBeGreaterThan(seen(before, 0.42) + 20);
  const stop = (await page.getByLabel('Colour 2 of the ramp').boundingBox())!;
  const first = (await page.getByLabel('Colour 1 of the ramp').boundingBox())!;
  const middle = (b: { x: number; y: number; width: number; height: number }): [number, number] => [
    b.x + b.width / 2,
    b.y + b.height / 2,
  ];
  const [[x1, y1], [x2, y2]] = [middle(first), middle(stop)];
  await drag(page, [
    [x2, y2],
    [(x1 + x2) / 2, (y1 + y2) / 2],
  ]);
  await settled(page);
  await ready(page);
  const after = (await picture(page)).png;
  // The dark colour stands halfway now.
  expect(seen(after, 0.25)).toBeLessThan(seen(before, 0.25) - 8);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await settled(page);
  await expect(page.locator('.layer', { hasText: 'Ramp on Left' })).toHaveCount(0);
});

test('a recipe of the shelf is seen on the model, laid by a click, taken back; one of one’s own stays for other projects @slow', async ({
  page,
}) => {
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await stage(page, 'Form');
  await expect(page.locator('.shelf-card')).toHaveCount(8);
  await expect(page.locator('.shelf-card img').first()).toBeVisible({ timeout: 60_000 });
  await page.getByRole('button', { name: 'Lay Stone kerb' }).click();
  await expect(page.locator('.layer', { hasText: 'Stone kerb' })).toBeVisible();
  await settled(page);
  await ready(page);
  await command(page, 'keep the build-up as a recipe');
  await expect(page.locator('.shelf-card')).toHaveCount(9);
  await page.keyboard.press('Control+z');
  await expect(page.locator('.layer', { hasText: 'Stone kerb' })).toHaveCount(0);
  await page.goto('/');
  await beginProject(page, 'other.obj', SEAMED_OBJ.replaceAll('Left', 'Bank'));
  await stage(page, 'Form');
  // It names no part but what every model has none of: nothing is asked.
  await page.getByRole('button', { name: 'Lay floor' }).click();
  await expect(page.locator('.layer', { hasText: 'floor' }).first()).toBeVisible();
});

test('a wash in strokes, a light whose shadow is cast, and tones are set in the inspector @slow', async ({
  page,
}) => {
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await stage(page, 'Form');
  await command(page, 'add a layer: tone ramp');
  await ready(page);
  await page.getByRole('button', { name: /^Strokes/ }).click();
  await chip(page, 'In strokes').click();
  await ready(page);
  const png = await albedo(page);
  const shades = new Set<string>();
  for (let x = -0.9; x < 0.9; x += 0.05) shades.add(onSheet(png, x, 0.3).join());
  expect(shades.size).toBeGreaterThan(3);
  await stage(page, 'Form');
  await command(page, 'add a layer: light');
  await ready(page);
  await page.getByRole('button', { name: /^Cast shadow/ }).click();
  await page.getByLabel('Strength of the cast shadow, as a number').fill('80');
  await page.keyboard.press('Enter');
  await ready(page);
  await page.getByRole('button', { name: /^Tones/ }).click();
  await chip(page, 'In steps').click();
  await ready(page);
  await expect(page.getByRole('button', { name: /^Tones/ })).toContainText('3 tones');
});
