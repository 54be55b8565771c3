import { expect, test, type Page } from '@playwright/test';
import { NodeIO } from '@gltf-transform/core';
import { KHRMaterialsUnlit } from '@gltf-transform/extensions';
import { unzipSync } from 'fflate';
import { PNG } from 'pngjs';
import {
  SEAMED_OBJ,
  beginProject,
  chip,
  downloaded,
  kept,
  picture,
  pixel,
  ready,
  settled,
  stage,
  startEmpty,
  type,
} from './helpers';

test.beforeEach(({ page }) => startEmpty(page));

/** Red on the left, blue on the right. */
function halves(): Buffer {
  const png = new PNG({ width: 32, height: 32 });
  for (let i = 0; i < 32 * 32; i++)
    png.data.set(i % 32 < 16 ? [230, 20, 20, 255] : [20, 20, 230, 255], i * 4);
  return PNG.sync.write(png);
}

async function command(page: Page, words: string): Promise<void> {
  await page.keyboard.press('Control+k');
  await page.keyboard.type(words);
  await page.keyboard.press('Enter');
}

const albedo = async (page: Page): Promise<PNG> => {
  await stage(page, 'Deliver');
  const file = await downloaded(page, () => page.getByRole('button', { name: /^Albedo/ }).click());
  return PNG.sync.read(file.bytes);
};

/** The colours of the left square of the floor along a line, on its sheet. */
const along = (png: PNG): number[][] =>
  Array.from({ length: 60 }, (_, i) => {
    const x = Math.floor((0.06 + (0.38 * i) / 60) * png.width);
    const o = (Math.floor(0.5 * png.height) * png.width + x) * 4;
    return [...png.data.subarray(o, o + 3)];
  });

