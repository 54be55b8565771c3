import { expect, test, type Page } from '@playwright/test';
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
  type,
} from './helpers';

const UNCOLORED = [0xb6, 0xac, 0xa2];
const TEAL = [0x2f, 0x74, 0x75];

async function addSwatch(page: Page, color: string): Promise<void> {
  await page.getByLabel('Colour in hand, as #rrggbb').fill(color);
  await page.getByLabel('Colour in hand, as #rrggbb').press('Enter');
  await chip(page, `Add ${color}`).click();
  await settled(page);
}

/** Presses on one place, goes to another, and lets go if that is wanted. */
async function drag(
  page: Page,
  from: readonly [number, number],
  to: readonly [number, number],
): Promise<void> {
  await page.mouse.move(...from);
  await page.mouse.down();
  await page.mouse.move(from[0] + 12, from[1] + 4, { steps: 3 });
  await page.mouse.move(...to, { steps: 6 });
  await page.mouse.up();
  await settled(page);
}

/** The floor from above, and where places of it lie in the window and in its picture. */
async function fromAbove(page: Page) {
  await chip(page, 'Model').click();
  await chip(page, 'Top').click();
  const { png, left, top } = await picture(page);
  const box = modelBox(png);
  const inPicture = (u: number, v: number): [number, number] => [
    box.left + (box.right - box.left) * u,
    box.top + (box.bottom - box.top) * v,
  ];
  return {
    inPicture,
    inWindow: (u: number, v: number): [number, number] => {
      const [x, y] = inPicture(u, v);
      return [left + x, top + y];
    },
  };
}

test('a colour is dragged from the palette, or from the one in hand, onto a part; off the model nothing comes of it @slow', async ({
  page,
}) => {
  await startEmpty(page);
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await addSwatch(page, '#2f7475');
  await stage(page, 'Block in');
  const { inPicture, inWindow } = await fromAbove(page);
  const at = async (u: number): Promise<number[]> => pixel((await picture(page)).png, ...inPicture(u, 0.5));
  const swatch = (await page.locator('.swatches .swatch').first().boundingBox())!;
  const from = [swatch.x + 8, swatch.y + 8] as const;
  const origin = await page.getByTestId('viewport').boundingBox();
  await drag(page, from, [origin!.x + 30, origin!.y + 120]);
  await expect(chip(page, 'Undo')).toHaveAttribute('title', /palette/);
  await drag(page, from, inWindow(0.75, 0.5));
  expect(await at(0.75)).toEqual(TEAL);
  expect(await at(0.25)).toEqual(UNCOLORED);
  // The palette stands as it stood.
  await expect(page.locator('.swatches .swatch')).toHaveCount(1);
  await page.getByLabel('Colour in hand, as #rrggbb').fill('#aa3311');
  await page.getByLabel('Colour in hand, as #rrggbb').press('Enter');
  const hand = (await page.getByRole('img', { name: /^Colour in hand/ }).boundingBox())!;
  await drag(page, [hand.x + 20, hand.y + 20], inWindow(0.25, 0.5));
  expect(await at(0.25)).toEqual([0xaa, 0x33, 0x11]);
  await expect(page.locator('.part-color')).toContainText('Left');
  // Both parts at once: one is chosen, the other comes with Shift, and a colour goes to the two.
  await page.keyboard.down('Shift');
  await page.mouse.click(...inWindow(0.75, 0.5));
  await page.keyboard.up('Shift');
  await expect(page.locator('.part-color')).toContainText('2 parts');
  await drag(page, from, inWindow(0.25, 0.5));
  expect(await at(0.25)).toEqual(TEAL);
  expect(await at(0.75)).toEqual(TEAL);
});

