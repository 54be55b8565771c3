import { expect, test } from '@playwright/test';
import { PNG } from 'pngjs';
import { engineAtSize, flattenAlbedo } from '../../core/engine';
import { readProjectFile } from '../../core/project-file';
import type { InkLine } from '../../core/ink';
import { createWasmKernels } from '../../core/kernels';
import {
  chip,
  downloaded,
  floorAtPaint,
  kept,
  LOCAL,
  ORANGE,
  ready,
  settled,
  stage,
  stroke,
} from './helpers';

test('lines are drawn, chosen, dragged, closed and removed; borders draw themselves; all of it is kept and delivered @slow', async ({
  page,
}) => {
  const { at, seen } = await floorAtPaint(page);
  await page.keyboard.press('Shift+I');
  // Drawn freely: curves are fitted, in a layer of its own.
  await stroke(page, [at(-0.8, -0.5), at(-0.5, -0.55), at(-0.2, -0.5)]);
  await settled(page);
  await expect(page.getByText('1 line', { exact: true })).toBeVisible();
  const width = page.getByLabel('Width of the line, in parts of the model, as a number');
  await width.fill('3');
  await width.press('Enter');
  await settled(page);
  expect(await seen(-0.5, -0.54)).toEqual(ORANGE);
  expect(await seen(-0.5, -0.4)).toEqual(LOCAL);

  // Chosen and dragged as a whole; and taken back.
  await chip(page, 'Change').click();
  await stroke(page, [at(-0.5, -0.54), at(-0.5, -0.14)]);
  await settled(page);
  expect([await seen(-0.5, -0.54), await seen(-0.5, -0.14)]).toEqual([LOCAL, ORANGE]);
  await page.keyboard.press('Control+z');
  await settled(page);
  expect([await seen(-0.5, -0.54), await seen(-0.5, -0.14)]).toEqual([ORANGE, LOCAL]);

  // Point after point, over the seam, closed on its first point and filled.
  await chip(page, 'Points').click();
  for (const [u, v] of [
    [-0.4, 0.2],
    [0.4, 0.2],
    [0.4, 0.7],
    [-0.4, 0.7],
    [-0.4, 0.2],
  ] as const) {
    await page.mouse.click(...at(u, v));
    await settled(page);
  }
  await expect(page.getByText('2 lines', { exact: true })).toBeVisible();
  await chip(page, 'Filled').click();
  await settled(page);
  expect([await seen(0, 0.45), await seen(0.2, 0.45)]).toEqual([ORANGE, ORANGE]);
  expect(await seen(-0.8, 0.45)).toEqual(LOCAL);
  // A line that is undone while it grows isn't gone on with.
  for (const u of [-0.9, -0.7]) {
    await page.mouse.click(...at(u, -0.9));
    await settled(page);
  }
  await expect(chip(page, 'End the line')).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(chip(page, 'End the line')).toBeHidden();

  // A point is dragged, another put in by a double press, and taken out again.
  await chip(page, 'Change').click();
  await stroke(page, [at(0.4, 0.7), at(0.7, 0.8)]);
  await settled(page);
  expect(await seen(0.55, 0.7)).toEqual(ORANGE);
  await page.mouse.click(...at(-0.9, -0.9));
  await page.mouse.dblclick(...at(-0.5, -0.54), { delay: 20 });
  await settled(page);
  await expect(page.getByRole('status').getByText('The chosen line')).toBeVisible();
  await page.keyboard.press('Delete');
  await page.keyboard.press('Delete');
  await settled(page);
  await expect(page.getByText('1 line', { exact: true })).toBeVisible();
  expect(await seen(-0.5, -0.54)).toEqual(LOCAL);

  // The border of the two parts draws itself, and becomes a line.
  await page.locator('.fold-title', { hasText: 'By itself' }).click();
  await chip(page, 'Borders').click();
  await settled(page);
  expect(await seen(0, -0.5)).toEqual(ORANGE);
  await chip(page, 'Into lines').click();
  await settled(page);
  await expect(page.getByText('2 lines', { exact: true })).toBeVisible();
  expect(await seen(0, -0.5)).toEqual(ORANGE);
  await kept(page);
  await page.reload();
  await ready(page);
  await expect(page.getByText('2 lines', { exact: true })).toBeVisible();

  // What is delivered is what Node makes of the lines, texel by texel.
  await stage(page, 'Deliver');
  const albedo = await downloaded(page, () => page.getByRole('button', { name: /^Albedo/ }).click());
  const project = await downloaded(page, () => page.getByRole('button', { name: /^Project file/ }).click());
  const data = readProjectFile(project.bytes);
  const engine = await engineAtSize(data, null, createWasmKernels());
  const { rgba } = flattenAlbedo(engine, { size: engine.surface.sheets[0]!.size, bleed: Infinity });
  expect(PNG.sync.read(albedo.bytes).data.equals(Buffer.from(rgba))).toBe(true);
  const lines = data.document.layers.flatMap((l): readonly InkLine[] => (l.kind === 'ink' ? l.lines : []));
  expect(lines.map((line) => line.closed)).toEqual([true, false]);
});
