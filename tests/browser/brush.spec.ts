import { expect, test, type Page } from '@playwright/test';
import { PNG } from 'pngjs';
import {
  beginProject,
  chip,
  downloaded,
  kept,
  ready,
  SEAMED_OBJ,
  settled,
  stage,
  startEmpty,
} from './helpers';

/** A floor, and a smaller one that floats a little over its middle. */
const OVER_OBJ = `${SEAMED_OBJ}o Over
v -0.5 0.06 0.5
v 0.5 0.06 0.5
v 0.5 0.06 -0.5
v -0.5 0.06 -0.5
vt 0.05 0.9
vt 0.15 0.9
vt 0.15 0.98
vt 0.05 0.98
f 7/9 8/10 9/11 10/12
`;

test.beforeEach(({ page }) => startEmpty(page));

/** A stroke over the middle of the model, seen from above. */
async function paintAcross(page: Page): Promise<void> {
  const view = (await page.getByTestId('viewport').boundingBox())!;
  const y = view.y + view.height * 0.5;
  await page.mouse.move(view.x + view.width * 0.28, y);
  await page.mouse.down();
  await page.mouse.move(view.x + view.width * 0.42, y, { steps: 10 });
  await page.mouse.up();
  await settled(page);
}

const albedo = async (page: Page): Promise<PNG> => {
  await stage(page, 'Deliver');
  const file = await downloaded(page, () => page.getByRole('button', { name: /^Albedo/ }).click());
  return PNG.sync.read(file.bytes);
};

/** How many texels within a part of the sheet, measured from the upper left, have the colour in hand in them. */
function painted({ width, height, data }: PNG, u: [number, number], v: [number, number]): number {
  let count = 0;
  for (let y = Math.floor(v[0] * height); y < v[1] * height; y++) {
    for (let x = Math.floor(u[0] * width); x < u[1] * width; x++) {
      const o = (y * width + x) * 4;
      // The orange that is in hand at first, more or less of it.
      if (data[o]! - data[o + 2]! > 60) count++;
    }
  }
  return count;
}

test('a brush that lies on the surface leaves alone what floats over it; one that lies against it does not', async ({
  page,
}) => {
  await beginProject(page, 'over.obj', OVER_OBJ);
  await stage(page, 'Paint');
  await page.getByRole('button', { name: 'Top', exact: true }).click();
  await ready(page);
  await page.keyboard.press('p');
  await page.getByRole('radio', { name: 'Flat paint' }).click();
  await paintAcross(page);
  const first = await albedo(page);
  const over = { u: [0.05, 0.15], v: [0.02, 0.1] } as const;
  const floor = { u: [0.05, 0.95], v: [0.15, 0.95] } as const;
  const counts = [painted(first, [...over.u], [...over.v]), painted(first, [...floor.u], [...floor.v])];
  expect(Math.max(...counts)).toBeGreaterThan(100);
  expect(Math.min(...counts)).toBe(0);

  await stage(page, 'Paint');
  await page.keyboard.press('Control+z');
  await chip(page, 'Brush…').click();
  await page.getByRole('button', { name: 'Against it' }).click();
  await page.keyboard.press('Escape');
  await expect(page.locator('.brush-panel')).toHaveCount(0);
  await paintAcross(page);
  const second = await albedo(page);
  expect(painted(second, [...over.u], [...over.v])).toBeGreaterThan(50);
  expect(painted(second, [...floor.u], [...floor.v])).toBeGreaterThan(50);
});

test('tips break a stroke up, each in its way; the same strokes are there after a reload @slow', async ({
  page,
}) => {
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await stage(page, 'Paint');
  await page.getByRole('button', { name: 'Top', exact: true }).click();
  await ready(page);
  const counts: number[] = [];
  for (const name of ['Flat paint', 'Leaves', 'Chalk']) {
    await stage(page, 'Paint');
    await page.getByRole('radio', { name, exact: true }).click();
    await paintAcross(page);
    counts.push(painted(await albedo(page), [0, 1], [0, 1]));
    await stage(page, 'Paint');
    if (name !== 'Chalk') await page.keyboard.press('Control+z');
  }
  expect(new Set(counts).size).toBe(3);
  for (const count of counts) expect(count).toBeGreaterThan(60);
  const before = await albedo(page);
  await kept(page);
  await page.reload();
  await ready(page);
  expect((await albedo(page)).data.equals(before.data)).toBe(true);
});