test('any picture is tiled over the form as colour and as a mask, through a reload, in the project file and back @slow', async ({
  page,
}) => {
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await stage(page, 'Form');
  await command(page, 'add a layer: pattern');
  await expect(page.locator('.pattern-grid')).toBeVisible();
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Picture…' }).click();
  await (await chooser).setFiles({ name: 'halves.png', mimeType: 'image/png', buffer: halves() });
  await expect(page.getByRole('button', { name: 'halves', exact: true })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  await page.getByLabel(/^Blend mode/).click();
  await page.getByRole('option', { name: 'normal', exact: true }).click();
  await type(page, 'Width of a tile, in parts of the model', '20');
  await settled(page);
  await kept(page);
  await page.reload();
  await ready(page);
  const line = along(await albedo(page));
  const hue = (c: number[]): string => (c[0]! > c[2]! + 80 ? 'red' : c[2]! > c[0]! + 80 ? 'blue' : '-');
  const changes = line.filter((c, i) => i > 0 && hue(c) !== '-' && hue(c) !== hue(line[i - 1]!)).length;
  expect(changes).toBeGreaterThan(1);

  const project = await downloaded(page, () => page.getByRole('button', { name: /^Project file/ }).click());
  const files = unzipSync(new Uint8Array(project.bytes));
  const inFile = Object.keys(files).filter((name) => name.startsWith('patterns/'));
  // The one to begin with, and the picture.
  expect(inFile).toHaveLength(2);
  expect(PNG.sync.read(Buffer.from(files[inFile[1]!]!)).width).toBe(32);
  const recipe = await downloaded(page, () => page.getByRole('button', { name: /^Recipe/ }).click());
  const { patterns } = JSON.parse(recipe.bytes.toString()) as { patterns: { name: string; png: string }[] };
  expect(patterns.map((p) => p.name)).toEqual(['halves']);
  expect(PNG.sync.read(Buffer.from(patterns[0]!.png, 'base64')).width).toBe(32);

  // As a mask: a wash lies where it is light.
  await stage(page, 'Form');
  await command(page, 'add a layer: facing');
  await page.getByRole('button', { name: 'Add a step' }).click();
  await page.getByRole('button', { name: 'Pattern', exact: true }).click();
  await expect(page.locator('.mask-step', { hasText: 'halves' })).toBeVisible();
  await ready(page);
});

test('a colour floods what looks alike, over a seam; with Escape the parts are chosen again', async ({
  page,
}) => {
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await stage(page, 'Block in');
  await chip(page, 'Model').click();
  await chip(page, 'Top').click();
  await page.keyboard.press('9');
  await expect(chip(page, 'Like colours')).toHaveAttribute('aria-pressed', 'true');
  const box = (await page.getByTestId('viewport').boundingBox())!;
  await page.mouse.click(box.x + box.width / 2 - 60, box.y + box.height / 2);
  await expect(page.getByText('lies over what looked alike')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(chip(page, 'Part')).toHaveAttribute('aria-pressed', 'true');
  await settled(page);
  const png = await albedo(page);
  const at = (u: number): number[] => {
    const o = (Math.floor(0.55 * png.height) * png.width + Math.floor(u * png.width)) * 4;
    return [...png.data.subarray(o, o + 3)];
  };
  expect(at(0.2)).toEqual(at(0.8));
  expect(at(0.2)[0]).toBeGreaterThan(at(0.2)[2]! + 60);
});

test('the colours within a line drawn on a reference come into the palette', async ({ page }) => {
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  const chooser = page.waitForEvent('filechooser');
  await page.locator('.easel').getByRole('button', { name: 'Add…' }).first().click();
  await (await chooser).setFiles({ name: 'halves.png', mimeType: 'image/png', buffer: halves() });
  await expect(page.getByTestId('reference')).toHaveAttribute('data-ready', 'true');
  await command(page, 'colours within a line');
  const box = (await page.getByTestId('reference').boundingBox())!;
  // Well within the right half: the picture fills the board's width.
  const [x, y] = [box.x + box.width * 0.75, box.y + box.height / 2];
  await page.mouse.move(x - 20, y - 20);
  await page.mouse.down();
  for (const [dx, dy] of [
    [20, -20],
    [20, 20],
    [-20, 20],
  ] as const)
    await page.mouse.move(x + dx, y + dy, { steps: 5 });
  await expect(page.locator('.board-lasso polygon')).toBeVisible();
  await page.mouse.up();
  await expect(page.getByText(/1 colour of “halves”/)).toBeVisible();
});

test('a palette comes in as design tokens and as a strip, and what looks alike is merged', async ({
  page,
}) => {
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  const tokens = {
    ink: { $type: 'color', $value: '#102030' },
    clay: { $type: 'color', $value: { colorSpace: 'srgb', components: [0.8, 0.4, 0.2] } },
  };
  const add = async (name: string, mimeType: string, buffer: Buffer): Promise<void> => {
    const chooser = page.waitForEvent('filechooser');
    await chip(page, 'From file…').click();
    await (await chooser).setFiles({ name, mimeType, buffer });
  };
  await add('warm.json', 'application/json', Buffer.from(JSON.stringify(tokens)));
  await expect(page.getByText('2 colours of “warm”')).toBeVisible();
  await add('halves.png', 'image/png', halves());
  await expect(page.getByText('2 colours of “halves”')).toBeVisible();
  await add('again.png', 'image/png', halves());
  await expect(page.locator('.palette h2')).toContainText('6 colours');
  await command(page, 'merge the colours');
  await expect(page.locator('.palette h2')).toContainText('4 colours');
  await add('bad.json', 'application/json', Buffer.from('{"a":1}'));
  await expect(page.getByText(/bad.json: The file holds no colours/)).toBeVisible();
});

test('what a step would cover is seen alone before it is put into a mask @slow', async ({ page }) => {
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await stage(page, 'Form');
  await command(page, 'add a layer: facing');
  await ready(page);
  const before = (await picture(page)).png;
  await page.getByRole('button', { name: 'Add a step' }).click();
  await page.getByRole('button', { name: 'Height', exact: true }).hover();
  // Grey from the lowest to the highest place: the floor is flat, so it is one grey.
  await expect(async () => {
    const { png } = await picture(page, true);
    const c = pixel(png, png.width * 0.33, png.height / 2);
    expect(new Set(c).size).toBe(1);
    expect(c).not.toEqual(pixel(before, before.width * 0.33, before.height / 2));
  }).toPass();
  await page.keyboard.press('Escape');
  await expect(async () => {
    const { png } = await picture(page);
    expect(pixel(png, png.width * 0.33, png.height / 2)).toEqual(
      pixel(before, before.width * 0.33, before.height / 2),
    );
  }).toPass();
  await expect(page.locator('.mask-step')).toHaveCount(1);
});

test('a ramp goes along the form from where its line begins', async ({ page }) => {
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await stage(page, 'Form');
  await chip(page, 'Model').click();
  await chip(page, 'Top').click();
  await page.keyboard.press('j');
  await chip(page, 'Along the form').click();
  const box = (await page.getByTestId('viewport').boundingBox())!;
  const [x, y] = [box.x + box.width / 2 - 100, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + 60, y + 10, { steps: 4 });
  await page.mouse.up();
  await expect(page.locator('.layer', { hasText: 'Ramp on Left' })).toBeVisible();
  await settled(page);
  await expect(page.locator('.inspector')).toContainText('ways along the form');
});

test('form is measured on a denser model: it is told what is missed, kept, and taken back @slow', async ({
  page,
}) => {
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await stage(page, 'Form');
  await command(page, 'add a layer: height wash');
  await ready(page);
  await page.getByRole('button', { name: 'Denser model' }).click();
  const add = async (name: string, text: string): Promise<void> => {
    const chooser = page.waitForEvent('filechooser');
    await page.getByRole('button', { name: /denser model…|Another…/ }).click();
    await (await chooser).setFiles({ name, mimeType: 'text/plain', buffer: Buffer.from(text) });
  };
  // The left square only, a little higher.
  await add('left.obj', 'v -1 0.01 1\nv 0 0.01 1\nv 0 0.01 -1\nv -1 0.01 -1\nf 1 2 3 4\n');
  const panel = page.getByRole('group', { name: 'What form is measured on' });
  await expect(panel).toContainText('2 triangles');
  await expect(panel).toContainText(/(49|50|51)\.\d % of this model meets nothing/);
  await ready(page);
  await kept(page);
  await page.reload();
  await ready(page);
  await expect(page.getByRole('button', { name: 'On left' })).toBeVisible();
  // One that lies elsewhere is told of, and can be removed.
  await page.getByRole('button', { name: 'On left' }).click();
  await add('far.obj', 'v 90 0 1\nv 91 0 1\nv 91 0 -1\nf 1 2 3\n');
  await expect(panel).toContainText('must have the same shape');
  await chip(page, 'Remove').click();
  await expect(panel).toContainText('Form is measured on this model');
  await expect(page.getByRole('button', { name: 'Denser model', exact: true })).toBeVisible();
});

test('a stand-in is moved and turned on the model, and its normals leave with the model @slow', async ({
  page,
}) => {
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await stage(page, 'Block in');
  const box = (await page.getByTestId('viewport').boundingBox())!;
  await chip(page, 'Model').click();
  await chip(page, 'Top').click();
  await page.mouse.click(box.x + box.width / 2 - 60, box.y + box.height / 2);
  await stage(page, 'Form');
  await command(page, 'add a layer: light');
  await page.getByRole('button', { name: /^Calm light/ }).click();
  await chip(page, 'ellipsoid').click();
  await page.getByRole('button', { name: /^Left/ }).click();
  await chip(page, 'On the model').click();
  const handle = page.getByLabel('Move the stand-in');
  const before = (await handle.boundingBox())!;
  await page.mouse.move(before.x + 8, before.y + 8);
  await page.mouse.down();
  await page.mouse.move(before.x + 58, before.y + 38, { steps: 4 });
  await page.mouse.up();
  await settled(page);
  const after = (await handle.boundingBox())!;
  expect(Math.abs(after.x - before.x - 50)).toBeLessThan(4);
  expect(Math.abs(after.y - before.y - 30)).toBeLessThan(4);
  await page.keyboard.press('Escape');
  await expect(handle).toHaveCount(0);
  await stage(page, 'Deliver');
  const normalsOf = async (): Promise<number[]> => {
    const file = await downloaded(page, () => page.getByRole('button', { name: /^Unlit model/ }).click());
    const read = await new NodeIO()
      .registerExtensions([KHRMaterialsUnlit])
      .readBinary(new Uint8Array(file.bytes));
    return read
      .getRoot()
      .listMeshes()
      .flatMap((m) => m.listPrimitives().flatMap((p) => [...p.getAttribute('NORMAL')!.getArray()!]));
  };
  const plain = await normalsOf();
  await page.getByLabel('Normals').selectOption({ index: 1 });
  const calm = await normalsOf();
  expect(plain.every((n, i) => Math.abs(n - (i % 3 === 1 ? 1 : 0)) < 1e-5)).toBe(true);
  expect(calm.some((n, i) => Math.abs(n - plain[i]!) > 0.2)).toBe(true);
});

test('a recipe is edited as a copy: its name, what is said of it, and a layer less @slow', async ({
  page,
}) => {
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await stage(page, 'Form');
  await expect(page.locator('.shelf-card')).toHaveCount(8);
  await page.getByRole('button', { name: 'Stone kerb', exact: true }).click();
  const name = (await page.getByRole('button', { name: 'Stone kerb', exact: true }).boundingBox())!;
  const menu = (await page.locator('.shelf .dropdown-menu.show').boundingBox())!;
  // It stands on its button, within the window.
  expect(menu.x).toBeLessThanOrEqual(name.x + name.width);
  expect(menu.x + menu.width).toBeGreaterThan(name.x);
  expect(Math.abs(menu.y + menu.height - name.y)).toBeLessThan(12);
  await page.getByRole('button', { name: 'Edit a copy…' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Name').fill('Wet kerb');
  await dialog.getByLabel('What it is good for').fill('Stone after rain.');
  const layers = await dialog.locator('.recipe-layers li').count();
  await dialog
    .getByRole('button', { name: /^Remove / })
    .first()
    .click();
  await expect(dialog.locator('.recipe-layers li')).toHaveCount(layers - 1);
  await dialog.getByRole('button', { name: 'Keep it' }).click();
  await expect(dialog).toHaveCount(0);
  await expect(page.locator('.shelf-card')).toHaveCount(9);
  await page.reload();
  await ready(page);
  await expect(page.getByRole('button', { name: 'Wet kerb', exact: true })).toBeVisible();
});
