import { expect, test } from '@playwright/test';
import { PNG } from 'pngjs';
import { encodePng } from '../../core/formats';
import {
  beginProject,
  chip,
  drop,
  downloaded,
  floorToPaint,
  modelBox,
  picture,
  pixel,
  ready,
  SEAMED_OBJ,
  stage,
  startEmpty,
  stroke,
  settled,
} from './helpers';

const plainPng = (color: readonly [number, number, number]): number[] => {
  const rgba = new Uint8Array(60 * 60 * 4);
  for (let i = 0; i < 60 * 60; i++) rgba.set([...color, 255], i * 4);
  return [...encodePng({ width: 60, height: 60, rgba })];
};

test('a model is dropped on the start page, a reference on the easel, another pasted', async ({ page }) => {
  await startEmpty(page);
  await drop(page, 'main.start', 'floor.obj', [...Buffer.from(SEAMED_OBJ)]);
  await chip(page, 'Begin').click();
  await page.waitForURL(/\/model$/);
  await ready(page);
  await drop(page, '.easel', 'dropped.png', plainPng([40, 90, 160]), 'image/png');
  await expect(page.getByAltText('Reference: dropped')).toBeVisible();
  await page.evaluate(
    (bytes) => {
      const clipboardData = new DataTransfer();
      clipboardData.items.add(new File([new Uint8Array(bytes)], 'pasted.png', { type: 'image/png' }));
      window.dispatchEvent(new ClipboardEvent('paste', { clipboardData }));
    },
    plainPng([160, 90, 40]),
  );
  await expect(page.getByAltText('Reference: pasted')).toBeVisible();
  // What is no picture is refused with a sentence; the easel keeps what it has.
  await drop(page, '.easel', 'notes.txt', [...Buffer.from('no picture')], 'text/plain');
  await expect(page.getByText('“notes.txt” is not a picture that can be read.')).toBeVisible();
  await page.reload();
  await ready(page);
  await expect(page.locator('.easel h2').first()).toContainText('1 of 2');
});

test('a pen that presses lightly covers less; a finger paints, two fingers turn to zooming', async ({
  page,
}) => {
  await startEmpty(page);
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await stage(page, 'Paint');
  await page.getByRole('radio', { name: 'Flat paint' }).click();
  await chip(page, 'Model').click();
  await chip(page, 'Top').click();
  const { png, left, top } = await picture(page);
  const box = modelBox(png);
  const y = (box.top + box.bottom) / 2;
  const at = (part: number) => left + box.left + (box.right - box.left) * part;
  const cdp = await page.context().newCDPSession(page);
  const pen = async (x: number, force: number): Promise<void> => {
    const event = { x, y: top + y, button: 'left', pointerType: 'pen', force } as const;
    await cdp.send('Input.dispatchMouseEvent', { ...event, type: 'mousePressed', buttons: 1, clickCount: 1 });
    await cdp.send('Input.dispatchMouseEvent', { ...event, type: 'mouseMoved', x: x + 6, buttons: 1 });
    await cdp.send('Input.dispatchMouseEvent', { ...event, type: 'mouseReleased', x: x + 6, buttons: 0 });
    await settled(page);
  };
  await pen(at(0.15), 0.2);
  await pen(at(0.35), 1);
  const drawn = (await picture(page)).png;
  const ground = pixel(drawn, at(0.8) - left, y)[0];
  const change = (part: number) => Math.abs(pixel(drawn, at(part) - left + 3, y)[0] - ground);
  expect(change(0.15)).toBeGreaterThan(1);
  expect(change(0.35)).toBeGreaterThan(change(0.15) * 1.8);

  // The other end of the pen erases; Chromium's own tools can't hold a pen so, its events can.
  const erase = (type: string, x: number) =>
    page
      .locator('.viewport > canvas')
      .first()
      .dispatchEvent(type, {
        pointerId: 1,
        pointerType: 'pen',
        isPrimary: true,
        pressure: type === 'pointerup' ? 0 : 1,
        button: 5,
        buttons: type === 'pointerup' ? 0 : 32,
        clientX: x,
        clientY: top + y,
        bubbles: true,
        cancelable: true,
      });
  await erase('pointermove', at(0.35));
  await erase('pointerdown', at(0.35));
  await erase('pointermove', at(0.35) + 6);
  await erase('pointerup', at(0.35) + 6);
  await settled(page);
  await expect(page.getByRole('navigation').getByText('3 strokes')).toBeVisible();
  const rubbed = (await picture(page)).png;
  expect(pixel(rubbed, at(0.35) - left + 3, y)[0]).toBe(ground);
  expect(pixel(rubbed, at(0.15) - left + 3, y)[0]).not.toBe(ground);
  await page.keyboard.press('Control+z');
  await settled(page);

  const touch = (type: 'touchStart' | 'touchMove' | 'touchEnd', points: [number, number][]) =>
    cdp.send('Input.dispatchTouchEvent', {
      type,
      touchPoints: points.map(([px, py], id) => ({ x: px, y: py, id })),
    });
  await touch('touchStart', [[at(0.7), top + y]]);
  await touch('touchMove', [[at(0.75), top + y]]);
  await touch('touchEnd', []);
  await expect(page.getByRole('navigation').getByText('3 strokes')).toBeVisible();
  // A second finger takes the stroke back and zooms.
  await touch('touchStart', [[at(0.6), top + y]]);
  await touch('touchMove', [[at(0.62), top + y]]);
  await touch('touchStart', [
    [at(0.6), top + y],
    [at(0.7), top + y],
  ]);
  await touch('touchMove', [
    [at(0.5), top + y],
    [at(0.8), top + y],
  ]);
  await touch('touchEnd', []);
  await expect(page.getByRole('navigation').getByText('3 strokes')).toBeVisible();
  const zoomed = modelBox((await picture(page)).png);
  expect(zoomed.right - zoomed.left).toBeGreaterThan((box.right - box.left) * 1.1);

  // A finger that only looks turns the model, and makes no stroke.
  await chip(page, 'Brush…').click();
  await chip(page, 'A finger only looks').click();
  await page.keyboard.press('Escape');
  const before = (await picture(page)).png;
  await touch('touchStart', [[at(0.3), top + y]]);
  await touch('touchMove', [[at(0.6), top + y + 30]]);
  await touch('touchEnd', []);
  await settled(page);
  await expect(page.getByRole('navigation').getByText('3 strokes')).toBeVisible();
  expect((await picture(page)).png.data.equals(before.data)).toBe(false);
});

