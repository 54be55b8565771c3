import { expect, test } from '@playwright/test';
import { PNG } from 'pngjs';
import { unzipSync } from 'fflate';
import validator from 'gltf-validator';
import { readModel } from '../../core/formats';
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
  layerId,
} from './helpers';

const strokes = (page: import('@playwright/test').Page) =>
  page.getByRole('navigation').getByText(/^\d+ strokes?$/);

test('paint across a seam, undo, redo, reload, deliver, and read everything back', async ({ page }) => {
  await startEmpty(page);
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await stage(page, 'Paint');
  await chip(page, 'Model').click();
  await chip(page, 'Top').click();
  await chip(page, 'Frame').click();
  await page.getByRole('radio', { name: 'Flat paint' }).click();
  // The guard holds the stroke on its part: here it is to cross to the other one.
  await chip(page, 'Part').click();
  const before = await picture(page);
  const box = modelBox(before.png);
  const middle = { x: (box.left + box.right) / 2, y: (box.top + box.bottom) / 2 };
  const at = (x: number, y: number): [number, number] => [before.left + x, before.top + y];
  await stroke(page, [
    at(middle.x - 90, middle.y + 10),
    at(middle.x, middle.y),
    at(middle.x + 90, middle.y - 10),
  ]);
  const painted = await picture(page);
  // Across the seam, pixel by pixel: the same full colour on both sides.
  for (let dx = -8; dx <= 8; dx++)
    expect(pixel(painted.png, middle.x + dx, middle.y)).toEqual([0xcf, 0x5a, 0x2e]);
  await expect(strokes(page)).toHaveText('1 stroke');

  await page.keyboard.press('Control+z');
  await expect(strokes(page)).toHaveText('0 strokes');
  expect(Buffer.compare((await picture(page)).png.data, before.png.data)).toBe(0);
  await page.keyboard.press('Control+Shift+z');
  await expect(strokes(page)).toHaveText('1 stroke');
  expect(Buffer.compare((await picture(page)).png.data, painted.png.data)).toBe(0);
  await kept(page);

  await page.reload();
  await ready(page);
  await expect(strokes(page)).toHaveText('1 stroke');
  await chip(page, 'Model').click();
  await chip(page, 'Top').click();
  await chip(page, 'Frame').click();
  expect(Buffer.compare((await picture(page)).png.data, painted.png.data)).toBe(0);
  // Undo goes back past the reload.
  await chip(page, 'Undo').click();
  await expect(strokes(page)).toHaveText('0 strokes');
  await chip(page, 'Redo').click();
  await expect(strokes(page)).toHaveText('1 stroke');

  await stage(page, 'Deliver');
  const albedo = await downloaded(page, () => page.getByRole('button', { name: /^Albedo/ }).click());
  expect(albedo.name).toBe('floor-albedo.png');
  const sheet = PNG.sync.read(albedo.bytes);
  expect([sheet.width, sheet.height]).toEqual([512, 512]);
  // Row 0 is v = 1: the seam's two borders lie at u 0.45 and 0.55, the middle of the floor at v 0.45.
  expect(pixel(sheet, 0.45 * 512 - 2, (1 - 0.45) * 512)).toEqual([0xcf, 0x5a, 0x2e]);
  expect(pixel(sheet, 0.55 * 512 + 2, (1 - 0.45) * 512)).toEqual([0xcf, 0x5a, 0x2e]);
  // Bleed: painted past the border, and the whole sheet is opaque.
  expect(pixel(sheet, 0.45 * 512 + 6, (1 - 0.45) * 512)).toEqual([0xcf, 0x5a, 0x2e]);
  for (let i = 3; i < sheet.data.length; i += 4)
    if (sheet.data[i] !== 255) throw new Error('the sheet has holes');

  const model = await downloaded(page, () => page.getByRole('button', { name: /^Unlit model/ }).click());
  expect(model.name).toBe('floor.glb');
  const report = await validator.validateBytes(new Uint8Array(model.bytes));
  expect(report.issues.numErrors).toBe(0);
  expect(report.info.extensionsUsed).toContain('KHR_materials_unlit');
  expect((await readModel('floor.glb', new Uint8Array(model.bytes))).parts).toEqual(['Left', 'Right']);

  const file = await downloaded(page, () => page.getByRole('button', { name: /^Project file/ }).click());
  const inside = Object.keys(unzipSync(new Uint8Array(file.bytes)));
  expect(inside.every((name) => /\.(json|png)$/.test(name))).toBe(true);

  // In again, as another project: the same picture and the same albedo to the last texel.
  await page.goto('/');
  const chooser = page.waitForEvent('filechooser');
  await page.getByText('New from a model').click();
  await (await chooser).setFiles({ name: 'floor.zip', mimeType: 'application/zip', buffer: file.bytes });
  await page.waitForURL(/\/paint$/);
  await ready(page);
  await expect(strokes(page)).toHaveText('1 stroke');
  await stage(page, 'Deliver');
  const again = await downloaded(page, () => page.getByRole('button', { name: /^Albedo/ }).click());
  expect(Buffer.compare(again.bytes, albedo.bytes)).toBe(0);
});

