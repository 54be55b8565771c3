import { expect, test, type Page } from '@playwright/test';
import { PNG } from 'pngjs';
import { readModel, writeUnlitGlb } from '../../core/formats';
import { putOnSheet } from '../../core/mesh';
import { floorQuad, quads } from '../shapes';
import {
  beginProject,
  chip,
  chooseModel,
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
} from './helpers';

const section = (page: Page, name: string) =>
  page.getByRole('group', { name: 'Section' }).getByRole('button', { name, exact: true });
const pane = (page: Page, name: string) =>
  page.getByRole('group', { name: 'View' }).getByRole('button', { name, exact: true });

/** Box of the texture coordinates of a part in an OBJ file. */
async function boxOfPart(
  bytes: Uint8Array,
  part: string,
): Promise<{ left: number; low: number; width: number; height: number }> {
  const mesh = await readModel('model.obj', bytes, new Map());
  const us: number[] = [];
  const vs: number[] = [];
  mesh.indices.forEach((v, c) => {
    if (mesh.parts[mesh.faceParts[Math.floor(c / 3)]!] !== part) return;
    us.push(mesh.uvs![v * 2]!);
    vs.push(mesh.uvs![v * 2 + 1]!);
  });
  const [left, low] = [Math.min(...us), Math.min(...vs)];
  return { left, low, width: Math.max(...us) - left, height: Math.max(...vs) - low };
}

test('a part goes to a sheet of its own; one stroke paints both, and both are delivered at their own sizes @slow', async ({
  page,
}) => {
  await startEmpty(page);
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await page.locator('.parts .part-name', { hasText: 'Right' }).click();
  await page.getByLabel(/^Sheet/).selectOption('new');
  await ready(page);
  await expect(page.getByRole('navigation')).toContainText('2 sheets');
  await stage(page, 'Unwrap');
  await page.getByLabel('Size of Sheet 2').selectOption('256');
  await ready(page);
  await expect(page.getByLabel('Size of Sheet 1')).toHaveValue('512');
  // Each sheet shows what lies on it.
  await section(page, 'Islands').click();
  await expect(page.locator('.island-table tbody')).toHaveText(/Right/);
  await pane(page, 'Sheet 1').click();
  await expect(page.locator('.island-table tbody')).toHaveText(/Left/);
  await expect(page.locator('.island-table tbody')).not.toHaveText(/Right/);

  await stage(page, 'Paint');
  await pane(page, 'Model').click();
  await chip(page, 'Top').click();
  await page.getByRole('radio', { name: 'Flat paint' }).click();
  await chip(page, 'Part').click();
  await page.keyboard.press('e');
  const { png, left, top } = await picture(page);
  const box = modelBox(png);
  const [x, y, r] = [(box.left + box.right) / 2, (box.top + box.bottom) / 2, (box.right - box.left) / 2];
  await stroke(page, [
    [left + x - r * 0.5, top + y],
    [left + x + r * 0.5, top + y],
  ]);
  const painted = await picture(page);
  const [before, after] = [pixel(painted.png, x - r * 0.3, y), pixel(painted.png, x + r * 0.3, y)];
  expect(before).toEqual(after);
  expect(before).not.toEqual(pixel(png, x - r * 0.3, y));

  await stage(page, 'Deliver');
  for (const [name, size, u] of [
    ['Sheet 1', 512, 0.35],
    ['Sheet 2', 256, 0.65],
  ] as const) {
    const file = await downloaded(page, () => page.getByRole('button', { name: `Albedo: ${name}` }).click());
    expect(file.name).toBe(`floor-${name.toLowerCase().replace(' ', '-')}-albedo.png`);
    const sheet = PNG.sync.read(file.bytes);
    expect([sheet.width, sheet.height]).toEqual([size, size]);
    expect(pixel(sheet, u * size, 0.55 * size)).toEqual(before);
  }
  const glb = await downloaded(page, () => page.getByRole('button', { name: /^Unlit model/ }).click());
  const model = await readModel('floor.glb', glb.bytes, new Map());
  expect(model.parts).toEqual(['Left', 'Right']);
  // Two base colours: as many pictures as there are sheets.
  const json = JSON.parse(glb.bytes.subarray(20, 20 + glb.bytes.readUInt32LE(12)).toString()) as {
    materials: unknown[];
    images: unknown[];
  };
  expect([json.materials.length, json.images.length]).toEqual([2, 2]);

  await kept(page);
  await page.reload();
  await ready(page);
  await expect(page.getByRole('navigation')).toContainText('2 sheets');
  for (const _step of ['stroke', 'size', 'sheet']) {
    await chip(page, 'Undo').click();
    await ready(page);
  }
  await expect(page.getByRole('navigation')).toContainText('512 × 512');
});

