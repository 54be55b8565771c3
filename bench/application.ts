import { readFileSync, readdirSync } from 'node:fs';
import { setTimeout as wait } from 'node:timers/promises';
import { chromium, type Browser, type Page } from '@playwright/test';
import type { SheetSize } from '../core/surface';
import { CHROMIUM } from '../tests/chromium';
import type { Row } from './clock';
import { paintedProject } from './made-project';
import { PORT, served, stopServer } from './served';

/** Processes of one kind below this one, by Chromium's own `--type`. */
function processes(type: string): number[] {
  return readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .filter((pid) => {
      try {
        return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(`--type=${type}`);
      } catch {
        return false;
      }
    })
    .map(Number);
}

/** Megabytes that a kind of process takes, shared memory by its share (PSS). */
function megabytes(type: string): number {
  let kilobytes = 0;
  for (const pid of processes(type)) {
    try {
      const rollup = readFileSync(`/proc/${pid}/smaps_rollup`, 'utf8');
      kilobytes += Number(/^Pss:\s+(\d+)/m.exec(rollup)?.[1] ?? 0);
    } catch {
      // It has ended.
    }
  }
  return kilobytes / 1000;
}

async function bringIn(page: Page, file: Uint8Array): Promise<void> {
  await page.addInitScript(() => localStorage.setItem('zanahoria-started', 'yes'));
  await page.goto(`http://localhost:${PORT}/`);
  const chooser = page.waitForEvent('filechooser');
  await page.getByText('New from a model').click();
  const path = `/tmp/zanahoria-bench-${process.pid}.zip`;
  const { writeFileSync, rmSync } = await import('node:fs');
  writeFileSync(path, file);
  await (await chooser).setFiles(path);
  await page.waitForURL(/\/project\//, { timeout: 300_000 });
  rmSync(path);
  await standing(page);
}

/** The picture is whole. */
async function standing(page: Page): Promise<void> {
  await page.locator('.tasks, .view-note').first().waitFor({ state: 'detached', timeout: 300_000 });
  await page.getByTestId('viewport').waitFor({ timeout: 300_000 });
  for (let calm = 0; calm < 5;) {
    await wait(100);
    calm = (await page.locator('.tasks, .view-note').count()) === 0 ? calm + 1 : 0;
  }
}

/** Opens a painted project, paints, and looks at what the page takes: at the most, and when it has come to rest. */
async function benchPage(browser: Browser, size: SheetSize, layers: number, limit: number): Promise<Row[]> {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await bringIn(page, paintedProject(size, layers));
  await page.goto(`http://localhost:${PORT}/`);
  await wait(2000);
  const card = page.getByRole('button', { name: `Open Painted ${size}` }).first();
  const started = Date.now();
  await card.click();
  await page.waitForFunction(
    () => document.querySelector('[data-testid=viewport]') && !document.querySelector('.tasks, .view-note'),
    null,
    { timeout: 300_000, polling: 50 },
  );
  const first = Date.now() - started;
  await standing(page);
  await page.getByRole('navigation').getByText('Paint', { exact: true }).click();
  const box = (await page.getByTestId('viewport').boundingBox())!;
  let most = 0;
  for (let n = 0; n < 6; n++) {
    const y = box.y + box.height * (0.3 + n * 0.06);
    await page.mouse.move(box.x + box.width * 0.3, y);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width * 0.7, y, { steps: 12 });
    await page.mouse.up();
    most = Math.max(most, megabytes('renderer'));
  }
  await wait(3000);
  const rest = megabytes('renderer');
  await page.close();
  return [
    {
      what: `memory of the page, ${layers} painted layers at ${size}, while painting (GPU process ${megabytes('gpu-process').toFixed(0)} MB beside it)`,
      ours: `${most.toFixed(0)} MB`,
      peer: `${limit} MB`,
      ratio: limit / most,
    },
    { what: `the same at rest`, ours: `${rest.toFixed(0)} MB`, peer: `${limit} MB`, ratio: limit / rest },
    {
      what: `opening it from the start page to the whole picture`,
      ours: `${first} ms`,
      peer: '2000 ms',
      ratio: 2000 / first,
    },
  ];
}

/** The built application, served and driven as it is used: `npm run build` first. */
export async function benchApplication(
  which: readonly (readonly [size: SheetSize, layers: number, limit: number])[] = [
    [2048, 12, 450],
    [4096, 12, 1500],
    [8192, 4, 3500],
  ],
): Promise<Row[]> {
  const server = await served();
  const rows: Row[] = [];
  try {
    for (const [size, layers, limit] of which) {
      const browser = await chromium.launch(CHROMIUM);
      try {
        rows.push(...(await benchPage(browser, size, layers, limit)));
      } finally {
        await browser.close();
      }
    }
    return rows;
  } finally {
    stopServer(server);
  }
}
