import { expect, test, type Page } from '@playwright/test';
import { PNG } from 'pngjs';
import { unzipSync } from 'fflate';
import { writeUnlitGlb, encodePng } from '../../core/formats';
import { projection, seeModel, seenColors, type MatchCamera } from '../../core/match';
import type { UvMesh } from '../../core/mesh';
import { ball, together } from '../shapes';
import {
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
} from './helpers';

/** A large ball with two small ones beside it: it looks the same from no two sides. */
const MESH: UvMesh = together(
  ball(40, 20, 1, [0, 0, 0]),
  ball(24, 12, 0.4, [1.1, 0.7, 0.4]),
  ball(24, 12, 0.3, [-0.9, -0.9, 0.5]),
);
const CAMERA: MatchCamera = {
  position: [2.4, 1.6, 6],
  target: [0.1, 0, 0],
  up: [0, 1, 0],
  fovY: 34,
  shift: [0, 0],
  width: 300,
  height: 360,
};

/** What an independent hand would have drawn: each ball in one colour, on a plain ground. */
function drawn(): Buffer {
  const seen = seeModel(MESH, CAMERA);
  const rgba = seenColors(MESH, seen, [{ width: 4, height: 4, rgba: new Uint8Array(64).fill(200) }]);
  const colors = [
    [176, 96, 58],
    [60, 120, 120],
    [226, 196, 140],
  ] as const;
  seen.faces.forEach((f, i) =>
    rgba.set(f < 0 ? [150, 182, 190, 255] : [...colors[MESH.faceParts[f]!]!, 255], i * 4),
  );
  return Buffer.from(encodePng({ width: CAMERA.width, height: CAMERA.height, rgba }));
}

async function begun(page: Page): Promise<void> {
  await startEmpty(page);
  await beginProject(page, 'balls.glb', Buffer.from(await writeUnlitGlb(MESH, 'Balls', [])));
  const chooser = page.waitForEvent('filechooser');
  await chip(page, 'Add…').first().click();
  await (await chooser).setFiles({ name: 'drawn.png', mimeType: 'image/png', buffer: drawn() });
  await settled(page);
  await stage(page, 'Match');
  await expect(page.getByAltText('drawn')).toBeVisible();
}

/** Nothing is being compared any more, and the figures are those of what is seen. */
async function measured(page: Page): Promise<void> {
  await settled(page);
  await page.waitForTimeout(500);
  await expect(page.locator('.panel.match')).toHaveAttribute('aria-busy', 'false', { timeout: 40_000 });
}

const figures = (page: Page) => page.getByTestId('figures').locator('dd').allTextContents();

