import { expect, test, type Page } from '@playwright/test';
import {
  chip,
  chooseModel,
  floorToPaint,
  kept,
  paintOnFloor,
  picture,
  ready,
  SEAMED_OBJ,
  stage,
  startEmpty,
} from './helpers';

const alert = (page: Page) => page.getByRole('alert');

const worker = (page: Page, name: string) => page.workers().find((w) => w.url().includes(name))!;

test('bad files are told in a sentence and change nothing', async ({ page }) => {
  await startEmpty(page);
  const cases: readonly (readonly [string, string | Buffer, RegExp])[] = [
    ['empty.glb', '', /empty \(0 bytes\)/],
    ['cut.glb', Buffer.from('glTF\x02\x00\x00\x00\xff\xff\x00\x00', 'latin1'), /cut off/],
    ['notes.txt', 'Buy turnips.', /not a model/],
    ['skin.png', Buffer.from([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10, 0]), /is a picture \(PNG\)/],
    ['nan.obj', 'v 0 0 nan\nv 1 0 0\nv 0 1 0\nf 1 2 3\n', /not a number/],
    ['points.obj', 'v 0 0 0\n', /no triangles/],
    ['broken.zip', 'PK not really', /can’t be opened/],
  ];
  for (const [name, data, words] of cases) {
    await chooseModel(page, name, data);
    await expect(alert(page)).toHaveText(words);
    await chip(page, 'Close').click();
  }
  await expect(page.getByText('Nothing here yet')).toBeVisible();
});

test('a model without UVs is laid out, so that painting can start', async ({ page }) => {
  await startEmpty(page);
  const cube =
    'v -1 -1 -1\nv 1 -1 -1\nv 1 1 -1\nv -1 1 -1\nv -1 -1 1\nv 1 -1 1\nv 1 1 1\nv -1 1 1\n' +
    'f 4 3 2 1\nf 5 6 7 8\nf 1 2 6 5\nf 2 3 7 6\nf 3 4 8 7\nf 4 1 5 8\n';
  await chooseModel(page, 'cube.obj', cube);
  await expect(page.getByText('has no UVs')).toBeVisible();
  await chip(page, 'Lay out and begin').click();
  await page.waitForURL(/\/model$/);
  await ready(page);
  // Six sides lie flat in six islands at the most.
  await expect(page.getByRole('navigation').getByText(/^[1-6] islands?$/)).toBeVisible();
});

test('UVs that lie over one another are told when the model comes in, and laid out anew unless they are wanted', async ({
  page,
}) => {
  await startEmpty(page);
  // A roof of two slopes, both on the same place of the sheet.
  const roof =
    'v -1 0 1\nv -1 0 -1\nv 0 1 1\nv 0 1 -1\nv 1 0 1\nv 1 0 -1\nvt 0.1 0.1\nvt 0.9 0.1\nvt 0.9 0.9\nvt 0.1 0.9\n' +
    'f 1/1 3/2 4/3 2/4\nf 3/1 5/2 6/3 4/4\n';
  const overlapping = page.getByRole('row', { name: 'Overlapping texels' }).getByRole('cell');
  for (const [choice, begin, texels] of [
    ['Lay it out anew', 'Lay out and begin', /^0$/],
    ['Keep its own UVs', 'Begin', /^[1-9]/],
  ] as const) {
    await page.goto('/');
    await chooseModel(page, 'roof.obj', roof);
    await expect(page.getByText('lie over one another on all of the sheet')).toBeVisible();
    await expect(chip(page, 'Lay it out anew')).toHaveAttribute('aria-pressed', 'true');
    await chip(page, choice).click();
    await chip(page, begin).click();
    await page.waitForURL(/\/model$/);
    await stage(page, 'Unwrap');
    await expect(overlapping).toHaveText(texels);
  }
});

test('UVs on one point are told when the model comes in; where they are kept, a stroke says why nothing is painted', async ({
  page,
}) => {
  await startEmpty(page);
  const slab = 'v -1 0 1\nv 1 0 1\nv 1 0 -1\nv -1 0 -1\nvt 0.5 0.5\nf 1/1 2/1 3/1 4/1\n';
  await chooseModel(page, 'slab.obj', slab);
  await expect(page.getByText('they take no room on a sheet')).toBeVisible();
  await expect(chip(page, 'Lay it out anew')).toHaveAttribute('aria-pressed', 'true');
  await chip(page, 'Keep its own UVs').click();
  await chip(page, 'Begin').click();
  await page.waitForURL(/\/model$/);
  await ready(page);
  const draw = await paintOnFloor(page);
  await draw([0.3, 0.5], [0.6, 0.5]);
  await expect(page.getByText('This place takes no room on its sheet')).toBeVisible();
  await expect(page.getByRole('navigation').getByText('0 strokes')).toBeVisible();
});

