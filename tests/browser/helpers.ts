import { readFileSync } from 'node:fs';
import { expect, type Download, type Page } from '@playwright/test';
import { PNG } from 'pngjs';

/** Two squares in one plane (y = 0) with their common edge at x = 0, apart on the sheet: a seam through a flat place. */
export const SEAMED_OBJ = `o Left
v -1 0 1
v 0 0 1
v 0 0 -1
v -1 0 -1
vt 0.05 0.05
vt 0.45 0.05
vt 0.45 0.85
vt 0.05 0.85
f 1/1 2/2 3/3 4/4
o Right
v 1 0 1
v 1 0 -1
vt 0.55 0.05
vt 0.95 0.05
vt 0.95 0.85
vt 0.55 0.85
f 2/5 5/6 6/7 3/8
`;

/** No demo by itself: the tests begin with an empty start page. */
export async function startEmpty(page: Page): Promise<void> {
  await page.addInitScript(() => localStorage.setItem('zanahoria-started', 'yes'));
  await page.goto('/');
  await expect(page.getByText('Nothing here yet')).toBeVisible();
}

export async function chooseModel(page: Page, name: string, data: Buffer | string): Promise<void> {
  const chooser = page.waitForEvent('filechooser');
  await page.getByText('New from a model').click();
  await (await chooser).setFiles({ name, mimeType: 'application/octet-stream', buffer: Buffer.from(data) });
}

/** Begins a project with a model and waits until it can be painted on. */
export async function beginProject(
  page: Page,
  name: string,
  data: Buffer | string,
  sheet = 512,
): Promise<void> {
  await chooseModel(page, name, data);
  await page.getByLabel('Sheet').selectOption(String(sheet));
  await page.getByRole('button', { name: /^(Begin|Lay out and begin)$/ }).click();
  await page.waitForURL(/\/model$/);
  await ready(page);
}

/** Nothing is being opened or measured, and the picture is composited and drawn. */
export async function ready(page: Page): Promise<void> {
  // What was just asked for begins with the next frame.
  await page.evaluate(() => new Promise((next) => requestAnimationFrame(() => setTimeout(next, 50))));
  await expect(page.locator('.frame[data-measuring="false"][data-busy="false"]')).toBeAttached({
    timeout: 90_000,
  });
  await drawn(page);
}

export async function stage(page: Page, name: string): Promise<void> {
  await page.getByRole('navigation').getByText(name, { exact: true }).click();
  await expect(page.getByRole('complementary', { name, exact: true })).toBeAttached();
  await drawn(page);
}

/** Every picture that was asked for is on the screen, and the camera rests. */
export async function drawn(page: Page): Promise<void> {
  await page.evaluate(() => new Promise(requestAnimationFrame));
  await expect(page.locator('.viewport > canvas')).toHaveAttribute('data-busy', 'false');
  await page.evaluate(() => new Promise(requestAnimationFrame));
}

export const chip = (page: Page, name: string) => page.getByRole('button', { name, exact: true });

/** The viewport as it is on the screen. @param asItIs the pointer stays where it is */
export async function picture(page: Page, asItIs = false): Promise<{ png: PNG; left: number; top: number }> {
  const box = (await page.getByTestId('viewport').boundingBox())!;
  // Away from the picture, so that no brush lies over it.
  if (!asItIs) await page.mouse.move(200, 8);
  await settled(page);
  // Notices and bars lie over the picture; they are no part of it.
  const style =
    '[data-sonner-toaster], .over-picture, .form-bar, .symmetry-marks, .backdrop-outline, .ink-marks, .ramp-line { visibility: hidden !important; }';
  return { png: PNG.sync.read(await page.screenshot({ clip: box, style })), left: box.x, top: box.y };
}

export function pixel(png: PNG, x: number, y: number): [number, number, number] {
  const o = (Math.round(y) * png.width + Math.round(x)) * 4;
  return [png.data[o]!, png.data[o + 1]!, png.data[o + 2]!];
}

/** The buttons that fold the outer columns stand at the picture's sides, pixels. */
const SIDE_AIR = 16;

/** Where the model lies in the picture: the box of all pixels that aren't the neutral ground, chips left out. */
export function modelBox(png: PNG): { left: number; right: number; top: number; bottom: number } {
  const ground = pixel(png, png.width / 2, 46);
  const box = { left: png.width, right: 0, top: png.height, bottom: 0 };
  for (let y = 45; y < png.height - 45; y++) {
    for (let x = SIDE_AIR; x < png.width - SIDE_AIR; x++) {
      if (pixel(png, x, y).join() === ground.join()) continue;
      box.left = Math.min(box.left, x);
      box.right = Math.max(box.right, x);
      box.top = Math.min(box.top, y);
      box.bottom = Math.max(box.bottom, y);
    }
  }
  return box;
}