test('a hand that rests on the screen has no part in a pen’s stroke, whichever came first @slow', async ({
  page,
}) => {
  await startEmpty(page);
  await floorToPaint(page);
  await page.getByRole('radio', { name: 'Flat paint' }).click();
  const { png, left, top } = await picture(page);
  const box = modelBox(png);
  const at = (u: number, v: number) =>
    [
      Math.round(left + box.left + (box.right - box.left) * u),
      Math.round(top + box.top + (box.bottom - box.top) * v),
    ] as const;
  const cdp = await page.context().newCDPSession(page);
  const pen = async (type: 'mousePressed' | 'mouseMoved' | 'mouseReleased', u: number, v: number) => {
    const [x, y] = at(u, v);
    const buttons = type === 'mouseReleased' ? 0 : 1;
    const event = { x, y, button: 'left', pointerType: 'pen', force: 1, buttons, clickCount: 1 } as const;
    await cdp.send('Input.dispatchMouseEvent', { ...event, type });
  };
  const palm = async (type: 'touchStart' | 'touchMove' | 'touchEnd', u = 0, v = 0) => {
    const [x, y] = at(u, v);
    const touchPoints = type === 'touchEnd' ? [] : [{ x, y, id: 5, radiusX: 30, radiusY: 30 }];
    await cdp.send('Input.dispatchTouchEvent', { type, touchPoints });
  };
  const painted = (shot: PNG, u: number, v: number): boolean => {
    const pixelAt = (...place: readonly [number, number]): string => {
      const [x, y] = at(...place);
      return pixel(shot, x - left, y - top).join();
    };
    // Beside a corner nothing is painted.
    return pixelAt(u, v) !== pixelAt(0.97, 0.97);
  };

  // The pen is drawing when the hand comes down beside it and is lifted again.
  await pen('mousePressed', 0.1, 0.3);
  await pen('mouseMoved', 0.15, 0.3);
  await palm('touchStart', 0.7, 0.8);
  await palm('touchMove', 0.72, 0.82);
  await pen('mouseMoved', 0.3, 0.3);
  await palm('touchEnd');
  await pen('mouseMoved', 0.44, 0.3);
  await pen('mouseReleased', 0.44, 0.3);
  await expect(page.getByRole('navigation').getByText('1 stroke')).toBeVisible();

  // The hand lies there first.
  await palm('touchStart', 0.7, 0.8);
  await palm('touchMove', 0.71, 0.8);
  await pen('mousePressed', 0.1, 0.55);
  await pen('mouseMoved', 0.3, 0.55);
  await palm('touchMove', 0.73, 0.8);
  await pen('mouseMoved', 0.44, 0.55);
  await pen('mouseReleased', 0.44, 0.55);
  await palm('touchEnd');
  await expect(page.getByRole('navigation').getByText('2 strokes')).toBeVisible();

  const { png: shot } = await picture(page);
  for (const u of [0.12, 0.3, 0.42]) {
    expect(painted(shot, u, 0.3)).toBe(true);
    expect(painted(shot, u, 0.55)).toBe(true);
  }
  for (const [u, v] of [
    [0.7, 0.8],
    [0.72, 0.82],
    [0.4, 0.42],
  ] as const)
    expect(painted(shot, u, v)).toBe(false);
});