test('islands are dragged, turned and scaled on the sheet by their frame, and spread evenly @slow', async ({
  page,
}) => {
  await startEmpty(page);
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await stage(page, 'Unwrap');
  await pane(page, 'Sheet').click();
  await section(page, 'Islands').click();
  const view = (await page.getByTestId('viewport').boundingBox())!;
  const side = Math.min(view.width, view.height) - 28;
  const at = (u: number, v: number): [number, number] => [
    view.x + view.width / 2 + (u - 0.5) * side,
    view.y + view.height / 2 + (0.5 - v) * side,
  ];
  const drag = async (from: readonly [number, number], to: readonly [number, number]): Promise<void> => {
    await page.mouse.move(...(from as [number, number]));
    await page.mouse.down();
    await page.mouse.move(...(to as [number, number]), { steps: 5 });
    await page.mouse.up();
    await ready(page);
  };
  const obj = async (): Promise<Uint8Array> => {
    await section(page, 'Layout').click();
    const { bytes } = await downloaded(page, () => chip(page, 'OBJ').click());
    await section(page, 'Islands').click();
    return bytes;
  };
  // Chosen by a click, then dragged: to the right by 0.02 and up by 0.1.
  await page.mouse.click(...at(0.25, 0.45));
  await drag(at(0.25, 0.45), at(0.27, 0.55));
  let box = await boxOfPart(await obj(), 'Left');
  expect(box.left).toBeCloseTo(0.07, 2);
  expect(box.low).toBeCloseTo(0.15, 2);
  // It stays chosen: the knob turns it by a right angle, with Shift exactly.
  const knob = (await page.locator('.arrange-frame .turn').boundingBox())!;
  const middle = at(box.left + box.width / 2, box.low + box.height / 2);
  await page.keyboard.down('Shift');
  await drag([knob.x + 6, knob.y + 6], [middle[0] + 200, middle[1] + 3]);
  await page.keyboard.up('Shift');
  box = await boxOfPart(await obj(), 'Left');
  expect(box.width).toBeCloseTo(0.8, 4);
  expect(box.height).toBeCloseTo(0.4, 4);
  // A corner scales it; Escape on the way takes that back.
  const corner = (await page.locator('.arrange-frame .high-right').boundingBox())!;
  await page.mouse.move(corner.x + 5, corner.y + 5);
  await page.mouse.down();
  await page.mouse.move(corner.x - 60, corner.y + 30, { steps: 4 });
  await page.keyboard.press('Escape');
  await page.mouse.up();
  const low = at(box.left, box.low);
  await drag([corner.x + 5, corner.y + 5], [low[0] + 0.4 * side, low[1] - 0.2 * side]);
  box = await boxOfPart(await obj(), 'Left');
  expect(box.width).toBeCloseTo(0.4, 2);
  expect(box.height).toBeCloseTo(0.2, 2);
  await expect(chip(page, 'Undo')).toHaveAttribute('title', /Scale islands/);

  // Every island by a key, aligned at the bottom.
  await page.keyboard.press('Control+a');
  await expect(page.getByText('2 islands', { exact: true }).last()).toBeVisible();
  await chip(page, 'Lower edge').click();
  await ready(page);
  const aligned = await obj();
  expect((await boxOfPart(aligned, 'Left')).low).toBeCloseTo((await boxOfPart(aligned, 'Right')).low, 5);
});

/** Two squares, one the mirror image of the other across x = 0. */
const TWINS = `o Left
v -2 0 1
v -1 0 1
v -1 0.3 -1
v -2 0 -1.5
vt 0.05 0.05
vt 0.3 0.05
vt 0.3 0.4
vt 0.05 0.5
f 1/1 2/2 3/3 4/4
o Right
v 2 0 1
v 1 0 1
v 1 0.3 -1
v 2 0 -1.5
vt 0.6 0.05
vt 0.95 0.05
vt 0.95 0.85
vt 0.6 0.85
f 5/5 8/8 7/7 6/6
`;

