import { expect, test, type Page } from '@playwright/test';
import validator from 'gltf-validator';
import { PNG } from 'pngjs';
import { readModel } from '../../core/formats';
import { isInsideRamp, rampBands, rampPicture, shadesAround } from '../../core/ramps';
import {
  beginProject,
  chip,
  downloaded,
  modelBox,
  picture,
  pixel,
  ready,
  SEAMED_OBJ,
  settled,
  stage,
  startEmpty,
} from './helpers';

/** What “By hand” makes around the colour in hand. */
const RAMPS = {
  ramps: [
    { name: 'Ramp 1', colors: shadesAround('#cf5a2e') },
    { name: 'Ramp 2', colors: ['#2b2430', '#f3ece0'] },
  ],
  lie: 'columns',
} as const;
const SHEET = rampPicture(
  { ramps: RAMPS.ramps.map((r) => ({ ...r, colors: [...r.colors] })), lie: 'columns' },
  64,
);

/** A ramp's colour at a place along it, from the sheet’s own texels as an engine filters them. */
function rampAt(ramp: number, at: number): number[] {
  const { from, to } = rampBands(2, 64)[ramp]!;
  const x = Math.floor((from + to) / 2);
  const y = 63 - at * 63;
  return [0, 1, 2].map((c) => {
    const row = (n: number): number => SHEET.rgba[(Math.min(63, n) * 64 + x) * 4 + c]!;
    return row(Math.floor(y)) * (1 - (y % 1)) + row(Math.floor(y) + 1) * (y % 1);
  });
}

const near = (a: readonly number[], b: readonly number[]): boolean =>
  a.every((x, k) => Math.abs(x - b[k]!) <= 3);

/** A floor of two parts seen from above at Block in, with a ramp sheet. */
async function floorOnRamps(page: Page): Promise<{ at: (x: number, y: number) => [number, number] }> {
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await stage(page, 'Block in');
  await chip(page, 'Model').click();
  await chip(page, 'By hand').click();
  await expect(page.locator('.ramp-card')).toHaveCount(2);
  await chip(page, 'Top').click();
  await settled(page);
  const { png, left, top } = await picture(page);
  const box = modelBox(png);
  return {
    at: (x, y) => [left + box.left + (box.right - box.left) * x, top + box.top + (box.bottom - box.top) * y],
  };
}

async function dragRamp(page: Page, ramp: number, to: readonly [number, number]): Promise<void> {
  const strip = (await page.locator('.ramp-strip').nth(ramp).boundingBox())!;
  await page.mouse.move(strip.x + 20, strip.y + 30);
  await page.mouse.down();
  await page.mouse.move(strip.x + 40, strip.y - 30, { steps: 3 });
  await page.mouse.move(...to, { steps: 5 });
  await page.mouse.up();
  await settled(page);
}

