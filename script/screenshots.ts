// Takes the pictures in docs/screenshots from the demo. Build and serve first: ./script/start, then npx tsx script/screenshots.ts
import { chromium, type Page } from '@playwright/test';
import { CHROMIUM } from '../tests/chromium';

const address = process.argv[2] ?? 'http://localhost:4173/';

const browser = await chromium.launch(CHROMIUM);
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
page.on('pageerror', (e) => console.error(e.message));
const take = (name: string): Promise<Buffer> => page.screenshot({ path: `docs/screenshots/${name}.png` });
const chip = (p: Page, name: string) => p.getByRole('button', { name, exact: true }).click();
const go = async (name: string): Promise<void> => {
  await page.getByRole('navigation').getByText(name, { exact: true }).click();
  await page.waitForTimeout(900);
};

await page.goto(address);
await page.waitForURL(/\/paint$/, { timeout: 60_000 });
// Until nothing has been measured for a while.
for (let calm = 0; calm < 12;) {
  const busy = await page.evaluate(
    () =>
      document.querySelector('.tasks, .view-note') !== null ||
      /measuring/.test(document.querySelector('nav')?.textContent ?? 'measuring'),
  );
  calm = busy ? 0 : calm + 1;
  await page.waitForTimeout(300);
}
await page.getByRole('button', { name: 'Close the tour' }).click();
const view = (await page.getByTestId('viewport').boundingBox())!;
await page.locator('.layer', { hasText: 'Warm cheeks' }).click({ position: { x: 90, y: 15 } });
await page.locator('.swatch').nth(10).click();
await page.mouse.move(view.x + view.width * 0.355, view.y + view.height * 0.4);
await page.waitForTimeout(400);
await take('paint');
await page.mouse.move(300, 20);
await go('Model');
await page.getByRole('button', { name: /^Tail/ }).first().click();
await page.waitForTimeout(400);
await take('model');
await go('Unwrap');
await page.locator('.view-chips').getByRole('button', { name: 'Checker' }).click();
await page.getByRole('button', { name: 'Preview', exact: true }).click();
await page.getByRole('button', { name: 'Apply this layout' }).waitFor({ timeout: 120_000 });
await page.waitForTimeout(1500);
await take('unwrap');
await page.getByRole('button', { name: 'Apply this layout' }).click();
await page.waitForTimeout(25_000);
const section = (name: string) =>
  page.getByRole('group', { name: 'Section' }).getByRole('button', { name, exact: true }).click();
