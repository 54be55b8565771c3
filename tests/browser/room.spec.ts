import { expect, test, type Page } from '@playwright/test';
import { PNG } from 'pngjs';
import {
  beginProject,
  chip,
  drawn,
  floorToPaint,
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

const canvas = (page: Page) => page.getByRole('application', { name: 'Model and sheet' });

async function more(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'More', exact: true }).click();
}

/** Where the middle of the picture lies in the window. */
async function middleOf(page: Page): Promise<{ x: number; y: number }> {
  const box = (await page.getByTestId('viewport').boundingBox())!;
  return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
}

test('panes stand beside one another, are swapped, and are remembered with brush, size and colour @slow', async ({
  page,
}) => {
  await startEmpty(page);
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await stage(page, 'Paint');
  await chip(page, '+ Reference').click();
  await expect(page.getByText('Drop or paste a reference picture here')).toBeVisible();
  await page.keyboard.press('x');
  await expect(chip(page, 'Reference')).toHaveAttribute('aria-pressed', 'true');
  await page.getByRole('radio', { name: 'Flat paint' }).click();
  await page.getByLabel('Size, as a number').fill('77');
  await page.getByLabel('Size, as a number').press('Enter');
  await page.getByLabel('Colour in hand, as #rrggbb').fill('#123456');
  await page.getByLabel('Colour in hand, as #rrggbb').press('Enter');
  await page.getByRole('group', { name: 'Stay within' }).getByRole('button', { name: 'Part' }).click();
  await page.reload();
  await ready(page);
  await expect(chip(page, 'Reference')).toHaveAttribute('aria-pressed', 'true');
  await expect(chip(page, '+ Model')).toHaveAttribute('aria-pressed', 'true');
  await expect(page.getByRole('radio', { name: 'Flat paint' })).toBeChecked();
  await expect(page.getByLabel('Size, as a number')).toHaveValue('77 px');
  await expect(page.getByLabel('Colour in hand, as #rrggbb')).toHaveValue('#123456');
  await expect(
    page.getByRole('group', { name: 'Stay within' }).getByRole('button', { name: 'Part' }),
  ).toHaveAttribute('aria-pressed', 'false');
});

test('silhouettes are smooth; nearer than one texel a pixel texels melt together, and are exact by a key @slow', async ({
  page,
}) => {
  await startEmpty(page);
  const draw = await floorToPaint(page);
  await page.getByRole('radio', { name: 'Sharp line' }).click();
  await draw([0.3, 0.3], [0.6, 0.5]);
  await settled(page);
  await chip(page, 'Free').click();
  // What lies between two colours only, along edges: colours that are neither.
  const colors = (png: PNG): Set<string> => {
    const box = modelBox(png);
    const all = new Set<string>();
    for (let y = box.top; y <= box.bottom; y++) {
      for (let x = box.left; x <= box.right; x++) all.add(pixel(png, x, y).join());
    }
    return all;
  };
  const away = colors((await picture(page)).png);
  expect(away.size).toBeGreaterThan(6);
  // Twelve steps nearer: a texel is several pixels wide.
  await canvas(page).focus();
  for (let n = 0; n < 14; n++) await page.keyboard.press('+');
  const soft = (await picture(page)).png;
  await page.keyboard.press('e');
  const exact = (await picture(page)).png;
  const steps = (png: PNG): number => {
    let sharp = 0;
    const y = Math.round(png.height / 2);
    for (let dy = -80; dy <= 80; dy += 4) {
      for (let x = 100; x < png.width - 100; x++) {
        const [a, b] = [pixel(png, x, y + dy)[0], pixel(png, x + 1, y + dy)[0]];
        if (Math.abs(a - b) > 24) sharp++;
      }
    }
    return sharp;
  };
  expect(steps(exact)).toBeGreaterThan(steps(soft) * 2);
});

