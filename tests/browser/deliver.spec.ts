import { expect, test } from '@playwright/test';
import { WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { unzipSync } from 'fflate';
import { PNG } from 'pngjs';
import { transcodedLevels } from '../basis';
import {
  beginProject,
  chip,
  downloaded,
  floorToPaint,
  LOCAL,
  pixel,
  ready,
  stage,
  startEmpty,
} from './helpers';

test('a delivery leaves as one zip by one key, as it was set last, in formats that others read', async ({
  page,
}) => {
  await startEmpty(page);
  const draw = await floorToPaint(page);
  await draw([0.2, 0.5], [0.8, 0.5]);
  await ready(page);
  await stage(page, 'Deliver');
  const format = page.getByRole('combobox', { name: /^Format/ });
  const albedo = () => downloaded(page, () => page.getByRole('button', { name: /^Albedo/ }).click());
  const plain = PNG.sync.read((await albedo()).bytes);
  const texels = Buffer.from(plain.data);

  // 16 bit: what the layers come to, rounded to 8 bit, is what was there.
  await format.selectOption('png-16');
  const deep = PNG.sync.read((await albedo()).bytes, { skipRescale: true }) as PNG & { depth: number };
  expect(deep.depth).toBe(16);
  const words = deep.data as unknown as Uint16Array;
  expect(texels.every((v, i) => Math.abs(Math.round(words[i]! / 257) - v) <= 1)).toBe(true);

  // WebP as Chromium decodes it: lossless is texel for texel.
  await format.selectOption('webp');
  const webp = await albedo();
  expect(webp.name).toBe('floor-albedo.webp');
  const decoded = await page.evaluate(async (base64) => {
    const bytes = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
    const image = await createImageBitmap(new Blob([bytes], { type: 'image/webp' }), {
      premultiplyAlpha: 'none',
      colorSpaceConversion: 'none',
    });
    const canvas = new OffscreenCanvas(image.width, image.height);
    const context = canvas.getContext('2d')!;
    context.drawImage(image, 0, 0);
    return [...context.getImageData(0, 0, image.width, image.height).data];
  }, webp.bytes.toString('base64'));
  expect(Buffer.from(decoded).equals(texels)).toBe(true);

  // What is set stays set, and the key takes all of it along.
  await format.selectOption('ktx2');
  await page.getByRole('button', { name: 'Names' }).click();
  const names = page.getByRole('textbox', { name: 'Pattern of the names' });
  await names.fill('T_{what}_{date}');
  await expect(
    page.getByRole('alert').filter({ hasText: '“{date}” in the names means nothing' }),
  ).toBeVisible();
  await names.fill('T_{project}_{what}');
  await chip(page, 'Outline as a hull').click();
  for (const what of ['OBJ', 'Layout', 'Model for a toon shader', 'Layer by layer', 'Recipe'])
    await page.getByRole('checkbox', { name: new RegExp(`^${what}`) }).check();
  await page.reload();
  await ready(page);
  const whole = await downloaded(page, () => page.keyboard.press('Control+Shift+S'));
  expect(whole.name).toBe('T_floor_delivery.zip');
  const files = unzipSync(new Uint8Array(whole.bytes));
  expect(
    Object.keys(files)
      .filter((name) => !name.includes('_layer-'))
      .toSorted(),
  ).toEqual([
    'T_floor.glb',
    'T_floor.mtl',
    'T_floor.obj',
    'T_floor_albedo.ktx2',
    'T_floor_albedo.png',
    'T_floor_layout.png',
    'T_floor_recipe.json',
    'T_floor_report.json',
    'T_floor_toon.glb',
  ]);
  expect(PNG.sync.read(Buffer.from(files['T_floor_albedo.png']!)).data.equals(texels)).toBe(true);
  const [largest, ...smaller] = await transcodedLevels(files['T_floor_albedo.ktx2']!);
  const mean = largest!.rgba.reduce((sum, v, i) => sum + Math.abs(v - texels[i]!), 0) / texels.length;
  expect([largest!.width, smaller.length, mean < 1]).toEqual([plain.width, Math.log2(plain.width), true]);
  const toon = await new WebIO().registerExtensions(ALL_EXTENSIONS).readBinary(files['T_floor_toon.glb']!);
  expect(
    toon
      .getRoot()
      .listMeshes()
      .some((m) => m.getName().endsWith(' outline')),
  ).toBe(true);
  expect(Buffer.from(toon.getRoot().listTextures()[0]!.getImage()!)).toEqual(
    Buffer.from(files['T_floor_albedo.ktx2']!),
  );
  const layers = Object.keys(files).filter((name) => /^T_floor_layer-\d\d-[\w-]+\.png$/.test(name));
  expect(layers.length).toBeGreaterThan(1);
  const report = JSON.parse(new TextDecoder().decode(files['T_floor_report.json'])) as {
    sheets: { albedo: string }[];
    settings: { format: string };
  };
  expect([report.sheets[0]!.albedo, report.settings.format]).toEqual(['T_floor_albedo.ktx2', 'ktx2']);
});

test('what would leave is checked, shown where it is, mended by a click, and told in the trail', async ({
  page,
}) => {
  await startEmpty(page);
  const draw = await floorToPaint(page);
  await draw([0.2, 0.5], [0.8, 0.5]);
  await ready(page);
  await stage(page, 'Deliver');
  await page.getByRole('combobox', { name: /^Bleed/ }).selectOption('6');
  await chip(page, 'Check what would leave').click();
  const findings = page.locator('.finding');
  const bleed = findings.filter({ hasText: 'Colour reaches 6 texels past the islands; 4 mips need 24' });
  await expect(bleed).toBeVisible();
  const trail = page.getByRole('navigation', { name: 'Stages' });
  await expect(trail).toContainText(/\d to look at/);
  const before = await findings.count();
  await bleed.getByRole('button', { name: 'Bleed everywhere' }).click();
  await expect(bleed).toHaveCount(0);
  await expect(page.getByRole('combobox', { name: /^Bleed/ })).toHaveValue('null');
  expect(await findings.count()).toBeLessThan(before);
  // What a lossy file loses is measured on its own texels.
  const format = page.getByRole('combobox', { name: /^Format/ });
  await format.selectOption('ktx2');
  await expect(page.getByText('What would leave has changed since.')).toBeVisible();
  await expect(trail).not.toContainText(/to look at|checked/);
  await chip(page, 'Check again').click();
  await expect(page.getByText(/ΔE \d\.\d at its worst twentieth/)).toBeVisible();
  // Paint that is made afterwards makes the check an old one.
  await stage(page, 'Paint');
  await draw([0.3, 0.3], [0.4, 0.3]);
  await ready(page);
  await expect(trail).not.toContainText('to look at');
  await stage(page, 'Deliver');
  await expect(page.getByText('What would leave has changed since.')).toBeVisible();
});

/** A plate that stands upright, so that a camera in front sees all of it. */
const UPRIGHT =
  'o Plate\nv -1 -1 0\nv 1 -1 0\nv 1 1 0\nv -1 1 0\nvt 0.1 0.1\nvt 0.9 0.1\nvt 0.9 0.9\nvt 0.1 0.9\nvn 0 0 1\nf 1/1/1 2/2/1 3/3/1 4/4/1\n';

test('the engine’s view reads the delivered file and shows the same colours, in each format', async ({
  page,
}) => {
  await startEmpty(page);
  await beginProject(page, 'plate.obj', UPRIGHT);
  await stage(page, 'Deliver');
  const pane = page.locator('.engine-pane canvas');
  const middle = async (): Promise<readonly number[]> => {
    const png = PNG.sync.read(await pane.screenshot());
    return pixel(png, Math.round(png.width / 2), Math.round(png.height / 2));
  };
  const near = async (color: readonly number[], within: number): Promise<void> =>
    expect
      .poll(async () => Math.max(...(await middle()).map((v, k) => Math.abs(v - color[k]!))), {
        timeout: 30_000,
      })
      .toBeLessThanOrEqual(within);
  const format = page.getByRole('combobox', { name: /^Format/ });
  await chip(page, 'See it in an engine').click();
  await near(LOCAL, 0);
  for (const [name, within] of [
    ['webp', 0],
    ['ktx2', 4],
  ] as const) {
    await format.selectOption(name);
    await chip(page, 'Light').click();
    await page.keyboard.press('Control+e');
    await ready(page);
    await near(LOCAL, within);
  }
  // In the lit step of a toon light the paint keeps its colour.
  const lit = page.getByRole('group', { name: 'How an engine shows it' });
  await lit.getByRole('button', { name: 'Toon' }).click();
  await ready(page);
  await near(LOCAL, 8);
  await lit.getByRole('button', { name: 'Unlit' }).click();
  await ready(page);
  await lit.getByRole('button', { name: 'Game size' }).click();
  await near(LOCAL, 4);
  const png = PNG.sync.read(await pane.screenshot());
  const tall = Array.from({ length: png.height }, (_, y) => pixel(png, Math.round(png.width / 2), y)).filter(
    (c) => Math.abs(c[0] - LOCAL[0]!) < 6 && Math.abs(c[2] - LOCAL[2]!) < 6,
  ).length;
  expect(Math.abs(tall - 128)).toBeLessThan(10);
  // It goes with its button, and with the stage.
  await lit.getByRole('button', { name: 'Close the engine’s view' }).click();
  await expect(pane).toHaveCount(0);
  await stage(page, 'Paint');
  await expect(pane).toHaveCount(0);
});

test('a turntable and a portfolio sheet are drawn from the delivered file @slow', async ({ page }) => {
  await startEmpty(page);
  await beginProject(page, 'plate.obj', UPRIGHT);
  await stage(page, 'Deliver');
  await page.keyboard.press('Control+e');
  await expect(page.locator('.engine-pane canvas')).not.toHaveAttribute('data-drawn', '0');
  await expect(page.getByText('Nothing is shown yet')).toHaveCount(0);
  await ready(page);
  const turned = async (format: string) => {
    await chip(page, 'Turntable…').click();
    const dialog = page.getByRole('dialog');
    await dialog.getByRole('combobox', { name: /^Format/ }).selectOption(format);
    await dialog.getByRole('combobox', { name: /^Pictures/ }).selectOption('12');
    await dialog.getByRole('combobox', { name: /^Size/ }).selectOption('256');
    return downloaded(page, () => chip(page, 'Make it').click());
  };
  // Single pictures: the paint's own colour in front, the edge of a plate seen from its side.
  const single = unzipSync(new Uint8Array((await turned('png')).bytes));
  const frames = Object.values(single).map((bytes) => PNG.sync.read(Buffer.from(bytes)));
  expect(frames.map((f) => f.width)).toEqual(Array(12).fill(256));
  expect(pixel(frames[0]!, 128, 128)).toEqual(LOCAL);
  expect(pixel(frames[3]!, 128, 100)).toEqual([128, 128, 128]);
  // The same as one picture that moves, as Chromium decodes it.
  const apng = await turned('apng');
  const seen = await page.evaluate(async (base64) => {
    const data = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
    const decoder = new ImageDecoder({ data, type: 'image/png' });
    await decoder.tracks.ready;
    const count = decoder.tracks.selectedTrack!.frameCount;
    const out: number[][] = [];
    let duration = 0;
    for (const frameIndex of [0, 3]) {
      const { image } = await decoder.decode({ frameIndex });
      duration = image.duration ?? 0;
      const canvas = new OffscreenCanvas(image.displayWidth, image.displayHeight);
      const context = canvas.getContext('2d')!;
      context.drawImage(image, 0, 0);
      out.push([...context.getImageData(128, 100, 1, 1).data.slice(0, 3)]);
    }
    return { count, out, duration };
  }, apng.bytes.toString('base64'));
  expect(seen).toEqual({ count: 12, out: [LOCAL, [128, 128, 128]], duration: 333_000 });
  // As a film that the browser plays.
  const film = await turned('webm');
  // On a page of its own: the application's policy lets no films in.
  const player = await page.context().newPage();
  const played = await player.evaluate(async (base64) => {
    const video = document.createElement('video');
    video.src = URL.createObjectURL(
      new Blob([Uint8Array.from(atob(base64), (c) => c.charCodeAt(0))], { type: 'video/webm' }),
    );
    await new Promise((resolve, reject) => {
      video.onloadeddata = resolve;
      video.onerror = () => reject(new Error(video.error?.message));
    });
    return [video.videoWidth, video.videoHeight, Math.round(video.duration)];
  }, film.bytes.toString('base64'));
  expect(played).toEqual([256, 256, 4]);

  const portfolio = await downloaded(page, () => chip(page, 'Portfolio').click());
  const sheet = PNG.sync.read(portfolio.bytes);
  expect(portfolio.name).toBe('plate-portfolio.png');
  // The middle of the first view, and of the same in values.
  expect(pixel(sheet, 24 + 210, 84 + 210)).toEqual(LOCAL);
  const [r, g, b] = pixel(sheet, 24 + 210, 84 + 474 + 210);
  expect(r === g && g === b && r > 150 && r < 190).toBe(true);
});
