import { expect, test, type Page } from '@playwright/test';
import { unzipSync } from 'fflate';
import type { PNG } from 'pngjs';
import { stage as stageFile } from '../rigged';
import {
  beginProject,
  chip,
  downloaded,
  kept,
  ORANGE,
  picture,
  pixel,
  ready,
  stage,
  startEmpty,
} from './helpers';

const strip = (page: Page) => page.getByRole('region', { name: 'Pose' });

async function takeMoment(page: Page, seconds: string): Promise<void> {
  await strip(page).getByLabel('Clip').selectOption('Bend');
  const time = strip(page).getByLabel('Time, as a number');
  await time.fill(seconds);
  await time.press('Enter');
  await ready(page);
}

/** Middle of the widest square that a picture has of the model and the other doesn't. */
function onlyIn(a: PNG, b: PNG): [number, number] {
  const ground = pixel(a, a.width / 2, 46).join();
  const isOwn = (x: number, y: number): boolean =>
    pixel(a, x, y).join() !== ground && pixel(b, x, y).join() === ground;
  let best = [0, 0, 0];
  for (let y = 60; y < a.height - 110; y += 4) {
    for (let x = 20; x < a.width - 20; x += 4) {
      let r = 0;
      while (r < 40 && [-1, 0, 1].every((i) => [-1, 0, 1].every((j) => isOwn(x + i * r, y + j * r)))) r += 2;
      if (r > best[2]!) best = [x, y, r];
    }
  }
  expect(best[2]).toBeGreaterThan(6);
  return [best[0]!, best[1]!];
}

const isOrange = (png: PNG, [x, y]: readonly [number, number]): boolean =>
  pixel(png, x, y).every((v, k) => Math.abs(v - ORANGE[k]!) < 40);

test('a model is painted in a pose of its clip, and the paint goes with it: through rest, undo, reload and delivery', async ({
  page,
}) => {
  await startEmpty(page);
  await beginProject(page, 'stage.glb', Buffer.from(await stageFile()), 256);
  await stage(page, 'Paint');
  await chip(page, 'Model').click();
  await page.getByRole('radio', { name: 'Sharp line' }).click();
  await expect(strip(page)).toBeVisible();
  await ready(page);
  const rest = await picture(page);
  await takeMoment(page, '1');
  const posed = await picture(page);
  const place = onlyIn(posed.png, rest.png);
  await page.mouse.move(posed.left + place[0], posed.top + place[1]);
  await page.mouse.down();
  await page.mouse.move(posed.left + place[0] + 2, posed.top + place[1], { steps: 4 });
  await page.mouse.up();
  await ready(page);
  const painted = await picture(page);
  expect(isOrange(painted.png, place)).toBe(true);

  // At rest nothing of the model is there; the paint is where the surface is.
  await chip(page, 'Rest').click();
  await ready(page);
  const again = await picture(page);
  expect(pixel(again.png, ...place)).toEqual(pixel(rest.png, ...place));
  const found = (png: PNG): number => {
    let count = 0;
    for (let y = 60; y < png.height - 110; y++)
      for (let x = 20; x < png.width - 20; x++) if (isOrange(png, [x, y])) count++;
    return count;
  };
  expect(found(again.png)).toBeGreaterThan(10);
  expect(found(rest.png)).toBe(0);
  await page.keyboard.press('Control+z');
  await ready(page);
  expect(found((await picture(page)).png)).toBe(0);
  await page.keyboard.press('Control+Shift+z');
  await ready(page);
  await kept(page);

  await page.reload();
  await ready(page);
  await takeMoment(page, '1');
  expect(isOrange((await picture(page)).png, place)).toBe(true);

  // A stroke remembers its pose, and what is delivered has the clip and stands in the pose.
  await stage(page, 'Deliver');
  const file = await downloaded(page, () => page.getByRole('button', { name: /^Project file/ }).click());
  const zip = unzipSync(file.bytes);
  const strokes = Object.keys(zip).filter((name) => name.startsWith('strokes/'));
  expect(strokes.map((name) => new TextDecoder().decode(zip[name])).join()).toContain(
    '"clip":"Bend","time":1',
  );
});

test('what is delivered stands in the pose in the engine’s view, and plays', async ({ page }) => {
  await startEmpty(page);
  await beginProject(page, 'stage.glb', Buffer.from(await stageFile()), 256);
  await stage(page, 'Deliver');
  await chip(page, 'See it in an engine').click();
  const pane = page.locator('.engine-pane canvas');
  await expect(pane).not.toHaveAttribute('data-drawn', '0', { timeout: 60_000 });
  await expect(page.getByText('Nothing is shown yet')).toHaveCount(0);
  await ready(page);
  const shown = async (): Promise<string> => (await pane.screenshot()).toString('base64');
  const rest = await shown();
  await takeMoment(page, '1');
  await expect.poll(shown).not.toBe(rest);
  const posed = await shown();
  await page.keyboard.press('Alt+p');
  await expect(strip(page).getByRole('button', { name: 'Pause' })).toBeVisible();
  await expect.poll(shown).not.toBe(posed);
  await page.keyboard.press('Alt+r');
  await expect.poll(shown).toBe(rest);
});

test('occlusion is measured in a pose, and its map tells where the pose lies otherwise than the paint', async ({
  page,
}) => {
  await startEmpty(page);
  await beginProject(page, 'stage.glb', Buffer.from(await stageFile()), 256);
  await stage(page, 'Form');
  await chip(page, 'Model').click();
  await page.keyboard.press('Control+k');
  await page.keyboard.type('add a layer: occlusion wash');
  await page.keyboard.press('Enter');
  await ready(page);
  await takeMoment(page, '0.5');
  const maps = strip(page).getByRole('group', { name: 'Maps of the pose' });
  /** Of the model's pixels, the part that is coloured: more open or more hidden than painted. */
  const colored = async (): Promise<number> => {
    const { png } = await picture(page);
    let [count, all] = [0, 0];
    const ground = pixel(png, png.width / 2, 46).join();
    for (let y = 60; y < png.height - 110; y++) {
      for (let x = 20; x < png.width - 20; x++) {
        const color = pixel(png, x, y);
        if (color.join() === ground) continue;
        all++;
        if (Math.max(...color) - Math.min(...color) > 40) count++;
      }
    }
    return count / all;
  };
  await maps.getByRole('button', { name: 'Occlusion' }).click();
  await expect.poll(colored, { timeout: 30_000 }).toBeGreaterThan(0.02);
  await page.getByLabel('Poses', { exact: true }).selectOption('shown');
  await expect.poll(colored, { timeout: 30_000 }).toBeLessThan(0.002);
  await kept(page);

  await page.reload();
  await ready(page);
  await page
    .locator('.layer', { hasText: 'Occlusion' })
    .first()
    .click({ position: { x: 90, y: 15 } });
  await chip(page, '0.50 s').click();
  await expect(page.getByLabel('Poses', { exact: true })).toHaveValue('rest');
});
