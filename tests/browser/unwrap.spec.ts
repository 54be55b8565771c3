import { expect, test, type Page } from '@playwright/test';
import { PNG } from 'pngjs';
import { readModel } from '../../core/formats';
import { topologyOf } from '../../core/mesh';
import { layoutSeams, measureLayout } from '../../core/unwrap';
import {
  beginProject,
  chooseModel,
  chip,
  downloaded,
  kept,
  modelBox,
  picture,
  pixel,
  ready,
  settled,
  stage,
  startEmpty,
  stroke,
} from './helpers';

/** A ball without UVs, its quads in rows: 24 round, 16 from pole to pole. */
function ballObj(): string {
  const lines = ['o Ball'];
  const [n, m] = [24, 16];
  for (let j = 1; j < m; j++) {
    for (let i = 0; i < n; i++) {
      const [a, b] = [(i / n) * 2 * Math.PI, (j / m) * Math.PI];
      lines.push(`v ${Math.sin(b) * Math.sin(a)} ${Math.cos(b)} ${Math.sin(b) * Math.cos(a)}`);
    }
  }
  lines.push('v 0 1 0', 'v 0 -1 0');
  const at = (i: number, j: number): number => (j - 1) * n + (i % n) + 1;
  const [top, bottom] = [(m - 1) * n + 1, (m - 1) * n + 2];
  for (let i = 0; i < n; i++) {
    lines.push(`f ${top} ${at(i, 1)} ${at(i + 1, 1)}`);
    for (let j = 1; j < m - 1; j++)
      lines.push(`f ${at(i, j)} ${at(i, j + 1)} ${at(i + 1, j + 1)} ${at(i + 1, j)}`);
    lines.push(`f ${at(i, m - 1)} ${bottom} ${at(i + 1, m - 1)}`);
  }
  return `${lines.join('\n')}\n`;
}

const section = (page: Page, name: string) =>
  page.getByRole('group', { name: 'Section' }).getByRole('button', { name, exact: true });
const figure = async (page: Page, name: string): Promise<number> => {
  const cell = page.locator('.figures tr', { hasText: name }).locator('td').first();
  await expect(cell).not.toHaveText('…');
  return Number((await cell.textContent())!.replace(/[ %,]/g, ''));
};

