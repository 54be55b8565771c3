import { expect, test } from '@playwright/test';
import type { PNG } from 'pngjs';
import { ball } from '../shapes';
import { objOf } from '../obj';
import { beginProject, chip, LOCAL, modelBox, picture, pixel, settled, stage, startEmpty } from './helpers';

const OUTLINE = [35, 27, 34];
const SHADE = [0x8f, 0x86, 0xb0];

test('the toon view shows paint in tones, and an outline that is even all round', async ({ page }) => {
  await startEmpty(page);
  await beginProject(page, 'ball.obj', objOf(ball(64, 32)));
  await stage(page, 'Paint');
  await chip(page, 'Model').click();
  await chip(page, 'Front').click();
  await settled(page);
  const before = await picture(page);
  const box = modelBox(before.png);
  const [x, y] = [(box.left + box.right) / 2, (box.top + box.bottom) / 2];
  const r = (box.right - box.left) / 2;
  await page.keyboard.press('Shift+T');
  await settled(page);
  const { png } = await picture(page);
  const like = (a: readonly number[], b: readonly number[]): boolean =>
    a.every((c, k) => Math.abs(c - b[k]!) <= 2);
  // The lamp shines from the upper right: there the colour is the paint's own, opposite it is shaded.
  const lit = pixel(png, x + r * 0.4, y - r * 0.5);
  expect(like(lit, LOCAL)).toBe(true);
  const dark = pixel(png, x - r * 0.65, y + r * 0.65);
  const shaded = LOCAL.map((c, k) => (c * SHADE[k]!) / 255);
  expect(like(dark, shaded)).toBe(true);
  // How far out the outline reaches in each direction, pixels.
  const ringsIn = (shot: PNG): number[] =>
    Array.from({ length: 24 }, (_, k) => {
      const [c, s] = [Math.cos((k * Math.PI) / 12), Math.sin((k * Math.PI) / 12)];
      let ring = 0;
      for (let d = r - 6; d < r + 14; d += 0.25) {
        if (like(pixel(shot, Math.round(x + d * c), Math.round(y + d * s)), OUTLINE)) ring += 0.25;
      }
      return ring;
    });
  const rings = ringsIn(png);
  expect(Math.min(...rings)).toBeGreaterThan(1);
  expect(Math.max(...rings) - Math.min(...rings)).toBeLessThanOrEqual(1.75);
  await page.keyboard.press('u');
  await settled(page);
  expect(ringsIn((await picture(page)).png).every((ring) => ring === 0)).toBe(true);
});