test('laying out a large model is stopped from its dialog; nothing is stored, and it can begin again', async ({
  page,
}) => {
  await startEmpty(page);
  // 100,000 triangles in a wavy cloth.
  const n = 224;
  const lines = ['o Cloth'];
  for (let j = 0; j <= n; j++)
    for (let i = 0; i <= n; i++)
      lines.push(`v ${i / n} ${(Math.sin(i / 9) * Math.cos(j / 7)) / 20} ${j / n}`);
  for (let j = 0; j < n; j++) {
    for (let i = 0; i < n; i++) {
      const p = j * (n + 1) + i + 1;
      lines.push(`f ${p} ${p + n + 1} ${p + n + 2} ${p + 1}`);
    }
  }
  await chooseModel(page, 'cloth.obj', lines.join('\n'));
  const dialog = page.getByRole('dialog');
  const begin = dialog.getByRole('button', { name: 'Lay out and begin' });
  await begin.click();
  await dialog.getByRole('button', { name: 'Stop' }).click();
  await expect(begin).toBeEnabled();
  await expect(dialog.locator('progress')).toHaveCount(0);
  await expect(dialog.getByText('100,352 triangles in 1 part.')).toBeVisible();
  await dialog.getByRole('button', { name: 'Cancel' }).click();
  await expect(dialog).toHaveCount(0);
  await expect(page.getByText('Nothing here yet')).toBeVisible();
});

test('a second tab looks at a project and follows; it paints once the first is closed @slow', async ({
  page,
  context,
}) => {
  await startEmpty(page);
  const draw = await floorToPaint(page);
  const second = await context.newPage();
  await second.goto(page.url());
  await expect(second.getByText('open in another tab')).toBeVisible({ timeout: 15_000 });
  await ready(second);
  const { png: before } = await picture(second);
  await draw([0.2, 0.3], [0.5, 0.3]);
  await kept(page);
  // Seen in the other tab, without its being asked.
  await expect(second.getByRole('navigation').getByText('1 stroke')).toBeVisible();
  await expect.poll(async () => (await picture(second)).png.data.equals(before.data)).toBe(false);
  await second.bringToFront();
  const drawThere = await paintOnFloor(second);
  await drawThere([0.2, 0.6], [0.5, 0.6]);
  await expect(second.getByText('here it is only looked at')).toBeVisible();
  await expect(second.getByRole('navigation').getByText('1 stroke')).toBeVisible();
  await page.close();
  await expect(second.getByText(/^kept/)).toBeVisible({ timeout: 15_000 });
  await ready(second);
  const drawNow = await paintOnFloor(second);
  await drawNow([0.2, 0.6], [0.5, 0.6]);
  await expect(second.getByRole('navigation').getByText('2 strokes')).toBeVisible();
});

test('a painting worker that is killed loses no finished stroke', async ({ page }) => {
  await startEmpty(page);
  const draw = await floorToPaint(page);
  await draw([0.2, 0.3], [0.4, 0.4]);
  await kept(page);
  const before = (await picture(page)).png;
  await worker(page, 'paint.worker').evaluate(() => {
    setTimeout(() => {
      throw new Error('killed by the test');
    });
  });
  await expect(page.getByText('was started again')).toBeVisible();
  await ready(page);
  await expect(page.getByRole('navigation').getByText('1 stroke')).toBeVisible();
  await draw([0.6, 0.6], [0.8, 0.7]);
  await expect(page.getByRole('navigation').getByText('2 strokes')).toBeVisible();
  await chip(page, 'Undo').click();
  await expect(page.getByRole('navigation').getByText('1 stroke')).toBeVisible();
  await expect(page.getByText('was started again')).toHaveCount(0, { timeout: 15_000 });
  expect(Buffer.compare((await picture(page)).png.data, before.data)).toBe(0);
});