test('a small view keeps its camera, cameras are kept with the project and come back after a reload @slow', async ({
  page,
}) => {
  await startEmpty(page);
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await chip(page, 'Model').click();
  await chip(page, 'Top').click();
  await more(page);
  await page.getByLabel('Name for the present camera').fill('Above');
  await chip(page, 'Keep this camera').click();
  await expect(chip(page, 'Above')).toBeVisible();
  await more(page);
  // Of the model only: buttons look otherwise when they have the focus.
  const model = async (): Promise<string> => {
    const { png } = await picture(page);
    const lines: string[] = [JSON.stringify(modelBox(png))];
    for (let x = 200; x < 600; x += 10) lines.push(pixel(png, x, png.height / 2).join());
    return lines.join('\n');
  };
  const seen = await model();
  await chip(page, 'Free').click();
  await more(page);
  await page.getByLabel('Azimuth, as a number').fill('70');
  await page.getByLabel('Azimuth, as a number').press('Enter');
  await drawn(page);
  expect(await model()).not.toBe(seen);
  await page.keyboard.press('Escape');
  await kept(page);
  await page.reload();
  await ready(page);
  await more(page);
  await chip(page, 'Above').click();
  await more(page);
  expect(await model()).toBe(seen);

  const before = await picture(page);
  await page.keyboard.press('Shift+P');
  const pinned = (await picture(page)).png;
  const { width, height } = pinned;
  const corner = (png: PNG): string =>
    [...Array(100).keys()].map((i) => pixel(png, width - 130 + i, height - 100).join()).join();
  expect(corner(pinned)).not.toBe(corner(before.png));
  // The large view is turned; the small one stays.
  await chip(page, 'Front').click();
  expect(corner((await picture(page)).png)).toBe(corner(pinned));
  await page.keyboard.press('Shift+P');
  expect(corner((await picture(page)).png)).not.toBe(corner(pinned));
});

test('the right button opens what can be done with what lies under it; a drag with it still turns', async ({
  page,
}) => {
  await startEmpty(page);
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await chip(page, 'Model').click();
  await chip(page, 'Top').click();
  const { x, y } = await middleOf(page);
  await page.mouse.click(x + 80, y, { button: 'right' });
  const menu = page.getByRole('menu', { name: 'Right' });
  await expect(menu).toBeVisible();
  await menu.getByRole('menuitem', { name: /^See the chosen parts alone/ }).click();
  await expect(page.getByRole('button', { name: 'Show Left' })).toBeVisible();
  // By key: the first entry has the focus, Escape closes and gives the focus back.
  await page.mouse.click(x + 80, y, { button: 'right' });
  await page.keyboard.press('ArrowDown');
  await expect(menu.getByRole('menuitem').nth(1)).toBeFocused();
  await page.keyboard.press('Escape');
  await expect(menu).toHaveCount(0);
  const before = (await picture(page)).png;
  await page.mouse.move(x, y);
  await page.mouse.down({ button: 'right' });
  await page.mouse.move(x + 90, y + 30, { steps: 5 });
  await page.mouse.up({ button: 'right' });
  await expect(page.getByRole('menu')).toHaveCount(0);
  expect(Buffer.compare((await picture(page)).png.data, before.data)).not.toBe(0);
  // A layer of the build-up has one too.
  await stage(page, 'Paint');
  await page.locator('.layer', { hasText: 'Lines' }).click({ button: 'right', position: { x: 90, y: 15 } });
  await page.getByRole('menuitem', { name: /^Rename/ }).click();
  await page.getByLabel('Name of the layer').fill('Contours');
  await page.keyboard.press('Enter');
  await expect(page.locator('.layer', { hasText: 'Contours' })).toBeVisible();
});

