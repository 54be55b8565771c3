import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { beginProject, chip, chooseModel, ready, SEAMED_OBJ, settled, stage, startEmpty } from './helpers';

/** Waits until nothing fades any more: colours in between have a contrast that nobody reads. */
const still = (page: Page) =>
  page.evaluate(() =>
    Promise.allSettled(
      document
        .getAnimations()
        .filter((a) => a.effect?.getComputedTiming().iterations !== Infinity)
        .map((a) => a.finished),
    ).then(() => undefined),
  );

/** Asks axe (WCAG 2.2 AA, and that every page has a heading) at many places, and tells of all at the end. */
function watcher(page: Page) {
  const found: string[] = [];
  return {
    /** @param within only what lies in there: the page around it is looked at elsewhere */
    async check(where: string, within?: string): Promise<void> {
      await still(page);
      const axe = new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa']);
      const { violations } = await (within ? axe.include(within) : axe).analyze();
      for (const v of violations) for (const n of v.nodes) found.push(`${where}: ${v.id}: ${n.html}`);
      if ((await page.locator('h1').count()) === 0) found.push(`${where}: no heading`);
    },
    found,
  };
}

test('start page, its dialogs and every stage have no accessibility violations that a machine can find', async ({
  page,
}) => {
  const { check, found } = watcher(page);
  await startEmpty(page);
  await check('start');
  await chooseModel(page, 'floor.obj', SEAMED_OBJ);
  await expect(page.getByRole('dialog')).toBeVisible();
  await check('new project');
  await page.keyboard.press('Escape');
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  for (const name of ['Model', 'Unwrap', 'Block in', 'Form', 'Paint', 'Match', 'Deliver']) {
    await stage(page, name);
    await check(name);
  }
  await page.getByRole('link', { name: 'Zanahoria' }).click();
  await page.getByRole('button', { name: /^More/ }).first().click();
  await check('what can be done with a project');
  expect(found).toEqual([]);
});

test('so have the dialogs, menus and popovers of an open project @slow', async ({ page }) => {
  const { check, found } = watcher(page);
  await startEmpty(page);
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await stage(page, 'Paint');
  /** Opens something, looks, and closes it. */
  const look = async (where: string, open: () => Promise<unknown>, seen: string): Promise<void> => {
    await open();
    await expect(page.locator(seen).first()).toBeVisible();
    await check(where, seen);
    await page.keyboard.press('Escape');
    await expect(page.locator(seen)).toBeHidden();
  };
  const menu = '.dropdown-menu.show';
  await look('command list', () => page.keyboard.press('Control+k'), '[role=dialog]');
  await look('keys', () => page.keyboard.press('Shift+?'), '[role=dialog]');
  await look('what is kept', () => page.locator('.kept-button').click(), '[role=dialog]');
  await chip(page, 'Symmetry').click();
  await page.getByRole('button', { name: 'How symmetry is set' }).click();
  await check('symmetry', '.tool-bar');
  await chip(page, 'Toon').click();
  await check('toon view', '.view-chips.left');
  await page.keyboard.press('u');
  await page.keyboard.press('Shift+I');
  await check('ink', '.tool-bar');
  await page.getByRole('button', { name: 'How symmetry is set' }).click();
  await look('brush', () => chip(page, 'Brush…').click(), '.brush-panel');
  await look('cameras', () => chip(page, 'More').click(), menu);
  await look('new layer', () => chip(page, 'Add').click(), menu);
  await look('layers', () => chip(page, 'Layer').click(), menu);
  await look('steps of a mask', () => chip(page, 'Add a step').click(), menu);
  await look('blend modes', () => page.locator('.blend-toggle').click(), menu);
  await page.keyboard.press('Shift+s');
  await settled(page);
  await look('history', () => chip(page, 'History').click(), menu);
  const canvas = page.getByRole('application', { name: 'Model and sheet' });
  await look('the menu of a part', () => canvas.click({ button: 'right' }), '[role=menu]');
  await look(
    'the menu of a layer',
    () => page.locator('.layer').first().click({ button: 'right' }),
    '[role=menu]',
  );
  await look(
    'the menu of a swatch',
    () => page.locator('.swatch').first().click({ button: 'right' }),
    '[role=menu]',
  );
  await chip(page, 'Lit check').click();
  await look('the lamp', () => chip(page, 'Place').click(), menu);
  await look('a colour', () => page.getByRole('button', { name: /^Sky: / }).click(), menu);
  await page.keyboard.press('Shift+r');
  await expect(page.getByRole('region', { name: 'Floating reference' })).toBeVisible();
  await check('floating reference', '.floating-board');
  expect(found).toEqual([]);
});

test('so have the inspectors of every kind of layer, and the islands and seams of a layout @slow', async ({
  page,
}) => {
  // A dozen inspectors, each looked at by axe.
  test.setTimeout(300_000);
  // A row that is cut off by the list's border counts as too small a target.
  await page.setViewportSize({ width: 1280, height: 2200 });
  const { check, found } = watcher(page);
  await startEmpty(page);
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await stage(page, 'Form');
  await chip(page, 'Add').click();
  const offers = await page
    .locator('.add-menu.show .dropdown-item')
    .evaluateAll((items) => items.map((item) => item.firstChild!.textContent));
  expect(offers.length).toBeGreaterThan(7);
  await page.keyboard.press('Escape');
  for (const offer of offers) {
    const rows = await page.locator('.layer').count();
    await chip(page, 'Add').click();
    await page.locator('.add-menu.show .dropdown-item').filter({ hasText: offer! }).first().click();
    // Its own inspector, not that of the layer before.
    // A mask of the detail sheet comes with a layer in it.
    await expect.poll(() => page.locator('.layer').count()).toBeGreaterThan(rows);
    await ready(page);
    await expect(page.locator('.inspector h2')).toHaveText(
      (await page.locator('.layer.on .layer-text b').textContent())!,
    );
    const step = page.locator('.mask-step .step-line').first();
    if (await step.isVisible()) await step.click();
    await check(`inspector: ${offer}`, '.side');
  }
  await stage(page, 'Unwrap');
  const section = page.getByRole('group', { name: 'Section' });
  await section.getByText('Seams').click();
  await check('seams', '.side');
  await section.getByText('Islands').click();
  await page.locator('.island-table tbody button').first().click();
  await check('islands', '.side');
  expect(found).toEqual([]);
});