test('a full disk is told, and what waited is written when there is room again', async ({ page }) => {
  await startEmpty(page);
  const draw = await floorToPaint(page);
  const paint = worker(page, 'paint.worker');
  await paint.evaluate(() => {
    const put = IDBObjectStore.prototype.put;
    Object.assign(globalThis, { realPut: put });
    IDBObjectStore.prototype.put = () => {
      throw new DOMException('no room', 'QuotaExceededError');
    };
  });
  await draw([0.2, 0.3], [0.4, 0.4]);
  await expect(page.locator('.not-kept')).toHaveText('not kept: disk is full');
  await expect(page.locator('.not-kept')).toHaveAttribute('title', /save the project file/);
  await paint.evaluate(() => {
    IDBObjectStore.prototype.put = (
      globalThis as unknown as { realPut: typeof IDBObjectStore.prototype.put }
    ).realPut;
  });
  // It is tried again every 3 s.
  await kept(page, 20_000);
  await page.reload();
  await ready(page);
  await expect(page.getByRole('navigation').getByText('1 stroke')).toBeVisible();
});

test('storage that is refused is told on the start page', async ({ page }) => {
  await page.addInitScript(() => {
    localStorage.setItem('zanahoria-started', 'yes');
    IDBFactory.prototype.open = () => {
      throw new DOMException('denied', 'SecurityError');
    };
  });
  await page.goto('/');
  await expect(alert(page)).toHaveText(/refuses to keep data/);
});

test('a browser without WebGL2 is told what is missing', async ({ page }) => {
  await page.addInitScript(() => {
    const real = HTMLCanvasElement.prototype.getContext;
    HTMLCanvasElement.prototype.getContext = function (
      this: HTMLCanvasElement,
      kind: string,
      ...rest: unknown[]
    ) {
      return kind.startsWith('webgl')
        ? null
        : (real as (...a: unknown[]) => unknown).call(this, kind, ...rest);
    } as typeof real;
  });
  await startEmpty(page);
  await chooseModel(page, 'floor.obj', SEAMED_OBJ);
  await chip(page, 'Begin').click();
  await expect(alert(page)).toHaveText(/no WebGL2/);
});

test('a graphics context that is lost is told, no stroke is made blind, and the picture comes back @slow', async ({
  page,
}) => {
  await startEmpty(page);
  const draw = await floorToPaint(page);
  await draw([0.1, 0.5], [0.4, 0.5]);
  const before = (await picture(page)).png;
  await page.evaluate(() => {
    const gl = document.querySelector('canvas')!.getContext('webgl2')!;
    const loss = gl.getExtension('WEBGL_lose_context')!;
    Object.assign(window, { restore: () => loss.restoreContext() });
    loss.loseContext();
  });
  const told = page.getByText(/graphics driver took the picture away/);
  await expect(told).toBeVisible();
  await draw([0.6, 0.2], [0.9, 0.2]);
  await page.evaluate(() => (window as unknown as { restore: () => void }).restore());
  await expect(told).toHaveCount(0);
  await expect.poll(async () => Buffer.compare((await picture(page)).png.data, before.data)).toBe(0);
  await expect(page.getByRole('navigation').getByText('1 stroke')).toBeVisible();
  await draw([0.6, 0.2], [0.9, 0.2]);
  await expect(page.getByRole('navigation').getByText('2 strokes')).toBeVisible();
});

test('a page that breaks says so and offers the way back; it is never white', async ({ page }) => {
  await startEmpty(page);
  await page.evaluate(() => {
    window.ResizeObserver = class {
      constructor() {
        throw new Error('broken on purpose');
      }
    } as unknown as typeof ResizeObserver;
  });
  await chooseModel(page, 'floor.obj', SEAMED_OBJ);
  await chip(page, 'Begin').click();
  await expect(page.getByRole('heading', { name: 'This page can’t be shown' })).toBeVisible();
  await page.getByRole('link', { name: 'To the start page' }).click();
  await page.getByRole('button', { name: 'Open floor' }).click();
  await ready(page);
  await expect(page.getByRole('navigation').getByText('2 parts')).toBeVisible();
});

test('a browser that refuses to remember settings can still be painted in @slow', async ({ page }) => {
  await page.addInitScript(() => {
    Object.defineProperty(window, 'localStorage', {
      get: () => {
        throw new DOMException('denied', 'SecurityError');
      },
    });
  });
  await page.goto('/');
  await expect(page.getByText('Nothing here yet')).toBeVisible();
  const draw = await floorToPaint(page);
  await draw([0.1, 0.5], [0.4, 0.5]);
  await expect(page.getByRole('navigation').getByText('1 stroke')).toBeVisible();
});