test('a model without UVs is laid out, seamed by hand, flattened, packed and painted; laid out anew, the paint is where it was', async ({
  page,
}) => {
  await startEmpty(page);
  await beginProject(page, 'ball.obj', ballObj());
  await stage(page, 'Unwrap');
  expect(await figure(page, 'Overlapping')).toBe(0);
  expect(await figure(page, 'Face down')).toBe(0);

  // The layout's seams are marked. One's own goes from point to point, taken back and done again.
  await section(page, 'Seams').click();
  const count = async (): Promise<number> =>
    Number((await page.getByText(/^\d+ edges are marked/).textContent())!.split(' ')[0]);
  const found = await count();
  expect(found).toBeGreaterThan(3);
  await chip(page, 'Model').click();
  await chip(page, 'Front').click();
  const { png, left, top } = await picture(page);
  const box = modelBox(png);
  const [x, y] = [left + (box.left + box.right) / 2, top + (box.top + box.bottom) / 2];
  const r = (box.right - box.left) / 2;
  await chip(page, 'Draw').click();
  await page.mouse.click(x, y - r * 0.8);
  await page.mouse.move(x, y + r * 0.7, { steps: 4 });
  await page.mouse.click(x, y + r * 0.8);
  await page.keyboard.press('Escape');
  await settled(page);
  await chip(page, 'Draw').click();
  await expect.poll(count).toBeGreaterThan(found);
  const marked = await count();
  await chip(page, 'Undo').click();
  await expect.poll(count).toBe(found);
  await chip(page, 'Redo').click();
  await expect(page.getByText(new RegExp(`^${marked} edges`))).toBeVisible();
  // A whole loop by one click beside the seam.
  await chip(page, 'Loop').click();
  await page.mouse.click(x + r * 0.4, y - 1);
  await expect(page.getByText(new RegExp(`^${marked} edges`))).toHaveCount(0);

  // Taken off in the same way, loop and all, and marked again by undoing that.
  const withLoop = (await page.getByText(/^\d+ edges are marked/).textContent())!;
  await chip(page, 'Unmark').click();
  await page.mouse.click(x + r * 0.4, y - 1);
  await expect(page.getByText(withLoop, { exact: true })).toHaveCount(0);
  await chip(page, 'Undo').click();
  await expect(page.getByText(withLoop, { exact: true })).toBeVisible();
  await page
    .getByRole('group', { name: 'What is done to the edges' })
    .getByRole('button', { name: 'Mark', exact: true })
    .click();

  await chip(page, 'Unwrap along the seams').click();
  await ready(page);
  await section(page, 'Islands').click();
  await chip(page, 'Pack evenly').click();
  await ready(page);
  await section(page, 'Layout').click();
  expect(await figure(page, 'Overlapping')).toBe(0);
  expect(await figure(page, 'Face down')).toBe(0);

  await stage(page, 'Paint');
  await page.getByRole('radio', { name: 'Flat paint' }).click();
  await stroke(page, [
    [x - r * 0.5, y],
    [x + r * 0.5, y + r * 0.2],
  ]);
  const painted = await picture(page);
  const spot = [x - left, y + r * 0.1 - top] as const;
  const color = pixel(painted.png, ...spot);
  expect(color).not.toEqual(pixel(png, ...spot));

  await stage(page, 'Unwrap');
  await section(page, 'Layout').click();
  const before = await figure(page, 'Islands');
  await chip(page, 'Preview').click();
  await expect(chip(page, 'Apply this layout')).toBeVisible({ timeout: 30_000 });
  await chip(page, 'Dismiss').click();
  await page.getByLabel('Cut').selectOption('even');
  await chip(page, 'Lay out').click();
  await expect(page.getByText(/painted again from the strokes/)).toBeVisible({ timeout: 60_000 });
  await ready(page);
  expect(await figure(page, 'Stretch')).toBeLessThan(1.06);
  expect(await figure(page, 'Islands')).not.toBe(before);
  await stage(page, 'Paint');
  const after = await picture(page);
  let unlike = 0;
  for (let dx = -20; dx <= 20; dx++) {
    const is = pixel(after.png, spot[0] + dx, spot[1]);
    const was = pixel(painted.png, spot[0] + dx, spot[1]);
    if (is.some((c, k) => Math.abs(c - was[k]!) > 6)) unlike++;
  }
  expect(unlike).toBe(0);

  // The step survives a reload and can be undone after it, with the former layout and its pixels.
  await kept(page);
  await page.reload();
  await ready(page);
  await chip(page, 'Undo').click();
  await ready(page);
  await expect(page.getByRole('navigation')).toContainText(`${before} island`);
  await stage(page, 'Paint');
  await chip(page, 'Model').click();
  await chip(page, 'Front').click();
  // The stroke is there, though the picture was framed anew: not to the pixel where it was.
  const { png: again } = await picture(page);
  const along = Array.from({ length: 81 }, (_, k) => pixel(again, spot[0], spot[1] + k - 40));
  expect(along.some((c) => c.every((v, i) => Math.abs(v - color[i]!) <= 2))).toBe(true);
});