test('a brush is set, named, duplicated, remembered; it leaves as a file and comes back from it @slow', async ({
  page,
}) => {
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await stage(page, 'Paint');
  await expect(page.locator('.tray .brush img')).toHaveCount(16, { timeout: 30_000 });
  await page.getByRole('radio', { name: 'Chalk', exact: true }).click();
  await chip(page, 'Brush…').click();
  const panel = page.locator('.brush-panel');
  await panel.getByRole('button', { name: 'Duplicate' }).click();
  await expect(page.getByRole('radio')).toHaveCount(16 + 1 + 13);
  await panel.getByRole('radio', { name: 'Hatch' }).click();
  await panel.getByRole('button', { name: 'the stroke' }).click();
  await panel.getByLabel('Name of the brush').fill('Crossed chalk');
  await panel.getByLabel('Name of the brush').press('Enter');
  await panel.getByRole('button', { name: 'Driven by the pen' }).click();
  await panel.getByRole('button', { name: 'Tilt drives Size' }).click();
  await expect(panel.getByRole('group', { name: 'Curve' })).toBeVisible();
  const file = await downloaded(page, () =>
    panel.getByRole('button', { name: 'To file', exact: true }).click(),
  );
  expect(file.name).toBe('Crossed chalk.brush.json');

  await page.reload();
  await ready(page);
  await page.getByRole('radio', { name: 'Crossed chalk' }).click();
  await chip(page, 'Brush…').click();
  await expect(panel.getByRole('radio', { name: 'Hatch' })).toBeChecked();
  await panel.getByRole('button', { name: 'Remove' }).click();
  await expect(page.getByRole('radio', { name: 'Crossed chalk' })).toHaveCount(0);
  const choose = async (name: string, data: Buffer | Uint8Array): Promise<void> => {
    const chooser = page.waitForEvent('filechooser');
    await panel.getByRole('button', { name: 'From file…' }).click();
    await (await chooser).setFiles({ name, mimeType: 'application/json', buffer: Buffer.from(data) });
  };
  await choose('broken.json', Buffer.from('{"format":"zanahoria-brush","version":1,"brushes":[{}]}'));
  await expect(page.getByText(/isn’t a file of brushes, at “brushes\.0/)).toBeVisible();
  await choose('crossed.brush.json', file.bytes);
  await expect(page.getByRole('radio', { name: 'Crossed chalk' })).toBeChecked();
});

test('a steady pen catches up at its end; with Shift a line goes on from where the last stroke ended @slow', async ({
  page,
}) => {
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await stage(page, 'Paint');
  await page.getByRole('button', { name: 'Top', exact: true }).click();
  await ready(page);
  await page.getByRole('radio', { name: 'Sharp line' }).click();
  const view = (await page.getByTestId('viewport').boundingBox())!;
  const at = (x: number, y: number): [number, number] => [view.x + view.width * x, view.y + view.height * y];
  await page.keyboard.press('s');
  await expect(chip(page, 'Steady')).toHaveAttribute('aria-pressed', 'true');
  const string = page.locator('.steady-string line');
  await page.mouse.move(...at(0.24, 0.45));
  await page.mouse.down();
  await page.mouse.move(...at(0.3, 0.48), { steps: 8 });
  await expect(string).toBeVisible();
  await page.mouse.up();
  await expect(string).toBeHidden();
  await page.keyboard.press('s');
  await settled(page);
  await page.keyboard.down('Shift');
  await page.mouse.click(...at(0.3, 0.6));
  await page.keyboard.up('Shift');
  await settled(page);
  await expect(page.getByRole('navigation').getByText('2 strokes')).toBeVisible();
  const sheet = await albedo(page);
  const rows = Array.from({ length: 512 }, (_, y) => painted(sheet, [0, 1], [y / 512, (y + 1) / 512]));
  // The first goes over 60 texels to the side, the line down over more rows than the first has.
  expect(Math.max(...rows)).toBeGreaterThan(12);
  expect(rows.filter((n) => n > 0).length).toBeGreaterThan(50);
});

test('two colours are swapped by key; a stroke glazes back with the local colour of its part', async ({
  page,
}) => {
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await stage(page, 'Paint');
  await page.getByRole('button', { name: 'Top', exact: true }).click();
  await ready(page);
  await page.keyboard.press('d');
  await expect(page.getByText('Paint with two colours first')).toBeVisible();
  await page.getByRole('radio', { name: 'Flat paint' }).click();
  await paintAcross(page);
  await page.keyboard.press('o');
  await expect(chip(page, 'Glaze back')).toHaveAttribute('aria-pressed', 'true');
  const before = await albedo(page);
  await stage(page, 'Paint');
  await paintAcross(page);
  const after = await albedo(page);
  // Three tenths of the way to the local colour, where it was fully orange.
  const local = [0xb6, 0xac, 0xa2];
  let glazed = 0;
  for (let o = 0; o < before.data.length; o += 4) {
    const [was, is] = [before.data.subarray(o, o + 3), after.data.subarray(o, o + 3)];
    if (was[0]! - was[2]! < 150 || is.every((v, k) => v === was[k])) continue;
    if (is.every((v, k) => Math.abs(v - (was[k]! + (local[k]! - was[k]!) * 0.3)) < 3)) glazed++;
  }
  expect(glazed).toBeGreaterThan(800);
});
