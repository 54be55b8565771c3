import { writeFileSync } from 'node:fs';
import { chromium, type CDPSession } from '@playwright/test';
import { CHROMIUM } from '../tests/chromium';
import { limitRow, type Row } from './clock';
import { served, stopServer, PORT } from './served';

/** Where the trace is left, for a browser's own tools to show. */
const TRACE = '/tmp/zanahoria-trace.json';

interface TraceEvent {
  readonly name: string;
  readonly ph: string;
  readonly ts: number;
  readonly dur?: number;
  readonly tid: number;
  readonly args?: { readonly name?: string };
}

/** Events that a trace holds, from its stream. */
async function traced(cdp: CDPSession, work: () => Promise<void>): Promise<TraceEvent[]> {
  const events: TraceEvent[] = [];
  cdp.on('Tracing.dataCollected', ({ value }) => events.push(...(value as unknown as TraceEvent[])));
  await cdp.send('Tracing.start', {
    transferMode: 'ReportEvents',
    traceConfig: { includedCategories: ['devtools.timeline', 'toplevel', 'blink.user_timing'] },
  });
  await work();
  const ended = new Promise((resolve) => cdp.once('Tracing.tracingComplete', resolve));
  await cdp.send('Tracing.end');
  await ended;
  return events;
}

/** Paints on the demo for some seconds and records what the main thread does: `npm run build` first. */
export async function benchFrames(): Promise<Row[]> {
  const server = await served();
  const browser = await chromium.launch(CHROMIUM);
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(`http://localhost:${PORT}/`);
    await page.waitForURL(/\/paint$/, { timeout: 60_000 });
    await page.locator('.tasks').waitFor({ state: 'detached', timeout: 120_000 });
    await page.getByRole('button', { name: 'Close the tour' }).click();
    await page.waitForTimeout(4000);
    const box = (await page.getByTestId('viewport').boundingBox())!;
    const cdp = await page.context().newCDPSession(page);
    const events = await traced(cdp, async () => {
      for (let n = 0; n < 6; n++) {
        const y = box.y + box.height * (0.35 + n * 0.05);
        await page.mouse.move(box.x + box.width * 0.2, y);
        await page.mouse.down();
        await page.mouse.move(box.x + box.width * 0.4, y + 20, { steps: 40 });
        await page.mouse.up();
      }
    });
    writeFileSync(TRACE, JSON.stringify({ traceEvents: events }));
    const main = events.find((e) => e.name === 'thread_name' && e.args?.name === 'CrRendererMain')?.tid;
    const own = events.filter((e) => e.tid === main && e.ph === 'X' && e.dur !== undefined);
    const of = (name: string): number[] =>
      own
        .filter((e) => e.name === name)
        .map((e) => e.dur! / 1000)
        .sort((a, b) => a - b);
    const at = (list: readonly number[], part: number): number =>
      list[Math.min(list.length - 1, Math.floor(list.length * part))] ?? 0;
    // Scripts that ran while it was painted; drawing by a processor without a GPU isn't counted among them.
    const scripts = [...of('FunctionCall'), ...of('FireAnimationFrame')].sort((a, b) => a - b);
    const frames = of('FireAnimationFrame');
    console.log(`trace of ${events.length} events in ${TRACE}`);
    return [
      limitRow('painting: script on the main thread, median, limit', at(scripts, 0.5), 8),
      limitRow('the same, 95th percentile', at(scripts, 0.95), 8),
      limitRow('a frame of the picture, median (drawn without a GPU), limit', at(frames, 0.5), 16),
      limitRow('the same, 95th percentile', at(frames, 0.95), 33),
    ];
  } finally {
    await browser.close();
    stopServer(server);
  }
}
