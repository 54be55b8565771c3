import { WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { expect, test, type Page } from '@playwright/test';
import { PNG } from 'pngjs';
import {
  beginProject,
  chip,
  downloaded,
  kept,
  ORANGE,
  picture,
  pixel,
  ready,
  SEAMED_OBJ,
  stage,
  startEmpty,
  stroke,
} from './helpers';

const add = async (page: Page, where: 'Add behind' | 'Add before'): Promise<void> => {
  await chip(page, where).click();
  await ready(page);
};

test('backdrops are painted behind and before a model, seen through where they are bare, and leave with it', async ({
  page,
}) => {
  await startEmpty(page);
  await beginProject(page, 'floor.obj', SEAMED_OBJ);
  await page.getByRole('button', { name: /^Backdrops/ }).click();
  await add(page, 'Add behind');
  await expect(page.getByText('“Backdrop” is in hand')).toBeVisible();
  await stage(page, 'Paint');
  await chip(page, 'Model').click();
  await chip(page, 'Front').click();
  await page.getByText('Flat paint').first().click();
  await ready(page);

  // Above the floor, which is seen edge on, there is nothing but the plane.
  const { png: bare, left, top } = await picture(page);
  const [x, y] = [bare.width / 2, bare.height / 2 - 60];
  const ground = pixel(bare, x, y);
  const across = (at: number): [number, number][] => [
    [left + x - 60, top + at],
    [left + x + 60, top + at],
  ];
  await stroke(page, across(y));
  expect(pixel((await picture(page)).png, x, y)).toEqual(ORANGE);
  await expect(page.getByText('1 stroke')).toBeVisible();

  // With the model in hand a press there turns the view: nothing is painted.
  await page.keyboard.press('Control+Shift+B');
  await expect(chip(page, 'On: model')).toBeVisible();
  await stroke(page, across(y - 30));
  await expect(page.getByText('1 stroke')).toBeVisible();

  await chip(page, 'Front').click();
  await ready(page);
  await page.reload();
  await ready(page);
  await chip(page, 'Front').click();
  await ready(page);
  expect(pixel((await picture(page)).png, x, y)).toEqual(ORANGE);
  expect(pixel((await picture(page)).png, x, y - 40)).toEqual(ground);

  // One before it hides what is behind only where it is painted.
  await stage(page, 'Model');
  await add(page, 'Add before');
  await stage(page, 'Paint');
  await chip(page, 'Front').click();
  await page.getByText('Eraser').first().click();
  await stroke(page, across(y));
  await ready(page);
  expect(pixel((await picture(page)).png, x, y)).toEqual(ORANGE);
  await kept(page);

  await stage(page, 'Deliver');
  const { bytes } = await downloaded(page, () => page.getByRole('button', { name: /^Unlit model/ }).click());
  const glb = await new WebIO().registerExtensions(ALL_EXTENSIONS).readBinary(new Uint8Array(bytes));
  const nodes = glb.getRoot().listNodes();
  expect(nodes.map((n) => [n.getName(), n.getExtras()])).toEqual([
    ['Left', {}],
    ['Right', {}],
    ['Backdrop', { backdrop: true }],
    ['Foreground', { backdrop: true }],
  ]);
  const material = nodes[2]!.getMesh()!.listPrimitives()[0]!.getMaterial()!;
  expect(material.getAlphaMode()).toBe('MASK');
  const sky = PNG.sync.read(Buffer.from(material.getBaseColorTexture()!.getImage()!));
  let painted = 0;
  for (let i = 0; i < sky.data.length; i += 4) {
    if (sky.data[i + 3] === 255 && [0, 1, 2].every((k) => sky.data[i + k] === ORANGE[k])) painted++;
  }
  expect(painted).toBeGreaterThan(100);
  // Past its border, too, it has the colour that lies nearest, and is as bare as the border is.
  expect(pixel(sky, sky.width / 2, sky.height - 20)).toEqual(ORANGE);
  expect(sky.data[((sky.height - 40) * sky.width + sky.width / 2) * 4 + 3]).toBe(0);

  // It goes with its sheet, and comes back with its paint.
  await stage(page, 'Model');
  await page.getByRole('button', { name: 'Remove Backdrop' }).click();
  await ready(page);
  await stage(page, 'Paint');
  await chip(page, 'Front').click();
  await ready(page);
  expect(pixel((await picture(page)).png, x, y)).toEqual(ground);
  await page.keyboard.press('Control+Z');
  await ready(page);
  expect(pixel((await picture(page)).png, x, y)).toEqual(ORANGE);
});
