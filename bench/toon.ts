import { rmSync, writeFileSync } from 'node:fs';
import { chromium, type Page } from '@playwright/test';
import { Engine } from '../core/engine';
import { newDocument } from '../core/document';
import { writeProjectFile } from '../core/project-file';
import { createWasmKernels } from '../core/kernels';
import { RampAssignments } from '../core/ramps';
import { measureSurface } from '../core/surface';
import { CHROMIUM } from '../tests/chromium';
import { limitRow, median, ms, type Row } from './clock';
import { bumpyBall } from './models';
import { PORT, served, stopServer } from './served';

const TURN_MS = 4000;

/** Milliseconds a picture while the model is turned by the right button. */
async function turning(page: Page): Promise<number> {
  const box = (await page.getByTestId('viewport').boundingBox())!;
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  const frames = async (): Promise<number> =>
    Number(await page.locator('.viewport canvas').getAttribute('data-frame'));
  await page.mouse.move(x, y);
  await page.mouse.down({ button: 'right' });
  const [before, start] = [await frames(), Date.now()];
  for (let i = 0; Date.now() - start < TURN_MS; i++) {
    await page.mouse.move(x + 120 * Math.sin(i / 9), y + 60 * Math.cos(i / 7));
  }
  const took = Date.now() - start;
  const made = (await frames()) - before;
  await page.mouse.up({ button: 'right' });
  await page.waitForTimeout(500);
  return took / Math.max(1, made);
}

/** Pictures of 50,000 triangles in the toon view beside unlit ones (no GPU), and a run slid along its ramp. `npm run build` first. */
export async function benchToon(): Promise<Row[]> {
  const mesh = bumpyBall(250, 100);
  const surface = measureSurface(mesh, 1024);
  const engine = new Engine({ surface, kernels: createWasmKernels(), document: newDocument('Ball', 1024) });
  const { ids } = engine.apply({
    do: 'set-ramps',
    ramps: ['#8a5a33', '#4a4a5e'].map((color, i) => ({
      id: null,
      name: `Ramp ${i}`,
      colors: ['#1c1420', color, '#f4ead8'],
    })),
  });
  const seated = engine.apply({
    do: 'seat',
    of: { part: mesh.parts[0]! },
    ramp: ids[0]!,
    run: { kind: 'straight', direction: [0, 1, 0] },
    from: 0,
    to: 1,
    rings: [],
  });
  const seats = new RampAssignments(mesh);
  let step = 0;
  const slid = median(40, () => {
    const from = (++step % 20) / 40;
    engine.apply({ do: 'patch-seat', seat: seated.ids[0]!, patch: { from } }, 'drag');
    seats.reckon(engine.document.ramps!, () => []);
  });
  engine.apply({ do: 'remove-ramps' });
  const file = writeProjectFile({ document: engine.document, mesh, ...engine.everything() });
  const path = `/tmp/zanahoria-bench-${process.pid}.zip`;
  writeFileSync(path, file);
  const server = await served();
  const browser = await chromium.launch(CHROMIUM);
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.addInitScript(() => localStorage.setItem('zanahoria-started', 'yes'));
    await page.goto(`http://localhost:${PORT}/`);
    const chooser = page.waitForEvent('filechooser');
    await page.getByText('New from a model').click();
    await (await chooser).setFiles(path);
    await page.waitForURL(/\/project\//, { timeout: 300_000 });
    await page.waitForTimeout(8000);
    const unlit = await turning(page);
    await page.keyboard.press('Shift+T');
    await page.waitForTimeout(1500);
    const toon = await turning(page);
    return [
      limitRow('a run of 50,000 triangles slid along its ramp: limit', slid, 16),
      {
        what: 'a picture of 50,000 triangles while it is turned: toon with outline, twice unlit (no GPU)',
        ours: ms(toon),
        peer: ms(2 * unlit),
        ratio: (2 * unlit) / toon,
      },
    ];
  } finally {
    await browser.close();
    stopServer(server);
    rmSync(path);
  }
}
