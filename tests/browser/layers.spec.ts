import { expect, test } from '@playwright/test';
import { strToU8, unzipSync, zipSync } from 'fflate';
import { PNG } from 'pngjs';
import { rebuildOra, worstDifference } from '../rebuilt-ora';
import { chip, downloaded, floorToPaint, ready, stage, startEmpty } from './helpers';

test('layers leave as OpenRaster, are painted on elsewhere, and come back @slow', async ({ page }) => {
  await startEmpty(page);
  const draw = await floorToPaint(page);
  await draw([0.2, 0.5], [0.8, 0.5]);
  await ready(page);

  await stage(page, 'Deliver');
  const out = await downloaded(page, () => page.getByRole('button', { name: /^OpenRaster/ }).click());
  expect(out.name).toBe('floor.ora');
  const ora = rebuildOra(new Uint8Array(out.bytes));
  expect(worstDifference(ora)).toBeLessThanOrEqual(1);
  const names = [...ora.root.querySelectorAll('layer')].map((l) => l.getAttribute('name')!);
  expect(names.length).toBeGreaterThan(1);

  // Elsewhere: the paint layer is turned green, and a layer is added on top.
  const files = unzipSync(new Uint8Array(out.bytes));
  const picture = (name: string): PNG => PNG.sync.read(Buffer.from(files[name]!));
  // The topmost that isn't empty.
  const painted = Object.keys(files).find((name) => name.startsWith('data/') && picture(name).width > 1)!;
  const png = picture(painted);
  for (let i = 0; i < png.data.length; i += 4) if (png.data[i + 3]! > 0) png.data.set([0x20, 0xa0, 0x40], i);
  files[painted] = new Uint8Array(PNG.sync.write(png));
  const dot = new PNG({ width: 8, height: 8 });
  for (let i = 0; i < 64; i++) dot.data.set([0xff, 0xf0, 0x10, 0xff], i * 4);
  files['data/dot.png'] = new Uint8Array(PNG.sync.write(dot));
  const xml = new TextDecoder().decode(files['stack.xml']);
  files['stack.xml'] = strToU8(
    xml.replace('<stack>', '<stack><layer name="Dot" src="data/dot.png" x="40" y="100" opacity="0.5"/>'),
  );
  const bring = async (name: string, buffer: Buffer): Promise<void> => {
    const chooser = page.waitForEvent('filechooser');
    await page.getByRole('button', { name: /^Read again/ }).click();
    await (await chooser).setFiles({ name, mimeType: 'application/octet-stream', buffer });
  };
  await bring('floor.ora', Buffer.from(zipSync(files)));
  const list = page.getByRole('group', { name: /What came back/ });
  await expect(list.locator('select').first()).toHaveValue('new');
  await expect(list.locator('select').nth(1)).toHaveValue('replace');
  await expect(list.locator('select')).toHaveCount(2);
  await expect(list.getByText(/as before, texel for texel/)).toBeVisible();
  await list.getByRole('button', { name: 'Add 2' }).click();
  await ready(page);

  const again = await downloaded(page, () => page.getByRole('button', { name: /^OpenRaster/ }).click());
  const back = rebuildOra(new Uint8Array(again.bytes));
  const top = back.root.querySelector('layer')!;
  expect([top.getAttribute('name'), top.getAttribute('opacity')]).toEqual(['Dot', '0.5']);
  // Texel for texel what came in.
  const came = PNG.sync.read(Buffer.from(back.files['data/layer000.png']!));
  expect([...new Set(came.data)].sort((a, b) => a - b)).toEqual([0x10, 0xf0, 0xff]);

  const named = (root: Element, name: string): Element =>
    [...root.querySelectorAll('layer')].find((l) => l.getAttribute('name') === name)!;
  const src = named(back.root, ora.root.querySelector(`[src="${painted}"]`)!.getAttribute('name')!);
  const green = PNG.sync.read(Buffer.from(back.files[src.getAttribute('src')!]!)).data;
  const seen = [...green.keys()].filter((i) => i % 4 === 0 && green[i + 3]! > 0);
  expect(seen.length).toBeGreaterThan(100);
  expect(seen.every((i) => green[i] === 0x20 && green[i + 1] === 0xa0 && green[i + 2] === 0x40)).toBe(true);

  // A reload keeps it; it was one step.
  await page.reload();
  await ready(page);
  await chip(page, 'Undo').click();
  await ready(page);
  await stage(page, 'Deliver');
  const undone = await downloaded(page, () => page.getByRole('button', { name: /^OpenRaster/ }).click());
  expect(Buffer.compare(undone.bytes, out.bytes)).toBe(0);

  // What has happened since the file was read is seen before anything is replaced.
  await bring('floor.ora', Buffer.from(zipSync(files)));
  await expect(list.getByRole('button', { name: 'Add 2' })).toBeVisible();
  await chip(page, 'Redo').click();
  await ready(page);
  await list.getByRole('button', { name: 'Add 2' }).click();
  await expect(page.getByText(/changed since this file was read/)).toBeVisible();
  await expect(list.getByText(/layers are as before, texel for texel/)).toBeVisible();
  await list.getByRole('button', { name: 'Dismiss' }).click();

  // What isn't as large as the sheet is told, and changes nothing.
  await bring('small.png', PNG.sync.write(dot));
  await expect(page.getByText(/8 x 8, but the sheet is 512 x 512/)).toBeVisible();
  await expect(list).toHaveCount(0);
});