test('keys are seen, changed, taken away and set back', async ({ page }) => {
  await startEmpty(page);
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await page.keyboard.press('Shift+?');
  const keys = page.getByRole('dialog');
  await keys.getByRole('searchbox').fill('show values');
  const row = keys.getByRole('button', { name: /^Keys of Show values/ });
  await row.click();
  await page.keyboard.press('l');
  await expect(keys.getByRole('alert')).toContainText('“Show the lit check” has these keys already');
  await row.click();
  await page.keyboard.press('Control+Shift+KeyY');
  await expect(row).toHaveText('Ctrl Shift Y');
  await keys.getByRole('button', { name: 'Close' }).click();
  await page.keyboard.press('v');
  await expect(chip(page, 'Values').last()).toHaveAttribute('aria-pressed', 'false');
  await page.reload();
  await ready(page);
  await page.keyboard.press('Control+Shift+KeyY');
  await expect(page.locator('.view-chips').getByRole('button', { name: 'Values' })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  await expect(page.locator('.view-chips').getByRole('button', { name: 'Values' })).toHaveAttribute(
    'title',
    /Ctrl Shift Y/,
  );
  // Only keys with Ctrl or Alt: a letter does nothing.
  await page.keyboard.press('Shift+?');
  await page.getByLabel('Only keys together with Ctrl, Alt or ⌘').check();
  await page.keyboard.press('Escape');
  await page.keyboard.press('l');
  await expect(chip(page, 'Lit check')).toHaveAttribute('aria-pressed', 'false');
});

test('Space and a drag move the view with whatever tool is in hand; no stroke is made', async ({ page }) => {
  await startEmpty(page);
  await floorToPaint(page);
  const before = await picture(page);
  const box = modelBox(before.png);
  const { x, y } = await middleOf(page);
  await page.mouse.move(x, y);
  await page.keyboard.down(' ');
  await page.mouse.down();
  await page.mouse.move(x + 60, y + 20, { steps: 6 });
  await page.mouse.up();
  await page.keyboard.up(' ');
  const after = modelBox((await picture(page)).png);
  expect(after.left - box.left).toBeCloseTo(60, -1);
  await expect(page.getByRole('navigation').getByText('0 strokes')).toBeVisible();
  // Straight after, the same press paints.
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + 30, y, { steps: 4 });
  await page.mouse.up();
  await expect(page.getByRole('navigation').getByText('1 stroke', { exact: true })).toBeVisible();
});

test('an unpainted model is shaded plainly and says so, until the first paint; Escape leaves what is looked at @slow', async ({
  page,
}) => {
  await startEmpty(page);
  const draw = await floorToPaint(page);
  const note = page.getByText('Nothing is painted yet: plain shading');
  await expect(note).toBeVisible();
  await draw([0.2, 0.5], [0.4, 0.5]);
  await expect(note).toHaveCount(0);
  await page.keyboard.press('m');
  await expect(chip(page, 'Mask: Colours ×')).toBeVisible();
  // It follows the layer that is chosen.
  await page.locator('.layer', { hasText: 'Lines' }).click({ position: { x: 90, y: 15 } });
  await expect(chip(page, 'Mask: Lines ×')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(chip(page, 'Mask: Lines ×')).toHaveCount(0);
  // The lit check doesn't follow into Match, where colours are judged.
  await page.keyboard.press('l');
  await expect(chip(page, 'Lit check')).toHaveAttribute('aria-pressed', 'true');
  await stage(page, 'Match');
  await stage(page, 'Paint');
  await expect(chip(page, 'Unlit')).toHaveAttribute('aria-pressed', 'true');
});

test('the lamp of the lit check is dragged over the model, one from behind is added, and the paint stays as it is @slow', async ({
  page,
}) => {
  await startEmpty(page);
  const draw = await floorToPaint(page);
  await draw([0.2, 0.5], [0.8, 0.5]);
  await chip(page, 'Free').click();
  const paint = (await picture(page)).png;
  await page.keyboard.press('l');
  const lit = (await picture(page)).png;
  await chip(page, 'From behind').click();
  const behind = (await picture(page)).png;
  expect(Buffer.compare(behind.data, lit.data)).not.toBe(0);
  await page.keyboard.press('Shift+L');
  const { x, y } = await middleOf(page);
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + 20, y, { steps: 3 });
  await page.mouse.up();
  await page.keyboard.press('Escape');
  await expect(chip(page, 'Move the lamp')).toHaveAttribute('aria-pressed', 'false');
  await chip(page, 'Plain').click();
  await page.keyboard.press('u');
  expect(Buffer.compare((await picture(page)).png.data, paint.data)).toBe(0);
  await expect(page.getByRole('navigation').getByText('1 stroke', { exact: true })).toBeVisible();
});