test('a ramp is dragged onto a part, its run slid and flipped, undone and opened again, and it leaves as it is seen @slow', async ({
  page,
}) => {
  await startEmpty(page);
  const { at } = await floorOnRamps(page);
  await dragRamp(page, 0, at(0.25, 0.5));
  await page.getByRole('group', { name: 'Direction of the run' }).getByText('Across').click();
  await settled(page);
  const colorsAlong = async (): Promise<number[][]> => {
    const { png, left, top } = await picture(page);
    return [0.05, 0.2, 0.35, 0.45].map((x) => {
      const [px, py] = at(x, 0.3);
      return pixel(png, px - left, py - top);
    });
  };
  // The left part is half as wide as the floor: its run goes from its left border to the middle.
  const seen = await colorsAlong();
  [0.05, 0.2, 0.35, 0.45].forEach((x, i) => expect(near(seen[i]!, rampAt(0, x * 2))).toBe(true));
  // What lies on no ramp keeps its paint.
  const { png, left, top } = await picture(page);
  const [rx, ry] = at(0.75, 0.3);
  expect(near(pixel(png, rx - left, ry - top), [182, 172, 162])).toBe(true);
  await chip(page, 'Flip').click();
  await settled(page);
  const flipped = await colorsAlong();
  [0.05, 0.2, 0.35, 0.45].forEach((x, i) => expect(near(flipped[i]!, rampAt(0, 1 - x * 2))).toBe(true));
  await page.keyboard.press('Control+z');
  await settled(page);
  expect(await colorsAlong()).toEqual(seen);
  // Slid by its ring on the model: a quarter of the part to the right.
  const ring = (await page.locator('.ring-grip').boundingBox())!;
  const middle = [ring.x + ring.width / 2, ring.y + ring.height / 2] as const;
  const quarter = at(0.125, 0)[0] - at(0, 0)[0];
  const rim = [middle[0], middle[1] - ring.height / 2 + 2] as const;
  await page.mouse.move(...rim);
  await page.mouse.down();
  await page.mouse.move(middle[0] + quarter, rim[1], { steps: 6 });
  await page.mouse.up();
  await settled(page);
  const slid = await colorsAlong();
  // The left border would lie beyond the ramp: it has the ramp’s first colour, and the middle three quarters of the way.
  [0.2, 0.35, 0.45].forEach((x, i) => expect(near(slid[i + 1]!, rampAt(0, x * 2 * 0.75))).toBe(true));
  await page.reload();
  await ready(page);
  await chip(page, 'Top').click();
  expect(await colorsAlong()).toEqual(slid);
  // Nothing can be painted there, and it is said why.
  await stage(page, 'Paint');
  await chip(page, 'Top').click();
  await settled(page);
  await page.mouse.click(...at(0.25, 0.5));
  await expect(page.getByText(/“Left” lies here on “Ramp 1” of the ramp sheet/)).toBeVisible();
  await stage(page, 'Deliver');
  const sheet = PNG.sync.read(
    (await downloaded(page, () => page.getByRole('button', { name: /^Ramp sheet/ }).click())).bytes,
  );
  expect([...sheet.data]).toEqual([...SHEET.rgba]);
  const glb = new Uint8Array(
    (await downloaded(page, () => page.getByRole('button', { name: /^Unlit model/ }).click())).bytes,
  );
  const { issues } = await validator.validateBytes(glb);
  expect([issues.numErrors, issues.numWarnings]).toEqual([0, 0]);
  const back = await readModel('floor.glb', glb);
  const band = rampBands(2, 64)[0]!;
  back.indices.forEach((v, c) => {
    if (back.parts[back.faceParts[Math.floor(c / 3)]!] !== 'Left') return;
    expect(isInsideRamp(band, [back.uvs![v * 2]!, back.uvs![v * 2 + 1]!], 64, 'columns')).toBe(true);
  });
});

test('a sheet that two projects share is changed in both, after a question @slow', async ({ page }) => {
  await startEmpty(page);
  const { at } = await floorOnRamps(page);
  await dragRamp(page, 1, at(0.25, 0.5));
  await chip(page, 'Sheet…').click();
  await chip(page, 'Shared sheets').click();
  await page.getByText('Share this one').click();
  await expect(page.locator('.ramp-side > small')).toHaveText(/“floor ramps”/);
  const first = page.url();
  await page.goto('/');
  await beginProject(page, 'other.obj', SEAMED_OBJ);
  await stage(page, 'Block in');
  await chip(page, 'Shared sheets').click();
  await page.getByText('floor ramps').click();
  await expect(page.locator('.ramp-card')).toHaveCount(2);
  const change = async (answer: string): Promise<void> => {
    await page.locator('.ramp-name').nth(1).click();
    await chip(page, 'Turn over').click();
    await expect(page.getByText(/Change “floor ramps” everywhere\?/)).toBeVisible();
    await chip(page, answer).click();
    await settled(page);
    await page.keyboard.press('Escape');
  };
  await change('Change it everywhere');
  await expect(page.locator('.ramp-strip').nth(1)).toHaveCSS(
    'background-image',
    /rgb\(243, 236, 224\).*rgb\(43, 36, 48\)/,
  );
  // The first project has it as soon as it is opened, can take that back, and goes its own way when that is wanted.
  await page.goto(first);
  await ready(page);
  await expect(page.getByText(/were changed in another project/)).toBeVisible();
  await expect(page.locator('.ramp-strip').nth(1)).toHaveCSS(
    'background-image',
    /rgb\(243, 236, 224\).*rgb\(43, 36, 48\)/,
  );
  await change('Only here');
  await expect(page.locator('.ramp-side > small')).toHaveText('64 × 64 texels');
});