test('a seam is dragged, wishes are painted, and laid out anew the seam stays and keeps away from where it isn’t wanted', async ({
  page,
}) => {
  await startEmpty(page);
  await beginProject(page, 'ball.obj', ballObj());
  await stage(page, 'Unwrap');

  // Found seams are seen before they are taken, along the whole way from fewest seams to least stretch.
  await chip(page, 'Preview').click();
  await expect(chip(page, 'Apply this layout')).toBeVisible({ timeout: 60_000 });
  const figures = page.locator('.cut-figures');
  const lengthAt = async (place: number): Promise<number> => {
    await page.getByRole('slider', { name: /From fewest seams/ }).fill(String(place));
    return Number(/seams ([\d.]+)/.exec((await figures.textContent())!)![1]);
  };
  const [long, short] = [await lengthAt(900), await lengthAt(0)];
  expect(long).toBeGreaterThan(short);
  await expect(page.getByRole('table', { name: 'What the layout is worth' })).toContainText('new');
  await ready(page);
  await chip(page, 'Apply this layout').click();
  await ready(page);
  await section(page, 'Seams').click();
  const count = async (): Promise<number> =>
    Number((await page.getByText(/^\d+ edges? (are|is) marked/).textContent())!.split(' ')[0]);
  await expect.poll(count).toBeGreaterThan(3);
  const found = await count();

  // A seam of one's own, drawn down the front and dragged to the right.
  await chip(page, 'Model').click();
  await chip(page, 'Front').click();
  const { png, left, top } = await picture(page);
  const box = modelBox(png);
  const [x, y] = [left + (box.left + box.right) / 2, top + (box.top + box.bottom) / 2];
  const r = (box.right - box.left) / 2;
  await chip(page, 'Draw').click();
  await page.mouse.click(x, y - r * 0.7);
  await page.mouse.click(x, y + r * 0.7);
  await page.keyboard.press('Escape');
  await settled(page);
  await chip(page, 'Draw').click();
  await expect.poll(count).toBeGreaterThan(found);
  await chip(page, 'Slide').click();
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + r * 0.3, y, { steps: 5 });
  await page.mouse.move(x + r * 0.5, y, { steps: 5 });
  await settled(page);
  await page.mouse.up();
  await settled(page);
  await expect(chip(page, 'Undo')).toHaveAttribute('title', /Change the seams/);
  const isOrange = ([red, green, blue]: readonly number[]): boolean =>
    red! > 200 && green! < 170 && blue! < 110;
  const orangeNear = (shot: PNG, px: number, py: number): boolean => {
    for (let dx = -6; dx <= 6; dx++) if (isOrange(pixel(shot, px - left + dx, py - top))) return true;
    return false;
  };
  const moved = (await picture(page)).png;
  expect(orangeNear(moved, x + r * 0.5, y)).toBe(true);
  expect(orangeNear(moved, x, y)).toBe(false);
  await chip(page, 'Undo').click();
  await settled(page);
  expect(orangeNear((await picture(page)).png, x, y)).toBe(true);
  await chip(page, 'Redo').click();
  await settled(page);

  // Nothing is wanted on the left half of the front.
  await chip(page, 'Never here').click();
  await page.getByRole('slider', { name: /How wide the brush/ }).fill('1000');
  await page.mouse.move(x - r * 0.5, y - r * 0.5);
  await page.mouse.down();
  await page.mouse.move(x - r * 0.5, y + r * 0.5, { steps: 6 });
  await page.mouse.up();
  await settled(page);
  await expect(chip(page, 'Undo')).toHaveAttribute('title', /where seams are wanted/);
  await section(page, 'Layout').click();
  await chip(page, 'Lay out').click();
  await ready(page);
  await expect(chip(page, 'Undo')).toHaveAttribute('title', /Lay out the model/);

  // What is delivered is cut along the dragged seam, and nowhere on the left half of the front: read and measured apart from the application.
  const glb = await downloaded(page, () => chip(page, 'GLB').click());
  const made = await readModel('ball.glb', glb.bytes, new Map());
  const topology = topologyOf(made);
  const isSeam = layoutSeams({ ...made, uvs: made.uvs! }, topology);
  const middles = [...isSeam.keys()]
    .filter((e) => isSeam[e])
    .map((e) =>
      [0, 1, 2].map(
        (k) =>
          (made.positions[topology.edges.ends[e * 2]! * 3 + k]! +
            made.positions[topology.edges.ends[e * 2 + 1]! * 3 + k]!) /
          2,
      ),
    );
  expect(middles.some(([px, py, pz]) => Math.hypot(px! - 0.5, py!) < 0.2 && pz! > 0)).toBe(true);
  expect(middles.filter(([px, py, pz]) => Math.hypot(px! + 0.5, py!) < 0.3 && pz! > 0)).toEqual([]);

  // Where places are held is shown; where there are no stairs, nothing is cut.
  await section(page, 'Seams').click();
  await chip(page, 'Slide').click();
  await expect(page.getByRole('img', { name: /Seams are held at 1 place/ })).toBeVisible();
  await chip(page, 'Cut straight').click();
  await expect(page.getByText(/No seam has stairs/)).toBeVisible();
  await ready(page);

  // And after a reload, with what holds it.
  await kept(page);
  await page.reload();
  await ready(page);
  await section(page, 'Seams').click();
  await expect.poll(count).toBeGreaterThan(3);
});

test('islands are chosen in the table, moved by number, and delivered as SVG, PNG and OBJ', async ({
  page,
}) => {
  await startEmpty(page);
  await beginProject(page, 'ball.obj', ballObj());
  await stage(page, 'Unwrap');
  await section(page, 'Islands').click();
  const rows = page.locator('.island-table tbody button');
  await expect(rows.first()).toBeVisible();
  await page.getByRole('button', { name: 'Sheet', exact: true }).last().click();
  await rows.first().click();
  await expect(page.getByText('1 island', { exact: true })).toBeVisible();
  await page.getByLabel('Right, texels').fill('8');
  await page.getByLabel('Turn, degrees').fill('90');
  await chip(page, 'Move').click();
  await ready(page);
  await expect(chip(page, 'Undo')).toHaveAttribute('title', /Move islands/);
  await section(page, 'Layout').click();
  const svg = await downloaded(page, () => chip(page, 'SVG').click());
  expect(svg.name).toBe('ball-layout.svg');
  expect(svg.bytes.toString()).toContain('<path id="Ball"');
  const png = PNG.sync.read((await downloaded(page, () => chip(page, 'PNG').click())).bytes);
  expect([png.width, png.height]).toEqual([512, 512]);
  // Lines alone leave the islands open.
  const shown = (picture: PNG): number => picture.data.filter((a, i) => i % 4 === 3 && a > 0).length;
  await chip(page, 'Filled').click();
  const lines = PNG.sync.read((await downloaded(page, () => chip(page, 'PNG').click())).bytes);
  expect(shown(lines)).toBeLessThan(shown(png) * 0.8);
  expect(shown(lines)).toBeGreaterThan(1000);
  const obj = await downloaded(page, () => chip(page, 'OBJ').click());
  const mesh = await readModel('ball.obj', obj.bytes, new Map());
  expect(mesh.indices.length / 3).toBe(24 * 2 * 15);
  expect(measureLayout({ ...mesh, uvs: mesh.uvs! }, 512).flipped).toBe(0);
});