test('colours are copied and pasted as hex, last ones are offered again, and swatches move by key @slow', async ({
  page,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await startEmpty(page);
  const draw = await floorToPaint(page);
  const inHand = page.getByLabel('Colour in hand, as #rrggbb');
  for (const color of ['#aa3311', '#2f7475']) {
    await inHand.fill(color);
    await inHand.press('Enter');
    await page.keyboard.press('Shift+S');
    await draw([0.2, 0.5], [0.3, 0.5]);
  }
  const swatches = page.getByRole('region', { name: 'Palette' }).locator('.swatches .swatch');
  await expect(swatches).toHaveCount(2);
  await swatches.nth(0).focus();
  await page.keyboard.press('Control+c');
  expect(await page.evaluate(() => navigator.clipboard.readText())).toBe('#aa3311');
  await page.evaluate(() => navigator.clipboard.writeText('445566'));
  await swatches.nth(1).focus();
  await page.keyboard.press('Control+v');
  await expect(swatches.nth(1)).toHaveAttribute('aria-label', 'Colour #445566');
  // Space picks, it doesn't drag; Alt and an arrow move.
  await swatches.nth(0).focus();
  await page.keyboard.press('Space');
  await expect(inHand).toHaveValue('#aa3311');
  await page.keyboard.press('Alt+ArrowRight');
  await expect(swatches.nth(0)).toHaveAttribute('aria-label', 'Colour #445566');
  await page.getByRole('button', { name: 'Last colour #2f7475' }).click();
  await expect(inHand).toHaveValue('#2f7475');
});

test('at 1000 x 700 and at half as large again nothing overflows, and columns fold @slow', async ({
  page,
}) => {
  await startEmpty(page);
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  for (const [width, height] of [
    [1000, 700],
    [853, 533],
    [1920, 1080],
  ] as const) {
    await page.setViewportSize({ width, height });
    for (const name of ['Model', 'Unwrap', 'Block in', 'Form', 'Paint', 'Match', 'Deliver']) {
      await stage(page, name);
      const over = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
      expect(over, `${name} at ${width}`).toBeLessThanOrEqual(0);
    }
  }
  const before = (await page.getByTestId('viewport').boundingBox())!;
  await page.getByRole('button', { name: 'Fold the easel' }).click();
  await expect(page.getByRole('complementary', { name: 'Easel' })).toHaveCount(0);
  await drawn(page);
  expect((await page.getByTestId('viewport').boundingBox())!.width).toBeGreaterThan(before.width + 150);
  await page.keyboard.press('Alt+Shift+E');
  await expect(page.getByRole('complementary', { name: 'Easel' })).toBeVisible();
});

test('columns keep the width that they were dragged to, through other sizes of the window and a reload @slow', async ({
  page,
}) => {
  await startEmpty(page);
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  const width = async () => Math.round((await page.locator('.column').last().boundingBox())!.width);
  const border = (await page.getByRole('separator', { name: 'Width of the side column' }).boundingBox())!;
  const before = await width();
  await page.mouse.move(border.x + 2, 300);
  await page.mouse.down();
  await page.mouse.move(border.x - 48, 300, { steps: 4 });
  await page.mouse.up();
  expect(await width()).toBe(before + 50);
  for (const size of [
    { width: 1000, height: 700 },
    { width: 1280, height: 800 },
  ]) {
    await page.setViewportSize(size);
    await expect.poll(width).toBe(before + 50);
  }
  await page.reload();
  await ready(page);
  await expect.poll(width).toBe(before + 50);
});

test('the chosen layer and its settings are both in sight, however many layers there are', async ({
  page,
}) => {
  await page.setViewportSize({ width: 1000, height: 700 });
  await startEmpty(page);
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await stage(page, 'Form');
  for (let n = 6; n < 15; n++) {
    await page.keyboard.press('Control+d');
    await expect(page.locator('.layer')).toHaveCount(n);
  }
  const foot = page.locator('.layer', { hasText: 'Local colour' });
  await foot.scrollIntoViewIfNeeded();
  await foot.click({ position: { x: 90, y: 15 } });
  await expect(foot).toBeInViewport({ ratio: 1 });
  await expect(page.getByLabel(/^Blend mode/)).toBeInViewport({ ratio: 1 });
});
