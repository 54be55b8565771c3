import { existsSync, readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import {
  beginProject,
  chip,
  chooseModel,
  floorToPaint,
  kept,
  modelBox,
  picture,
  pixel,
  ready,
  SEAMED_OBJ,
  stage,
  startEmpty,
  stroke,
} from './helpers';

/** The two squares a little apart where they should meet, one of them turned over. */
const SICK_OBJ = SEAMED_OBJ.replace('f 2/5 5/6 6/7 3/8', 'v 0.00002 0 1\nf 3/8 6/7 5/6 7/5');

test('health finds what is wrong, shows where, and mends it by a click; all of it can be undone', async ({
  page,
}) => {
  await startEmpty(page);
  await beginProject(page, 'sick.obj', SICK_OBJ);
  const health = page.getByRole('region', { name: 'Health' });
  await expect(health.getByText('1 duplicate vertex')).toBeVisible();
  const before = (await picture(page)).png;
  await health.getByText('2 triangles lie face down').click();
  expect(Buffer.compare((await picture(page)).png.data, before.data)).not.toBe(0);
  await health.getByRole('button', { name: 'Merge' }).click();
  await expect(health.getByText(/duplicate/)).toHaveCount(0);
  await health.getByRole('button', { name: 'Unify' }).click();
  await expect(health.getByText(/winding/)).toHaveCount(0);
  await expect(health.getByText(/face down/)).toHaveCount(0);
  await chip(page, 'Undo').click();
  await chip(page, 'Undo').click();
  await expect(health.getByText('1 duplicate vertex')).toBeVisible();
});

test('parts are renamed, split and merged; the model is replaced by a newer one and keeps its paint', async ({
  page,
}) => {
  await startEmpty(page);
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  const parts = () => page.locator('.part-name').allTextContents();
  await page.locator('.part-name', { hasText: 'Left' }).click();
  await chip(page, 'Rename').click();
  await page.getByLabel('Name of the part').fill('West');
  await page.keyboard.press('Enter');
  await expect.poll(async () => (await parts()).join()).toContain('West');

  await stage(page, 'Paint');
  await page.getByRole('radio', { name: 'Flat paint' }).click();
  await chip(page, 'Model').click();
  await chip(page, 'Top').click();
  const bare = await picture(page);
  const box = modelBox(bare.png);
  const [x, y] = [
    bare.left + box.left + (box.right - box.left) * 0.25,
    bare.top + (box.top + box.bottom) / 2,
  ];
  await stroke(page, [
    [x - 30, y],
    [x + 30, y],
  ]);
  const painted = (await picture(page)).png;
  const at = [x - bare.left, y - bare.top] as const;
  const color = pixel(painted, ...at);
  expect(color).not.toEqual(pixel(bare.png, ...at));

  // A newer version: finer, its layout another, its right half raised a little.
  await stage(page, 'Model');
  const newer = SEAMED_OBJ.replace('o Left', 'o West')
    .replace('v 1 0 1', 'v 1 0.02 1')
    .replace('v 1 0 -1', 'v 1 0.02 -1')
    .replace(
      'vt 0.05 0.05\nvt 0.45 0.05\nvt 0.45 0.85\nvt 0.05 0.85',
      'vt 0.05 0.05\nvt 0.05 0.45\nvt 0.45 0.45\nvt 0.45 0.05',
    );
  const chooser = page.waitForEvent('filechooser');
  await chip(page, 'Replace…').click();
  await (await chooser).setFiles({ name: 'newer.obj', mimeType: '', buffer: Buffer.from(newer) });
  // The right half lies on the sheet as before, the left one doesn't.
  await page.getByRole('button', { name: 'Keep same UVs' }).click();
  await expect(
    page.getByText(
      'The model was replaced. Texel for texel as it was: Right. All that was painted looks as it did.',
    ),
  ).toBeVisible();
  await ready(page);
  // At the same stage as before: the tray makes the picture lower.
  await stage(page, 'Paint');
  const after = (await picture(page)).png;
  await stage(page, 'Model');
  const now = pixel(after, ...at);
  for (let k = 0; k < 3; k++) expect(Math.abs(now[k]! - color[k]!)).toBeLessThan(12);

  await page.locator('.part-name', { hasText: 'West' }).click();
  await page.locator('.part-name', { hasText: 'Right' }).click({ modifiers: ['Shift'] });
  await chip(page, 'Merge').click();
  await expect.poll(async () => (await parts()).length).toBe(1);
  await kept(page);
  await page.reload();
  await ready(page);
  await chip(page, 'Undo').click();
  await expect.poll(async () => (await parts()).length).toBe(2);
});

test('a new model that may or may not be the old one in other units: the artist says where the paint goes', async ({
  page,
}) => {
  await startEmpty(page);
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  // Longer, thinner, elsewhere.
  const other = SEAMED_OBJ.replace(/^v (\S+) \S+ (\S+)$/gm, (_line, x: string, z: string) =>
    ['v', Number(x) * 40 + 500, 3, Number(z) * 7].join(' '),
  );
  const replace = async (): Promise<void> => {
    const chooser = page.waitForEvent('filechooser');
    await chip(page, 'Replace…').click();
    await (await chooser).setFiles({ name: 'other.obj', mimeType: '', buffer: Buffer.from(other) });
  };
  await stage(page, 'Paint');
  const { left, top, png } = await picture(page);
  const box = modelBox(png);
  const [x, y] = [left + box.left + (box.right - box.left) * 0.3, top + (box.top + box.bottom) / 2];
  await stroke(page, [
    [x - 30, y],
    [x + 30, y],
  ]);
  await stage(page, 'Model');
  const keep = page.getByRole('dialog', { name: 'Keep the sheets?' });
  await replace();
  // Its triangles and UVs are the same, so that is asked first.
  await keep.getByRole('button', { name: 'Find by place' }).click();
  const dialog = page.getByRole('dialog', { name: 'Where does the paint go?' });
  await expect(dialog.getByRole('button', { name: 'Lay it over the old one' })).toBeFocused();
  await page.keyboard.press('Escape');
  await expect(dialog).toHaveCount(0);

  // Where it stands there is none of the paint: what would be lost is told before.
  await replace();
  await keep.getByRole('button', { name: 'Find by place' }).click();
  await dialog.getByRole('button', { name: 'Leave it where it stands' }).click();
  await page.getByRole('button', { name: 'Find by place' }).click();
  const risk = page.getByRole('dialog', { name: /^Paint at risk/ });
  await risk.getByRole('button', { name: /^Left/ }).click();
  const size = await page.locator('.facts').textContent();
  await risk.getByRole('button', { name: 'Keep as is' }).click();
  await expect(risk).toHaveCount(0);
  expect(await page.locator('.facts').textContent()).toBe(size);
  await replace();
  await keep.getByRole('button', { name: 'Find by place' }).click();
  // The key is for the dialog, so it must be there.
  await expect(dialog.getByRole('button', { name: 'Lay it over the old one' })).toBeFocused();
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Find by place' }).click();
  await expect(page.getByText(/^The model was replaced\./)).toBeVisible();
  expect(await page.locator('.facts').textContent()).not.toBe(size);
});

// Debian's assimp-testmodels, unpacked by script/test: read here, never committed.
test('a texture that a model brings becomes the first paint layer; PLY and STL come in too @slow', async ({
  page,
}) => {
  const models = '.cache/models/usr/share/assimp/models';
  test.skip(!existsSync(models), 'assimp-testmodels is not on this machine');
  await startEmpty(page);
  await beginProject(
    page,
    'BoxTextured.glb',
    readFileSync(`${models}/glTF2/BoxTextured-glTF-Binary/BoxTextured.glb`),
  );
  await stage(page, 'Form');
  await expect(page.locator('.layers .layer-text b')).toHaveText([
    'Effects',
    'Lines',
    'Colours',
    'Form',
    'Base colour',
    'Local colour',
  ]);
  const { png } = await picture(page);
  const colors = new Set<string>();
  const box = modelBox(png);
  for (let x = box.left; x < box.left + 300; x += 4)
    colors.add(pixel(png, x, (box.top + box.bottom) / 2).join());
  expect(colors.size).toBeGreaterThan(6);
  for (const [file, triangles] of [
    ['PLY/cube_binary.ply', '12'],
    ['STL/Spider_binary.stl', '1,368'],
  ] as const) {
    await page.goto('/');
    await chooseModel(page, file.split('/')[1]!, readFileSync(`${models}/${file}`));
    await page.getByRole('button', { name: 'Lay out and begin' }).click();
    await page.waitForURL(/\/model$/);
    await ready(page);
    await expect(page.locator('.facts')).toContainText(triangles);
  }
});

test('a part that is seen alone stays so when the model is turned', async ({ page }) => {
  await startEmpty(page);
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await chip(page, 'Model').click();
  await chip(page, 'Top').click();
  const width = async (): Promise<number> => {
    const box = modelBox((await picture(page)).png);
    return (box.right - box.left) / (box.bottom - box.top);
  };
  const whole = await width();
  await page.locator('.part-name', { hasText: 'Left' }).click();
  const alone = page.getByRole('button', { name: 'Alone' }).first();
  await alone.click();
  const half = await width();
  expect(half).toBeLessThan(whole * 0.6);
  await page.keyboard.press('Control+k');
  await page.getByPlaceholder('What would you like to do?').fill('Turn the model around');
  await page.keyboard.press('Enter');
  await ready(page);
  await expect(alone).toHaveAttribute('aria-pressed', 'true');
  expect(await width()).toBeCloseTo(half, 1);
});

test('another sheet size is drawn without a texture that is gone', async ({ page }) => {
  const said: string[] = [];
  page.on('console', (message) => {
    if (/WebGL|GL_INVALID/.test(message.text())) said.push(message.text());
  });
  // Binding what was deleted is an error of WebGL (section 5.14.8 of its specification), which browsers stop telling after some.
  await page.addInitScript(() => {
    const gone = new WeakSet<object>();
    const counts = { bound: 0 };
    Object.assign(window, { counts });
    const { prototype } = WebGL2RenderingContext;
    const { deleteTexture, bindTexture } = prototype;
    prototype.deleteTexture = function (texture) {
      if (texture) gone.add(texture);
      return deleteTexture.call(this, texture);
    };
    prototype.bindTexture = function (target, texture) {
      if (texture && gone.has(texture)) counts.bound++;
      return bindTexture.call(this, target, texture);
    };
  });
  await startEmpty(page);
  const draw = await floorToPaint(page);
  for (const v of [0.2, 0.4, 0.6, 0.8]) await draw([0.1, v], [0.9, v]);
  await stage(page, 'Unwrap');
  for (const size of ['1024', '256']) {
    await page.getByLabel('Size of Sheet 1').selectOption(size);
    await ready(page);
    await expect(page.getByLabel('Size of Sheet 1')).toHaveValue(size);
  }
  await stage(page, 'Paint');
  await draw([0.1, 0.5], [0.9, 0.5]);
  expect(said).toEqual([]);
  expect(await page.evaluate(() => (window as unknown as { counts: { bound: number } }).counts.bound)).toBe(
    0,
  );
});