test('the camera is told by pairs pressed on model and picture; the report measures, a proposal brings a part near and is taken back or kept', async ({
  page,
}) => {
  await begun(page);
  await chip(page, 'Set pairs').click();
  await chip(page, 'Front').click();
  await settled(page);
  // Places of the front of each ball, as a person finds them on both.
  const places = [
    [0, 0.9, 0.436],
    [0, -0.9, 0.436],
    [0.6, 0, 0.8],
    [-0.8, 0.3, 0.52],
    [1.1, 0.7, 0.8],
    [-0.9, -0.9, 0.8],
  ] as const;
  const view = (await page.getByTestId('viewport').boundingBox())!;
  // From the front without perspective: two places tell where all are seen.
  const box = await onModel(page);
  const image = (await page.getByAltText('drawn').boundingBox())!;
  const see = projection(CAMERA);
  for (const place of places) {
    await page.mouse.click(...box(place));
    const { x, y } = see(place);
    await page.mouse.click(
      image.x + (x / CAMERA.width) * image.width,
      image.y + (y / CAMERA.height) * image.height,
    );
    await settled(page);
  }
  await expect(page.locator('.pairs li')).toHaveCount(6);
  const off = await page.locator('.pairs li span').allTextContents();
  expect(Math.max(...off.map((t) => Number.parseFloat(t)))).toBeLessThan(3);
  await page.keyboard.press('Escape');
  await chip(page, 'Set pairs').click();
  await expect(page.getByTestId('figures')).toBeVisible({ timeout: 30_000 });
  await measured(page);
  expect(Number.parseInt((await figures(page))[2]!, 10)).toBeGreaterThan(95);
  const before = Number.parseFloat((await figures(page))[0]!);
  expect(before).toBeGreaterThan(10);
  expect(view.width).toBeGreaterThan(0);

  // The largest ball is what helps most.
  await page.locator('.advice li').first().getByRole('button', { name: 'Apply' }).click();
  const trial = page.getByTestId('trial');
  await expect(trial).toBeVisible({ timeout: 40_000 });
  await expect.poll(async () => Number.parseFloat((await figures(page))[0]!)).toBeLessThan(before - 4);
  await measured(page);
  await chip(page, 'Undo this').click();
  await expect.poll(async () => Number.parseFloat((await figures(page))[0]!)).toBeCloseTo(before, 0);
  await page.locator('.advice li').first().getByRole('button', { name: 'Apply' }).click();
  await expect(trial).toBeVisible({ timeout: 40_000 });
  await chip(page, 'Keep').click();
  await chip(page, 'Keep this look').click();
  await expect(page.locator('.look-card')).toHaveText(/Look 1 · /);

  // Opened again it is as it was; the file holds camera, pairs and the look's picture.
  await kept(page);
  await page.reload();
  await ready(page);
  await expect(page.locator('.look-card')).toHaveText(/Look 1 · /);
  await expect(page.getByTestId('figures')).toBeVisible({ timeout: 30_000 });
  const file = unzipSync((await downloaded(page, () => page.keyboard.press('Control+s'))).bytes);
  const { document } = JSON.parse(Buffer.from(file['project.json']!).toString()) as {
    document: { references: { match: { pairs: unknown[]; camera: MatchCamera } }[]; looks: { id: number }[] };
  };
  expect(document.references[0]!.match.pairs).toHaveLength(6);
  document.references[0]!.match.camera.position.forEach((v, k) =>
    expect(v).toBeCloseTo(CAMERA.position[k]!, 0),
  );
  expect(PNG.sync.read(Buffer.from(file[`looks/${document.looks[0]!.id}.png`]!)).height).toBe(320);
});

test('a free drawing shows what it bends; pictures that tell nothing say so, and nothing is lost @slow', async ({
  page,
}) => {
  await begun(page);
  await chip(page, 'Drawn freely').click();
  await chip(page, 'Find it').click();
  await expect(page.getByText(/^Found: the silhouettes share/)).toBeVisible({ timeout: 60_000 });
  await expect(page.getByTestId('bends').locator('line').first()).toBeAttached({ timeout: 30_000 });
  await page.getByRole('button', { name: 'What the drawing bends' }).click();
  await chip(page, 'Arrows on the picture').click();
  await expect(page.getByTestId('bends')).toHaveCount(0);

  const size = { width: 200, height: 240 };
  const empty = encodePng({ ...size, rgba: new Uint8Array(size.width * size.height * 4) });
  const add = async (name: string, buffer: Uint8Array): Promise<void> => {
    const chooser = page.waitForEvent('filechooser');
    await chip(page, 'Add another reference').click();
    await (await chooser).setFiles({ name, mimeType: 'image/png', buffer: Buffer.from(buffer) });
  };
  await add('words.png', new TextEncoder().encode('no picture'));
  await expect(page.getByText(/words\.png.*is not a picture/)).toBeVisible();
  await add('clear.png', empty);
  await expect(page.getByLabel('Against which reference')).toContainText('clear');
  await settled(page);
  await chip(page, 'Find it').click();
  await expect(page.getByText(/stands out of its ground.*set pairs of places instead/)).toBeVisible({
    timeout: 30_000,
  });
  // The first one is as it was.
  await page.getByLabel('Against which reference').selectOption({ label: 'drawn' });
  await expect(page.getByTestId('figures')).toBeVisible({ timeout: 30_000 });
});

