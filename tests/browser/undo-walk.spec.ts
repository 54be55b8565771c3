import { createHash } from 'node:crypto';
import { expect, test, type Page } from '@playwright/test';
import { unzipSync } from 'fflate';
import { PNG } from 'pngjs';
import { downloaded, floorToPaint, ready, stage, startEmpty } from './helpers';

type Content = Readonly<Record<string, string>>;

/** What a saved project holds, entry by entry; the last number that was given out is no part of it. */
function contentOf(bytes: Buffer): Content {
  const entries = Object.entries(unzipSync(new Uint8Array(bytes))).map(([name, data]) => {
    if (name !== 'project.json') return [name, createHash('sha256').update(data).digest('hex')] as const;
    const { document } = JSON.parse(new TextDecoder().decode(data)) as { document: Record<string, unknown> };
    return [name, JSON.stringify({ ...document, nextId: 0 })] as const;
  });
  return Object.fromEntries(entries);
}

async function saved(page: Page): Promise<Content> {
  await ready(page);
  const { bytes } = await downloaded(page, () => page.keyboard.press('Control+s'));
  return contentOf(bytes);
}

async function commandTitles(page: Page): Promise<string[]> {
  await page.keyboard.press('Control+k');
  const titles = await page
    .locator('[cmdk-item]')
    .evaluateAll((items) => items.map((item) => item.firstChild!.textContent!));
  await page.keyboard.press('Escape');
  return titles;
}

async function run(page: Page, title: string): Promise<void> {
  await page.keyboard.press('Control+k');
  await page.getByPlaceholder('What would you like to do?').fill(title);
  await page.locator('[cmdk-item]').filter({ hasText: title }).first().click();
}

/** Sixteen fields of other colours. */
function reference(): Buffer {
  const png = new PNG({ width: 64, height: 64 });
  for (let i = 0; i < 64 * 64; i++)
    png.data.set([((i % 64) >> 4) * 60 + 20, (i >> 10) * 70, 120, 255], i * 4);
  return PNG.sync.write(png);
}

/** Undo itself; what only changes how the screen looks, or takes minutes for the size that it makes. */
const LEFT_OUT =
  /^(Undo|Redo|Find a command$|Fold or open|Go to|Brush: |Compare: |Both |Show |Sheet that is shown: (4096|8192)|Replace the model)/;

test('every command of the list is taken back by one undo, texels too @slow', async ({ page }) => {
  test.setTimeout(2_400_000);
  page.setDefaultTimeout(60_000);
  await startEmpty(page);
  const draw = await floorToPaint(page);
  await draw([0.2, 0.3], [0.8, 0.3]);
  const chooser = page.waitForEvent('filechooser');
  await page.keyboard.press('Control+Shift+o');
  await (await chooser).setFiles({ name: 'look.png', mimeType: 'image/png', buffer: reference() });
  await ready(page);
  for (let n = 0; n < 2; n++) await page.keyboard.press('Shift+s');
  // Something that no command of the list does by itself: any other step shows in the button.
  await run(page, 'Rename the project');
  await page.getByLabel('Name of the project').fill('Walked over');
  await page.keyboard.press('Enter');
  await ready(page);
  const undo = page.getByRole('button', { name: 'Undo', exact: true }).first();
  await expect(undo).toHaveAttribute('title', /Rename project/);

  const nothingDone = async (): Promise<boolean> =>
    /Rename project/.test((await undo.getAttribute('title'))!);
  const before = await saved(page);
  const wrong: string[] = [];
  let deeds = 0;
  for (const title of (await commandTitles(page)).filter((t) => !LEFT_OUT.test(t))) {
    await stage(page, 'Paint');
    await page
      .getByRole('button', { name: /^Colours, / })
      .first()
      .click();
    await run(page, title);
    await page.waitForTimeout(150);
    for (let n = 0; n < 2; n++)
      if ((await page.locator('[role=dialog], [role=menu]').count()) > 0) await page.keyboard.press('Escape');
    await ready(page);
    // What fetches a file first has nothing to show for a moment.
    for (let n = 0; n < 4 && (await nothingDone()); n++) await page.waitForTimeout(200);
    if (await nothingDone()) continue;
    await ready(page);
    deeds++;
    await page.keyboard.press('Control+z');
    const after = await saved(page);
    const other = Object.keys({ ...before, ...after }).filter((name) => before[name] !== after[name]);
    if (other.length === 0) continue;
    wrong.push(`${title}: ${other.join(', ')}`);
    // On from where it began.
    for (let n = 0; n < 5 && !(await nothingDone()); n++) {
      await page.keyboard.press('Control+z');
      await ready(page);
    }
  }
  expect(wrong).toEqual([]);
  expect(deeds).toBeGreaterThan(60);
  expect(await saved(page)).toEqual(before);
});
