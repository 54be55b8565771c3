import { chromium } from '@playwright/test';
import { createServer } from 'vite';
import { CHROMIUM } from '../tests/chromium';
import type { Row } from './clock';

/** What needs a browser: the frame with its upload, and the 2D canvas as a peer. */
export async function benchBrowser(): Promise<Row[]> {
  const server = await createServer({ root: '.', configFile: false, logLevel: 'error', server: { port: 0 } });
  await server.listen();
  const browser = await chromium.launch(CHROMIUM);
  try {
    const page = await browser.newPage();
    await page.goto(`${server.resolvedUrls!.local[0]!}bench/page/index.html`);
    await page.waitForFunction(() => 'benchRows' in window, null, { timeout: 180_000 });
    return await page.evaluate(() => (window as unknown as { benchRows: Row[] }).benchRows);
  } finally {
    await browser.close();
    await server.close();
  }
}