await section('Seams');
await page.locator('.view-chips').getByRole('button', { name: 'Unlit' }).click();
await page.waitForTimeout(12_000);
await take('seams');
await chip(page, 'Undo');
await page.waitForTimeout(12_000);
await section('Islands');
await page.locator('.view-chips').getByRole('button', { name: 'Density' }).click();
await page.locator('.island-table tbody button').nth(6).click();
await page.waitForTimeout(900);
await take('islands');
await page.locator('.view-chips').getByRole('button', { name: 'Unlit' }).click();
await go('Block in');
await page.keyboard.press('3');
const round = Array.from({ length: 33 }, (_, i): [number, number] => [
  view.x + view.width * (0.33 + 0.08 * Math.cos((i / 32) * 2 * Math.PI)),
  view.y + view.height * (0.72 + 0.09 * Math.sin((i / 32) * 2 * Math.PI)),
]);
await page.mouse.move(...round[0]!);
await page.mouse.down();
for (const [x, y] of round) await page.mouse.move(x, y);
await page.mouse.up();
await page.waitForTimeout(900);
await take('block-in');
await page.keyboard.press('Escape');
await page.keyboard.press('1');
await go('Form');
await page.locator('.shelf-card img').nth(7).waitFor({ timeout: 180_000 });
await page.locator('.layer', { hasText: 'Key and sky' }).click({ position: { x: 90, y: 15 } });
await chip(page, 'Aim on the model');
await page.waitForTimeout(500);
await take('form');
await chip(page, 'Aim on the model');
await page.locator('.layer', { hasText: 'Occlusion' }).click({ position: { x: 90, y: 15 } });
await chip(page, 'See it alone');
await page.waitForTimeout(1500);
await take('mask');
await chip(page, 'See it alone');
await go('Deliver');
await chip(page, 'Check what would leave');
await page.locator('.checked').waitFor();
await page.waitForTimeout(500);
await take('deliver');
await chip(page, 'Outline as a hull');
await chip(page, 'See it in an engine');
await page.locator('.engine-pane').getByRole('button', { name: 'Toon' }).click();
await page.waitForTimeout(4000);
await page.locator('.engine-pane').getByRole('button', { name: 'Light' }).click();
await page.waitForTimeout(800);
await take('engine');
await page.getByRole('button', { name: 'Close the engine’s view' }).click();
await go('Paint');
await chip(page, 'Front');
await chip(page, 'Toon');
await page.waitForTimeout(1500);
await take('toon');
await chip(page, 'Unlit');
await page.waitForTimeout(3500);
await page.goto(address);
await page.waitForTimeout(1500);
await take('start');
await chip(page, 'Otter cook, matched');
await page.waitForURL(/match/);
await page.waitForTimeout(25_000);
await take('match');
await page.keyboard.press('w');
await page.waitForTimeout(3000);
await take('wipe');
await page.goto(address);
await page.waitForTimeout(1500);
await chip(page, 'Fish lantern');
await page.waitForURL(/\/paint$/);
await page.waitForTimeout(4000);
await page.locator('.swatch').nth(8).click();
await page.keyboard.press('Shift+I');
const fin = Array.from({ length: 25 }, (_, i): [number, number] => [
  view.x + view.width * (0.32 + 0.3 * (i / 24)),
  view.y + view.height * (0.47 - 0.05 * Math.sin((i / 24) * Math.PI * 3)),
]);
await page.mouse.move(...fin[0]!);
await page.mouse.down();
for (const [x, y] of fin) await page.mouse.move(x, y);
await page.mouse.up();
await page.waitForTimeout(900);
await page.locator('.fold-title', { hasText: 'By itself' }).click();
await chip(page, 'Contours');
await page.waitForTimeout(1500);
await chip(page, 'Change');
await page.waitForTimeout(400);
await take('ink');
await page.goto(address);
await page.waitForTimeout(1500);
await chip(page, 'Paper lantern, inked');
await page.waitForURL(/\/paint$/);
await page.waitForTimeout(6000);
await go('Form');
await page.locator('.layer', { hasText: 'Three tones' }).click({ position: { x: 90, y: 15 } });
await page.locator('.fold-title', { hasText: 'Tones' }).first().click();
await page.locator('.fold-title', { hasText: 'Borders' }).click();
await chip(page, 'Model');
await page.waitForTimeout(1500);
await take('cel');
await page.goto(address);
await page.waitForTimeout(1500);
await chip(page, 'Crate and kettle on ramps');
await page.waitForURL(/\/paint$/);
await page.waitForTimeout(3000);
await go('Block in');
await chip(page, 'Model');
await page.getByLabel('What lies on a ramp').selectOption({ label: 'Stove' });
// What is told of the shared sheet has gone by then.
await page.waitForTimeout(7000);
await take('ramps');
await page.goto(address);
await page.waitForTimeout(1500);
await chip(page, 'Kettle');
await page.waitForURL(/\/paint$/);
await page.waitForTimeout(4000);
await go('Model');
await chip(page, 'Model');
await chip(page, 'Front');
await page.getByRole('button', { name: /^Backdrops/ }).click();
await chip(page, 'Add behind');
await page.waitForTimeout(6000);
await go('Block in');
const pane = (await page.getByTestId('viewport').boundingBox())!;
await page.mouse.click(pane.x + 60, pane.y + 200);
await page.waitForTimeout(300);
await page.locator('.swatch').nth(2).click();
await page.waitForTimeout(900);
await go('Model');
await chip(page, 'Add before');
await page.waitForTimeout(6000);
await go('Paint');
await page.getByText('Leaves').first().click();
await page.locator('.swatch').nth(4).click();
for (const [x, dx] of [
  [0.2, 0.14],
  [0.62, 0.2],
  [0.8, -0.5],
] as const) {
  await page.mouse.move(pane.x + pane.width * x, pane.y + 470);
  await page.mouse.down();
  await page.mouse.move(pane.x + pane.width * (x + dx), pane.y + 500, { steps: 14 });
  await page.mouse.up();
}
await page.waitForTimeout(900);
await page.mouse.move(300, 20);
await page.waitForTimeout(6000);
await take('backdrops');
await page.goto(address);
await page.waitForTimeout(1500);
await page.getByRole('button', { name: /^Open the stall/ }).click();
await page.locator('.wall canvas[data-shown="4"]').waitFor({ timeout: 120_000 });
await page.locator('.set-page[data-busy="false"]').waitFor({ timeout: 120_000 });
await page.waitForTimeout(3000);
await take('set');
await browser.close();