test('a light that is dragged is seen coarsely at once and fully when it rests; figures aim it too @slow', async ({
  page,
}) => {
  await startEmpty(page);
  await beginProject(page, 'floor.obj', SEAMED_OBJ, 1024);
  await stage(page, 'Form');
  await chip(page, 'Add').click();
  await page.getByRole('button', { name: /^Light/ }).click();
  await ready(page);
  const { inPicture, inWindow } = await fromAbove(page);
  const canvas = page.locator('.viewport > canvas');
  const at = async (): Promise<number> => pixel((await picture(page)).png, ...inPicture(0.3, 0.3))[0];
  await type(page, 'Elevation of the key light', '-60');
  await settled(page);
  const fromBelow = await at();
  // Where a picture was coarse is told with it.
  await canvas.evaluate((element) => {
    const seen: string[] = [];
    Object.assign(window, { coarseSeen: seen });
    new MutationObserver(() => seen.push((element as HTMLElement).dataset['coarse']!)).observe(element, {
      attributes: true,
      attributeFilter: ['data-coarse'],
    });
  });
  await chip(page, 'Aim on the model').click();
  await page.mouse.move(...inWindow(0.5, 0.5));
  await page.mouse.down();
  await page.mouse.move(...inWindow(0.6, 0.6), { steps: 8 });
  await expect
    .poll(() => page.evaluate(() => (window as unknown as { coarseSeen: string[] }).coarseSeen))
    .toContain('true');
  await page.mouse.up();
  await settled(page);
  await expect(canvas).toHaveAttribute('data-coarse', 'false');
  await page.keyboard.press('Escape');
  const fromAboveNow = await at();
  expect(fromAboveNow).toBeGreaterThan(fromBelow);
  await expect(page.getByLabel('Elevation of the key light, as a number')).toHaveValue('90°');
  // The figure that stands for the same place gives the same texel.
  await type(page, 'Elevation of the key light', '10');
  await settled(page);
  await type(page, 'Elevation of the key light', '90');
  await settled(page);
  expect(Math.abs((await at()) - fromAboveNow)).toBeLessThanOrEqual(1);
});

test('the right button offers what can be done with a swatch; files are downloaded by the command list from anywhere @slow', async ({
  page,
}) => {
  await startEmpty(page);
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await addSwatch(page, '#2f7475');
  await stage(page, 'Paint');
  await page.getByLabel('Colour in hand, as #rrggbb').fill('#112233');
  await page.getByLabel('Colour in hand, as #rrggbb').press('Enter');
  await page.locator('.swatches .swatch').first().click({ button: 'right' });
  // What is offered is for the swatch: it is in hand now.
  await expect(page.getByLabel('Colour in hand, as #rrggbb')).toHaveValue('#2f7475');
  await page.getByRole('menuitem', { name: 'Remove the chosen swatch' }).click();
  await expect(page.locator('.swatches .swatch')).toHaveCount(0);
  const command = async (letters: string): Promise<void> => {
    await page.keyboard.press('Control+k');
    await page.getByPlaceholder('What would you like to do?').fill(letters);
    await page.keyboard.press('Enter');
  };
  const svg = await downloaded(page, () => command('layout as svg'));
  expect(svg.name).toBe('floor-layout.svg');
  expect(svg.bytes.toString()).toContain('<svg');
  await expect(page).toHaveURL(/unwrap$/);
  const albedo = await downloaded(page, () => command('albedo of every sheet'));
  expect(albedo.name).toBe('floor-albedo.png');
  expect([...albedo.bytes.subarray(1, 4)]).toEqual([...Buffer.from('PNG')]);
  const project = await downloaded(page, () => page.keyboard.press('Control+s'));
  expect(project.name).toBe('floor.zip');
});

test('islands that come to lie on one another are told with a way out; what is pinned is seen on the sheet', async ({
  page,
}) => {
  await startEmpty(page);
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await stage(page, 'Unwrap');
  await page.getByRole('group', { name: 'Section' }).getByText('Islands').click();
  await page.locator('.island-table tbody button', { hasText: 'Left' }).click();
  await page.getByLabel('Right, texels').fill('200');
  await chip(page, 'Move').click();
  await ready(page);
  await expect(page.getByText(/belong to more than one place of the model/)).toBeVisible();
  await page.getByRole('button', { name: 'Pack', exact: true }).click();
  await ready(page);
  await page.getByRole('group', { name: 'Section' }).getByText('Layout').click();
  await expect(page.locator('.figures tr', { hasText: 'Overlapping' }).locator('td').first()).toHaveText('0');
  await page.getByRole('group', { name: 'Section' }).getByText('Islands').click();
  await page.locator('.island-table tbody button', { hasText: 'Left' }).click({ button: 'right' });
  await page.getByRole('menuitem', { name: /^Pin/ }).click();
  await expect(page.getByRole('img', { name: '1 pinned' })).toBeVisible();
  await expect(page.locator('.island-table tbody button', { hasText: 'Left' })).toContainText('•');
});

test('a stroke on a layer that follows the form is refused with a way on: the nearest paint layer, by one click @slow', async ({
  page,
}) => {
  await startEmpty(page);
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await stage(page, 'Form');
  await chip(page, 'Add').click();
  await page.getByRole('button', { name: /^Light/ }).click();
  await ready(page);
  await stage(page, 'Paint');
  const { inWindow } = await fromAbove(page);
  await page.mouse.click(...inWindow(0.25, 0.5));
  await expect(page.getByText(/follows the form\. Paint on its mask/)).toBeVisible();
  await page.getByRole('button', { name: /^Paint on “/ }).click();
  await page.mouse.click(...inWindow(0.25, 0.5));
  await settled(page);
  await expect(page.getByRole('navigation')).toContainText('1 stroke');
});
