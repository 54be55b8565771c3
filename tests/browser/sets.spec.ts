import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { strFromU8, unzipSync } from 'fflate';
import { PNG } from 'pngjs';
import { WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { chip, downloaded, ready, startEmpty } from './helpers';

/** Everything of the set is seen, and nothing is being worked on. */
async function seen(page: Page, count: number): Promise<void> {
  await expect(page.locator('.wall canvas')).toHaveAttribute('data-shown', String(count), {
    timeout: 120_000,
  });
  await expect(page.locator('.set-page')).toHaveAttribute('data-busy', 'false', { timeout: 120_000 });
}

async function openDemo(page: Page, name: string): Promise<void> {
  await page.getByRole('button', { name, exact: true }).click();
  await page.waitForURL(/\/paint$/);
  await ready(page);
  await page.goto('/');
}

/** Mean albedo of a GLB, of the texels that its model covers. */
async function meanOf(glb: Uint8Array): Promise<number[]> {
  const document = await new WebIO().registerExtensions(ALL_EXTENSIONS).readBinary(glb);
  const { data } = PNG.sync.read(Buffer.from(document.getRoot().listTextures()[0]!.getImage()!));
  const sum = [0, 0, 0];
  for (let i = 0; i < data.length; i += 4) for (let k = 0; k < 3; k++) sum[k]! += data[i + k]!;
  return sum.map((s) => (s * 4) / data.length);
}

test('projects stand on one wall, share what one of them has, and leave and come back as one file', async ({
  page,
}) => {
  await startEmpty(page);
  await openDemo(page, 'Kettle');
  await openDemo(page, 'Crate of turnips');
  await chip(page, 'New set').click();
  await page.waitForURL(/\/set\//);
  await expect(page.getByText('Nothing stands here yet')).toBeVisible();
  for (const name of ['Kettle on its stove', 'Crate of turnips']) {
    await chip(page, 'Add…').click();
    await page.getByRole('button', { name, exact: true }).click();
  }
  await seen(page, 2);
  const deliver = async () =>
    unzipSync(new Uint8Array((await downloaded(page, () => chip(page, 'Deliver all').click())).bytes));
  const before = await deliver();
  expect(Object.keys(before).toSorted()).toEqual(['crate-of-turnips.glb', 'kettle-on-its-stove.glb']);

  // Under its own name, and by key round the wall.
  await chip(page, 'New set').click();
  await page.getByRole('textbox', { name: 'Name of the set' }).fill('Two props');
  await page.keyboard.press('Enter');
  await expect(chip(page, 'Two props')).toBeVisible();
  const canvas = page.locator('.wall canvas');
  const front = await canvas.screenshot();
  await canvas.focus();
  await page.keyboard.press('ArrowRight');
  await expect.poll(async () => (await canvas.screenshot()).equals(front)).toBe(false);
  await chip(page, 'Values').click();
  await page.waitForTimeout(200);
  const greys = PNG.sync.read(await canvas.screenshot({ animations: 'disabled' }));
  const middle = (greys.width * (greys.height >> 1) + (greys.width >> 2)) * 4;
  expect(greys.data[middle]).toBe(greys.data[middle + 1]);

  // A palette of one is laid on the other; what would change is told first.
  await page.getByRole('button', { name: 'Palette from a project' }).click();
  await page.getByRole('button', { name: 'Kettle on its stove', exact: true }).last().click();
  await page.getByRole('button', { name: 'Recipes from a project' }).click();
  await page.getByRole('button', { name: 'The build-up of Kettle on its stove' }).click();
  await expect(page.getByText('Other in Kettle on its stove, Crate of turnips')).toBeVisible();
  const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa']).analyze();
  expect(violations.map((v) => `${v.id}: ${v.nodes[0]?.html}`)).toEqual([]);
  await page.getByRole('button', { name: 'Apply the recipes to all' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByRole('button', { name: 'Change 2 projects' })).toBeEnabled({ timeout: 120_000 });
  await dialog.getByRole('checkbox', { name: 'Kettle on its stove' }).uncheck();
  await expect(dialog.getByRole('listitem').filter({ hasText: 'Crate of turnips' })).toContainText(
    /% of its texels change, by ΔE \d/,
  );
  await dialog.getByRole('button', { name: 'Change 1 project' }).click();
  await expect(page.getByText('1 project follows the set now')).toBeVisible({ timeout: 120_000 });
  await seen(page, 2);
  await expect(page.getByText('Other in Kettle on its stove', { exact: true })).toBeVisible();
  const after = await deliver();
  expect(await meanOf(after['crate-of-turnips.glb']!)).not.toEqual(
    await meanOf(before['crate-of-turnips.glb']!),
  );
  expect(after['kettle-on-its-stove.glb']).toEqual(before['kettle-on-its-stove.glb']);

  // A shared colour, and how large one stands among the others, are changed here.
  const swatch = page.locator('.shared-color').first();
  await swatch.click();
  await page.getByRole('textbox', { name: /, as #rrggbb$/ }).fill('#123456');
  await page.keyboard.press('Escape');
  await expect(swatch).toHaveCSS('background-color', 'rgb(18, 52, 86)');
  const scale = page.getByRole('textbox', { name: 'Scale of Kettle on its stove' });
  const alike = await canvas.screenshot();
  await scale.fill('2');
  await page.keyboard.press('Enter');
  await expect.poll(async () => (await canvas.screenshot()).equals(alike)).toBe(false);
  await page.reload();
  await seen(page, 2);
  await expect(scale).toHaveValue('× 2');
  await expect(swatch).toHaveCSS('background-color', 'rgb(18, 52, 86)');
  await expect(page.getByRole('button', { name: 'Apply the palette to all' })).toBeEnabled();

  // All of them on one sheet.
  await chip(page, 'Atlas…').click();
  await page
    .getByRole('dialog')
    .getByRole('combobox', { name: /^Sheet/ })
    .selectOption('512');
  await page
    .getByRole('dialog')
    .getByRole('combobox', { name: /^Kettle/ })
    .selectOption('2');
  const packed = unzipSync(
    new Uint8Array((await downloaded(page, () => chip(page, 'Pack 2').click())).bytes),
  );
  const report = JSON.parse(strFromU8(packed['two-props-atlas.json']!)) as { members: { fill: number }[] };
  expect(report.members).toHaveLength(2);
  expect(report.members[0]!.fill).toBeGreaterThan(report.members[1]!.fill);
  expect(PNG.sync.read(Buffer.from(packed['two-props-atlas.png']!)).width).toBe(512);
  const atlas = await new WebIO()
    .registerExtensions(ALL_EXTENSIONS)
    .readBinary(packed['two-props-atlas.glb']!);
  expect(atlas.getRoot().listTextures()).toHaveLength(1);

  // The style guide needs nothing but itself.
  const guide = await downloaded(page, () => chip(page, 'Style guide').click());
  expect(guide.name).toBe('two-props-style-guide.html');
  const text = guide.bytes.toString('utf8');
  expect(text).toContain('<h1>Two props</h1>');
  expect(text).not.toMatch(/(src|href)="(?!data:)/);

  // It leaves as one file and comes back in another browser, where the step is not known but the paint is.
  const file = await downloaded(page, () => chip(page, 'Save the set').click());
  expect(file.name).toBe('two-props-set.zip');
  await page.getByRole('link', { name: 'Open Crate of turnips' }).click();
  await page.waitForURL(/\/paint$/);
  await ready(page);
  await expect(chip(page, 'Undo')).toBeEnabled();
  await expect(page.getByRole('button', { name: 'Undo' })).toHaveAttribute('title', /Follow the set/);

  await page.goto('/');
  await page.evaluate(
    () =>
      new Promise((resolve) => {
        const gone = indexedDB.deleteDatabase('zanahoria');
        gone.onsuccess = gone.onerror = gone.onblocked = () => resolve(null);
      }),
  );
  await page.reload();
  await expect(page.getByText('Nothing here yet')).toBeVisible();
  const chooser = page.waitForEvent('filechooser');
  await page.getByText('New from a model').click();
  await (await chooser).setFiles({ name: file.name, mimeType: 'application/zip', buffer: file.bytes });
  await page.waitForURL(/\/set\//);
  await seen(page, 2);
  await expect(page.getByText('Other in Kettle on its stove', { exact: true })).toBeVisible();
  expect((await deliver())['crate-of-turnips.glb']).toEqual(after['crate-of-turnips.glb']);
});
