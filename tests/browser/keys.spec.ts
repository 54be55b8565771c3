import { createHash } from 'node:crypto';
import { expect, test } from '@playwright/test';
import {
  beginProject,
  chip,
  floorAtPaint,
  floorToPaint,
  picture,
  SEAMED_OBJ,
  stage,
  startEmpty,
} from './helpers';

test('keys work after every control, and leave alone what is typed', async ({ page }) => {
  await startEmpty(page);
  const draw = await floorToPaint(page);
  await draw([0.2, 0.5], [0.4, 0.5]);
  const strokes = (n: number) =>
    expect(page.getByRole('navigation').getByText(`${n} stroke${n === 1 ? '' : 's'}`)).toBeVisible();
  await strokes(1);

  // A slider has the focus: undo, redo and the brush's keys are still there.
  const size = page.getByLabel('Size', { exact: true });
  await size.click();
  await expect(size).toBeFocused();
  const before = await size.getAttribute('aria-valuetext');
  await page.keyboard.press(']');
  await expect(size).not.toHaveAttribute('aria-valuetext', before!);
  await page.keyboard.press('Control+z');
  await strokes(0);
  await page.keyboard.press('Control+Shift+z');
  await strokes(1);

  // A list to choose from keeps letters for itself, but not undo.
  await page.getByRole('combobox').filter({ hasText: 'nothing locked' }).focus();
  await page.keyboard.press('k');
  await expect(chip(page, 'Clip')).toHaveAttribute('aria-pressed', 'false');
  await page.keyboard.press('Control+z');
  await strokes(0);

  // What is typed is text.
  const within = page.getByRole('group', { name: 'Stay within' }).getByRole('button', { name: 'Part' });
  const guarded = await within.getAttribute('aria-pressed');
  await stage(page, 'Model');
  await page.locator('.part-name', { hasText: 'Left' }).click();
  await chip(page, 'Rename').click();
  await page.getByLabel('Name of the part').fill('');
  await page.keyboard.type('pump 3');
  await page.keyboard.press('Enter');
  await expect(page.locator('.part-name', { hasText: 'pump 3' })).toBeVisible();
  await stage(page, 'Paint');
  await expect(within).toHaveAttribute('aria-pressed', guarded!);
  await expect(page.getByRole('radio', { name: 'Flat paint' })).not.toBeChecked();
});

test('a key acts only where its work is seen; the command list goes there first', async ({ page }) => {
  await startEmpty(page);
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  for (const key of ['Delete', 'Alt+Delete', 'k', '5', 'h']) await page.keyboard.press(key);
  await expect(chip(page, 'Undo')).toBeDisabled();
  await page.keyboard.press('Control+k');
  await page.keyboard.type('eraser');
  await expect(page.getByRole('option', { name: /Brush: Eraser/ })).toContainText('in Paint');
  await page.keyboard.press('Enter');
  await page.waitForURL(/\/paint$/);
  await expect(page.getByRole('radio', { name: 'Eraser' })).toBeChecked();
  await page.keyboard.press('3');
  await expect(page.getByRole('radio', { name: 'Flat paint' })).toBeChecked();
  // A field that a command opens has the focus.
  await page.keyboard.press('Control+k');
  await page.keyboard.type('rename the project');
  await page.keyboard.press('Enter');
  await page.keyboard.type('By key');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('banner').getByText('By key')).toBeVisible();
});

test('Tab moves the focus; the picture is turned, moved and brought nearer by key @slow', async ({
  page,
}) => {
  await startEmpty(page);
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await page.keyboard.press('Tab');
  await expect(page.locator(':focus')).toHaveCount(1);
  await expect(chip(page, '+ Sheet')).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('b');
  await expect(chip(page, 'Sheet')).toHaveAttribute('aria-pressed', 'true');
  await chip(page, 'Model').click();
  const canvas = page.getByRole('application', { name: 'Model and sheet' });
  const seen = new Set<string>();
  const look = async (): Promise<void> => {
    const { png } = await picture(page);
    seen.add(createHash('sha256').update(png.data).digest('hex'));
  };
  await look();
  for (const key of ['ArrowRight', 'ArrowUp', 'Shift+ArrowLeft', '+', '-', '-']) {
    await canvas.focus();
    await page.keyboard.press(key);
    await look();
  }
  // Nearer and farther again is where it was; all others differ.
  expect(seen.size).toBe(6);
});

test('the handbook opens at the page of the stage, by key, and leads from page to page @slow', async ({
  page,
}) => {
  await startEmpty(page);
  await chip(page, 'Works of others').click();
  const works = page.getByRole('dialog');
  await expect(works.getByText('three-mesh-bvh')).toBeVisible();
  await works.getByText('@fontsource-variable/archivo').click();
  await expect(works.getByText('SIL OPEN FONT LICENSE').first()).toBeVisible();
  await page.keyboard.press('Escape');
  await floorAtPaint(page);
  await page.keyboard.press('F1');
  const book = page.getByRole('dialog');
  await expect(book.getByRole('heading', { name: 'Paint', level: 1 })).toBeVisible();
  await book.getByRole('button', { name: 'Match a reference' }).click();
  await expect(book.getByRole('heading', { name: 'Match a reference', level: 1 })).toBeVisible();
  await book.getByRole('button', { name: 'Keys…' }).click();
  await expect(page.getByRole('heading', { name: 'Keys', exact: true })).toBeVisible();
  await page.keyboard.press('Escape');
  // The next key works again.
  await page.keyboard.press('Alt+7');
  await expect(page.getByRole('complementary', { name: 'Deliver', exact: true })).toBeAttached();
  await page.keyboard.press('F1');
  await expect(page.getByRole('dialog').getByRole('heading', { name: 'Deliver', level: 1 })).toBeVisible();
});