test('unlit view: every pixel of the screenshot is the texel that was delivered, to the last bit', async ({
  page,
}) => {
  await startEmpty(page);
  const square =
    'v -1 0 1\nv 1 0 1\nv 1 0 -1\nv -1 0 -1\nvt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\nf 1/1 2/2 3/3 4/4\n';
  await beginProject(page, 'square.obj', square, 256);
  await stage(page, 'Paint');
  await chip(page, 'Model').click();
  await chip(page, 'Top').click();
  await chip(page, 'Frame').click();
  // Each texel as it is stored, near ones too.
  await page.keyboard.press('e');
  // A little farther away, so that no chip lies over it.
  await page.mouse.move(640, 380);
  await page.mouse.wheel(0, 120);
  const empty = await picture(page);
  const box = modelBox(empty.png);
  const at = (u: number, v: number): [number, number] => [
    empty.left + box.left + (box.right - box.left) * u,
    empty.top + box.bottom - (box.bottom - box.top) * v,
  ];
  await page.getByRole('radio', { name: 'Soft shade' }).click();
  await type(page, 'Size', '150');
  await stroke(page, [at(0.2, 0.2), at(0.5, 0.7), at(0.8, 0.3)]);
  await page.getByLabel('Colour in hand, as #rrggbb').fill('#2f7475');
  await page.getByLabel('Colour in hand, as #rrggbb').press('Enter');
  await stroke(page, [at(0.1, 0.8), at(0.9, 0.75)]);
  const { png } = await picture(page);
  await stage(page, 'Deliver');
  const file = await downloaded(page, () => page.getByRole('button', { name: /^Project file/ }).click());
  const zip = unzipSync(new Uint8Array(file.bytes));
  const layer = PNG.sync.read(Buffer.from(zip[`layers/${layerId(zip, 'Colours')}.png`]!));
  // The layer lies on the local colour: its own pixels over #b6aca2, as 8-bit source-over gives them.
  const ground = [0xb6, 0xac, 0xa2];
  // Edges are drawn smooth: how much of its last pixel the square covers tells where it ends within that.
  const [middleX, middleY] = [(box.left + box.right) / 2, (box.top + box.bottom) / 2];
  const outside = pixel(empty.png, empty.png.width / 2, 46)[0];
  const inside = pixel(empty.png, middleX, middleY)[0];
  const share = (x: number, y: number): number => (pixel(empty.png, x, y)[0] - outside) / (inside - outside);
  const left = box.left + 1 - share(box.left, middleY);
  const top = box.top + 1 - share(middleX, box.top);
  const [wide, tall] = [
    box.right + share(box.right, middleY) - left,
    box.bottom + share(middleX, box.bottom) - top,
  ];
  let compared = 0;
  let wrong = 0;
  const colors = new Set<string>();
  for (let y = box.top + 1; y < box.bottom; y++) {
    for (let x = box.left + 1; x < box.right; x++) {
      const u = ((x + 0.5 - left) / wide) * 256;
      const v = ((y + 0.5 - top) / tall) * 256;
      // Too near a texel's edge to say which of the two it must be.
      if ([u % 1, v % 1].some((f) => f < 0.25 || f > 0.75)) continue;
      const o = (Math.floor(v) * 256 + Math.floor(u)) * 4;
      const a = layer.data[o + 3]! / 255;
      const expected = ground.map((g, k) => Math.floor(layer.data[o + k]! * a + g * (1 - a) + 0.5));
      const shown = pixel(png, x, y);
      // Where two colours are mixed, rounding in this test's arithmetic and the compositor's may differ by a step.
      const off = Math.max(...shown.map((s, k) => Math.abs(s - expected[k]!)));
      if (off > (a === 0 || a === 1 ? 0 : 1)) wrong++;
      colors.add(shown.join());
      compared++;
    }
  }
  expect(wrong).toBe(0);
  expect(compared).toBeGreaterThan(10_000);
  expect(colors.size).toBeGreaterThan(200);
});

test('the flat sheet is painted on too, and the stroke stays on its part', async ({ page }) => {
  await startEmpty(page);
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await stage(page, 'Paint');
  await chip(page, 'Sheet').click();
  await page.getByRole('radio', { name: 'Flat paint' }).click();
  const { png, left, top } = await picture(page);
  const side = Math.min(png.width, png.height) - 28;
  const corner = { x: (png.width - side) / 2, y: (png.height - side) / 2 };
  const at = (u: number, v: number): [number, number] => [
    left + corner.x + side * u,
    top + corner.y + side * (1 - v),
  ];
  // Begun on the left island near its border; the brush reaches over x = 0 on the model, where the other part begins.
  await stroke(page, [at(0.44, 0.3), at(0.44, 0.6)]);
  const after = (await picture(page)).png;
  const shown = (u: number, v: number) => pixel(after, corner.x + side * u, corner.y + side * (1 - v));
  expect(shown(0.435, 0.45)).toEqual([0xcf, 0x5a, 0x2e]);
  expect(shown(0.56, 0.45)).toEqual([0xb6, 0xac, 0xa2]);
});

test('a stroke given up with Escape leaves nothing; a colour is taken with Alt', async ({ page }) => {
  await startEmpty(page);
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await stage(page, 'Paint');
  await chip(page, 'Model').click();
  await chip(page, 'Top').click();
  const before = await picture(page);
  const box = modelBox(before.png);
  const x = before.left + (box.left + box.right) / 2 - 60;
  const y = before.top + (box.top + box.bottom) / 2;
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + 40, y, { steps: 6 });
  await page.keyboard.press('Escape');
  await page.mouse.up();
  expect(Buffer.compare((await picture(page)).png.data, before.png.data)).toBe(0);
  await expect(strokes(page)).toHaveText('0 strokes');
  await page.keyboard.down('Alt');
  await page.mouse.click(x, y);
  await page.keyboard.up('Alt');
  await expect(page.getByLabel('Colour in hand, as #rrggbb')).toHaveValue('#b6aca2');
});