test('a tube in any direction is unrolled, straightened and packed, upright and face up @slow', async ({
  page,
}) => {
  const [columns, rows] = [12, 8];
  const lines = ['o Arm'];
  for (let j = 0; j <= rows; j++) {
    for (let i = 0; i < columns; i++) {
      const a = (i / columns) * 2 * Math.PI;
      const [x, y] = [(1.6 * j) / rows - 0.6 * 0.2 * Math.cos(a), (1.2 * j) / rows + 0.8 * 0.2 * Math.cos(a)];
      lines.push(`v ${x} ${y} ${0.2 * Math.sin(a)}`);
    }
  }
  for (let j = 0; j < rows; j++) {
    for (let i = 0; i < columns; i++) {
      const [a, b] = [j * columns + i + 1, j * columns + ((i + 1) % columns) + 1];
      lines.push(`f ${a} ${b} ${b + columns} ${a + columns}`);
    }
  }
  await startEmpty(page);
  await beginProject(page, 'arm.obj', lines.join('\n'));
  await stage(page, 'Unwrap');
  await section(page, 'Islands').click();
  await page.keyboard.press('Control+a');
  for (const what of ['Cylinder', 'Straighten', 'Pack evenly']) {
    await chip(page, what).click();
    await ready(page);
  }
  await section(page, 'Layout').click();
  await expect.poll(() => figure(page, 'Islands')).toBe(1);
  expect(await figure(page, 'Overlapping texels')).toBe(0);
  expect(await figure(page, 'Face down')).toBe(0);
  expect(await figure(page, 'Worst stretch')).toBeLessThanOrEqual(1.1);
  // Undone in one step each, back to what it was laid out as.
  for (let n = 0; n < 3; n++) {
    await chip(page, 'Undo').click();
    await ready(page);
  }
  await expect(chip(page, 'Undo')).toBeDisabled();
});

test('mirrored halves on the same texels are named, and separated in one step', async ({ page }) => {
  // A roof of two slopes, each the other's mirror image on the sheet; the triangles of both in turn.
  const roof = [
    'o Roof',
    ...[-1, 0, 1].flatMap((x) => [-1, 1].map((z) => `v ${x} ${1 - Math.abs(x)} ${z}`)),
    'vt 0.1 0.9',
    'vt 0.1 0.1',
    'vt 0.9 0.9',
    'vt 0.9 0.1',
    'f 3/1 4/2 6/4',
    'f 4/2 3/1 1/3',
    'f 3/1 6/4 5/3',
    'f 4/2 1/3 2/4',
  ].join('\n');
  await startEmpty(page);
  await chooseModel(page, 'roof.obj', roof);
  await page.getByText('Keep its own UVs').click();
  await page.getByRole('button', { name: 'Begin', exact: true }).click();
  await page.waitForURL(/\/model$/);
  await ready(page);
  await expect(page.getByRole('navigation')).toContainText('twins');
  await stage(page, 'Unwrap');
  await section(page, 'Islands').click();
  await page.getByRole('button', { name: /^Twins/ }).click();
  const pair = page.getByRole('button', { name: /^Roof (left = Roof right|right = Roof left), mirrored$/ });
  await pair.click();
  await expect(page.getByText('1 island', { exact: true })).toBeVisible();
  await page.getByLabel('Shared texels').selectOption('first');
  await chip(page, 'Separate').click();
  await ready(page);
  await expect(pair).toHaveCount(0);
  await section(page, 'Layout').click();
  await expect.poll(() => figure(page, 'Overlapping texels')).toBe(0);
  expect(await figure(page, 'Islands')).toBe(2);
  expect(await figure(page, 'Face down')).toBe(0);
  await chip(page, 'Undo').click();
  await ready(page);
  await expect(page.getByRole('navigation')).toContainText('twins');
});