test('mirrored twins are stacked with a warning, stay so when packed, and are painted together @slow', async ({
  page,
}) => {
  await startEmpty(page);
  await beginProject(page, 'twins.obj', TWINS);
  await stage(page, 'Unwrap');
  await section(page, 'Islands').click();
  await chip(page, 'Stack twins').click();
  await expect(page.getByText(/Light from a side .* can’t be right on both/)).toBeVisible();
  await ready(page);
  await expect(page.getByRole('navigation')).toContainText('overlaps');
  await chip(page, 'Pack evenly').click();
  await ready(page);
  await expect(page.getByRole('navigation')).toContainText('overlaps');

  await stage(page, 'Paint');
  await pane(page, 'Model').click();
  await chip(page, 'Top').click();
  await page.getByRole('radio', { name: 'Flat paint' }).click();
  const { png, left, top } = await picture(page);
  const box = modelBox(png);
  const [x, y, r] = [(box.left + box.right) / 2, (box.top + box.bottom) / 2, (box.right - box.left) / 2];
  await stroke(page, [
    [left + x - r * 0.8, top + y],
    [left + x - r * 0.7, top + y],
  ]);
  const after = (await picture(page)).png;
  const color = pixel(after, x - r * 0.75, y);
  expect(color).not.toEqual(pixel(png, x - r * 0.75, y));
  expect(pixel(after, x + r * 0.75, y)).toEqual(color);
});

/** What a new project's parts have at first. */
const LOCAL = [182, 172, 162];

test('a part becomes a region, which masks a layer; holds a stroke; removing it frees both @slow', async ({
  page,
}) => {
  await startEmpty(page);
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await pane(page, 'Model').click();
  await chip(page, 'Top').click();
  await page.locator('.parts .part-name', { hasText: 'Left' }).click();
  await chip(page, 'From the parts').click();
  const region = page.getByRole('region', { name: 'Regions' });
  await region.getByRole('button', { name: /^Left/ }).dblclick();
  await page.getByLabel('Name of the region').fill('West side');
  await page.keyboard.press('Enter');
  await expect(region.getByText('West side')).toBeVisible();

  await stage(page, 'Paint');
  const { png, left, top } = await picture(page);
  const box = modelBox(png);
  const [x, y, r] = [(box.left + box.right) / 2, (box.top + box.bottom) / 2, (box.right - box.left) / 2];
  await page.locator('.layer', { hasText: 'Local colour' }).click({ position: { x: 90, y: 15 } });
  await chip(page, 'Add a step').click();
  await page.getByRole('button', { name: 'West side', exact: true }).click();
  await expect(page.locator('.layer', { hasText: 'Local colour' })).toContainText('west side');
  const masked = (await picture(page)).png;
  expect(pixel(masked, x - r * 0.5, y)).toEqual(LOCAL);
  expect(pixel(masked, x + r * 0.5, y)).not.toEqual(LOCAL);

  // It holds a stroke too: drawn from one side to the other, it stays on the one.
  await page.locator('.layer', { hasText: 'Lines' }).click({ position: { x: 90, y: 15 } });
  await chip(page, 'Region').click();
  await page.getByRole('button', { name: 'West side', exact: true }).click();
  await chip(page, 'Part').click();
  await stroke(page, [
    [left + x - r * 0.5, top + y],
    [left + x + r * 0.5, top + y],
  ]);
  const stroked = (await picture(page)).png;
  expect(pixel(stroked, x - r * 0.5, y)).not.toEqual(pixel(masked, x - r * 0.5, y));
  expect(pixel(stroked, x + r * 0.4, y)).toEqual(pixel(masked, x + r * 0.4, y));
  await page.keyboard.press('Control+z');

  await stage(page, 'Model');
  await region.getByRole('button', { name: 'Remove' }).click();
  expect(pixel((await picture(page)).png, x + r * 0.5, y)).toEqual(pixel(png, x + r * 0.5, y));
});

test('parts with pictures of their own may use the same UVs: each gets its sheet, and nothing is warned of', async ({
  page,
}) => {
  // The upper floor lies where the lower one does, on the model and on its own sheet.
  const place = [0.1, 0.1, 0.9, 0.9] as const;
  const mesh = putOnSheet(quads([floorQuad(2, place, 'Lower'), floorQuad(1, place, 'Upper')]), [1], 1);
  const pictures = [40, 200].map((grey) => {
    const png = new PNG({ width: 8, height: 8 });
    for (let i = 0; i < 64; i++) png.data.set([grey, grey, grey, 255], i * 4);
    return new Uint8Array(PNG.sync.write(png));
  });
  await startEmpty(page);
  await chooseModel(page, 'floors.glb', Buffer.from(await writeUnlitGlb(mesh, 'Floors', pictures)));
  // Both sheets have been looked at when nothing is under way any more.
  await expect(page.getByRole('dialog')).toBeVisible();
  await expect(page.locator('.form-dialog')).toHaveAttribute('aria-busy', 'false');
  await expect(page.getByText('lie over one another')).toHaveCount(0);
  await chip(page, 'Begin').click();
  await page.waitForURL(/\/model$/);
  await ready(page);
  await expect(page.getByRole('navigation')).toContainText('2 sheets');
});