/** A stroke with the left button through the given points, in steps as a hand makes them. */
export async function stroke(page: Page, points: readonly (readonly [number, number])[]): Promise<void> {
  const [first, ...rest] = points;
  await page.mouse.move(first![0], first![1]);
  await page.mouse.down();
  for (const [x, y] of rest) await page.mouse.move(x, y, { steps: 8 });
  await page.mouse.up();
  await drawn(page);
}

/** Commands and strokes have gone through the paint worker, and their tiles are on the screen. */
export async function settled(page: Page): Promise<void> {
  await expect(page.locator('.frame')).toHaveAttribute('data-busy', 'false');
  await drawn(page);
}

/** Draws through points given in parts of the floor's width and depth. */
type Draw = (...points: readonly (readonly [number, number])[]) => Promise<void>;

/** Begins a project with a floor, seen from above in the Paint stage. */
export async function floorToPaint(page: Page): Promise<Draw> {
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  return paintOnFloor(page);
}

export async function paintOnFloor(page: Page): Promise<Draw> {
  await stage(page, 'Paint');
  await chip(page, 'Model').click();
  await chip(page, 'Top').click();
  const { png, left, top } = await picture(page);
  const box = modelBox(png);
  const [width, height] = [box.right - box.left, box.bottom - box.top];
  return (...points) =>
    stroke(
      page,
      points.map(([u, v]) => [left + box.left + width * u, top + box.top + height * v] as const),
    );
}

export async function downloaded(
  page: Page,
  click: () => Promise<void>,
): Promise<{ name: string; bytes: Buffer }> {
  const waiting: Promise<Download> = page.waitForEvent('download', { timeout: 60_000 });
  await click();
  const download = await waiting;
  return { name: download.suggestedFilename(), bytes: readFileSync(await download.path()) };
}

/** Changes a value by typing it. */
export async function type(page: Page, label: string, value: string): Promise<void> {
  const field = page.getByLabel(`${label}, as a number`);
  await field.fill(value);
  await field.press('Enter');
}

/** The words under the project's name say that all is on disk. */
export async function kept(page: Page, timeout = 5000): Promise<void> {
  await expect(page.locator('.project-name small')).toHaveText(/^kept/, { timeout });
}

/** The id of a layer in a project file. */
export function layerId(zip: Record<string, Uint8Array>, name: string): number {
  const { document } = JSON.parse(new TextDecoder().decode(zip['project.json'])) as {
    document: { layers: { id: number; name: string }[] };
  };
  return document.layers.find((l) => l.name === name)!.id;
}

/** Lets go of a file over an element, as a file manager does. */
export async function drop(
  page: Page,
  selector: string,
  name: string,
  bytes: number[],
  type = '',
): Promise<void> {
  const dataTransfer = await page.evaluateHandle(
    (file) => {
      const data = new DataTransfer();
      data.items.add(new File([new Uint8Array(file.bytes)], file.name, { type: file.type }));
      return data;
    },
    { name, bytes, type },
  );
  await page.dispatchEvent(selector, 'dragover', { dataTransfer });
  await page.dispatchEvent(selector, 'drop', { dataTransfer });
}

/** The colour in hand at first. */
export const ORANGE = [207, 90, 46];

/** What parts have that were given no colour. */
export const LOCAL = [182, 172, 162];

/** A floor of two parts seen from above; places on it are told from its middle, -1 to 1 each way. */
export async function floorAtPaint(page: Page) {
  await startEmpty(page);
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await stage(page, 'Paint');
  await chip(page, '+ Sheet').click();
  await chip(page, 'Top').click();
  await ready(page);
  const { png, left, top } = await picture(page);
  const box = modelBox(png);
  const [x, y] = [(box.left + box.right) / 2, (box.top + box.bottom) / 2];
  const r = (box.right - box.left) / 2;
  return {
    at: (u: number, v: number): [number, number] => [left + x + u * r, top + y + v * r],
    /** What is seen there; nothing of the pointer lies over it. */
    async seen(u: number, v: number, asItIs = false) {
      return pixel((await picture(page, asItIs)).png, x + u * r, y + v * r);
    },
  };
}