/** Where places of the model are seen from the front, without perspective: by the box of what is drawn. */
async function onModel(page: Page): Promise<(p: readonly [number, number, number]) => [number, number]> {
  const { png, left, top } = await picture(page);
  const half = Math.floor(png.width / 2);
  const ground = pixel(png, 30, 200).join();
  let [x0, x1, y0, y1] = [half, 0, png.height, 0];
  for (let y = 46; y < png.height - 46; y++) {
    for (let x = 18; x < half - 4; x++) {
      if (pixel(png, x, y).join() === ground) continue;
      [x0, x1, y0, y1] = [Math.min(x0, x), Math.max(x1, x), Math.min(y0, y), Math.max(y1, y)];
    }
  }
  // From -1.2 to 1.5 across, from -1.2 to 1.1 upright.
  return ([x, y]) => [left + x0 + ((x + 1.2) / 2.7) * (x1 - x0), top + y0 + ((1.1 - y) / 2.3) * (y1 - y0)];
}

test('the camera is found by itself; both are laid over one another, wiped at an angle, seen in tones, and the distance shown on picture, model and sheet @slow', async ({
  page,
}) => {
  await begun(page);
  await chip(page, 'Find it').click();
  await expect(page.getByText(/^Found: the silhouettes share (9\d|100) %/)).toBeVisible({ timeout: 60_000 });
  await expect(page.getByTestId('figures')).toBeVisible({ timeout: 30_000 });
  const pane = page.getByTestId('match-pane');

  // Over all of the middle: the bare model at the left of the line, the drawn one at its right.
  await page.keyboard.press('w');
  await expect(pane).toHaveAttribute('data-ready', 'true');
  const middleColor = async () => {
    const { png } = await picture(page);
    const [w, h] = [png.width / 2, png.height / 2];
    return { left: pixel(png, w - 40, h), right: pixel(png, w + 40, h) };
  };
  const wiped = await middleColor();
  expect(wiped.right.map((c, k) => Math.abs(c - [176, 96, 58][k]!)).every((d) => d < 6)).toBe(true);
  expect(wiped.left.join()).not.toBe(wiped.right.join());
  // The line is dragged to the right: the painting is seen there too.
  const { png, left, top } = await picture(page);
  await page.mouse.move(left + png.width / 2, top + png.height / 2);
  await page.mouse.down();
  await page.mouse.move(left + png.width / 2 + 120, top + png.height / 2, { steps: 4 });
  await page.mouse.up();
  const dragged = await middleColor();
  expect(dragged.right).toEqual(dragged.left);
  await page.getByRole('slider', { name: 'Angle of the wipe' }).focus();
  await page.keyboard.press('ArrowRight');
  await expect(page.getByRole('slider', { name: 'Angle of the wipe' })).toHaveAttribute(
    'aria-valuenow',
    '16',
  );

  await page.keyboard.press('s');
  await page.keyboard.press('2');
  await expect(pane).toHaveAttribute('data-ready', 'true');
  const { png: grey } = await picture(page);
  const [r, g, b] = pixel(grey, (grey.width * 3) / 4, grey.height / 2);
  expect([g, b]).toEqual([r, r]);
  await page.keyboard.press('1');

  // Distance: on the model and on the picture in the same colours.
  await page.keyboard.press('End');
  await expect(pane.locator('canvas')).toBeVisible({ timeout: 15_000 });
  await settled(page);
  const { png: heat } = await picture(page);
  const [model, reference] = [
    pixel(heat, heat.width / 4, heat.height / 2),
    pixel(heat, (heat.width * 3) / 4, heat.height / 2),
  ];
  model.forEach((c, k) => expect(Math.abs(c - reference[k]!)).toBeLessThan(90));
  expect(model.join()).not.toBe(wiped.left.join());
  await page.keyboard.press('End');

  // The picture is laid on what it sees: from there the two are alike.
  await page.getByRole('button', { name: 'From reference to paint' }).click();
  await chip(page, 'Project it').click();
  await expect
    .poll(async () => Number.parseFloat((await figures(page))[0]!), { timeout: 40_000 })
    .toBeLessThan(8);
  await chip(page, 'Fill the rest').click();
  await stage(page, 'Paint');
  await expect(page.locator('.layer', { hasText: 'Guessed along the surface' })).toBeVisible();
  await expect(page.locator('.layer', { hasText: 'Projected: drawn' })).toBeVisible();
});