for (const size of [2048, 4096]) {
  test(`delivers ${size} x ${size}, a texel of the sheet in each block @slow`, async ({ page }) => {
    await startEmpty(page);
    await beginProject(page, 'floor.obj', SEAMED_OBJ);
    await stage(page, 'Paint');
    await page.getByRole('radio', { name: 'Flat paint' }).click();
    await chip(page, 'Model').click();
    await chip(page, 'Top').click();
    const { png, left, top } = await picture(page);
    await stroke(page, [
      [left + png.width / 2 - 60, top + png.height / 2],
      [left + png.width / 2 + 60, top + png.height / 2],
    ]);
    await stage(page, 'Deliver');
    const save = () => downloaded(page, () => page.getByRole('button', { name: /^Albedo/ }).click());
    await page.getByLabel('Size').selectOption('512');
    const small = PNG.sync.read((await save()).bytes);
    await page.getByLabel('Size').selectOption(String(size));
    const large = PNG.sync.read((await save()).bytes);
    expect([large.width, large.height]).toEqual([size, size]);
    // Where 3 x 3 texels of the sheet are alike, the block between them has their colour.
    const factor = size / 512;
    let compared = 0;
    let unlike = 0;
    for (let y = 1; y < 511; y += 2) {
      for (let x = 1; x < 511; x += 2) {
        const here = pixel(small, x, y).join();
        let alike = true;
        for (let k = 0; k < 9; k++)
          alike &&= pixel(small, x - 1 + (k % 3), y - 1 + Math.floor(k / 3)).join() === here;
        if (!alike) continue;
        compared++;
        if (pixel(large, x * factor + factor / 2, y * factor + factor / 2).join() !== here) unlike++;
      }
    }
    expect(compared).toBeGreaterThan(10_000);
    expect(unlike).toBe(0);
  });
}

test('measuring is stopped and taken up again @slow', async ({ page }) => {
  // The demo's measured maps can't be had: they are measured here.
  await page.route('**/otter-cook.measured.zip', (route) => route.abort());
  await page.goto('/');
  await page.waitForURL(/\/paint$/, { timeout: 60_000 });
  await page.locator('.tasks').getByText('Casting rays for occlusion').waitFor({ timeout: 60_000 });
  const occlusion = page.locator('.tasks li', { hasText: 'Casting rays for occlusion' });
  await occlusion.getByRole('button', { name: 'Stop' }).click();
  await expect(occlusion).toHaveCount(0);
  const again = page.getByRole('button', { name: 'Measure', exact: true });
  await again.click();
  await expect(again).toHaveCount(0);
  await ready(page);
  await expect(page.getByRole('navigation')).toContainText('3 layers');
});

test('the border between model and sheet is dragged, and set back by a double click @slow', async ({
  page,
}) => {
  await startEmpty(page);
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  const divider = page.getByRole('separator', { name: 'Border between the panes' });
  const host = (await page.getByTestId('viewport').boundingBox())!;
  const before = (await divider.boundingBox())!;
  await page.mouse.move(before.x + before.width / 2, before.y + 200);
  await page.mouse.down();
  await page.mouse.move(host.x + host.width * 0.4, before.y + 210, { steps: 6 });
  await page.mouse.up();
  const moved = (await divider.boundingBox())!;
  expect(Math.abs(moved.x + moved.width / 2 - (host.x + host.width * 0.4))).toBeLessThan(3);
  await divider.press('ArrowRight');
  await expect(divider).toHaveAttribute('aria-valuenow', '42');
  await divider.dblclick();
  await expect(divider).toHaveAttribute('aria-valuenow', '66');
});
