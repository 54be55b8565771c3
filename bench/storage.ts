import { NO_DRIVES, PLAIN_BRUSH, STRAIGHT } from '../core/paint';
import 'fake-indexeddb/auto';
import { serialize } from 'node:v8';
import { Engine } from '../core/engine';
import { newDocument } from '../core/document';
import { createWasmKernels } from '../core/kernels';
import { measureSurface } from '../core/surface';
import { addProject, PersistenceQueue, ProjectStore, type WholeProject } from '../storage';
import type { Row } from './clock';
import { bumpyBall } from './models';

const LIMIT = 200e3;

/** What a stroke of medium size writes to disk: its tiles, its step with the pixels before it, the stroke, the project's row. */
export async function benchStorage(): Promise<Row[]> {
  const store = new ProjectStore('bench');
  const mesh = bumpyBall(224, 112);
  const document = newDocument('Bench', 2048);
  await addProject(store, 'p', { document, mesh, pixels: [], strokes: new Map(), files: new Map() }, 0);
  let bytes = 0;
  for (const table of store.tables) {
    table.hook('creating', (_key, row) => void (bytes += serialize(row).length));
    table.hook('updating', (changes) => void (bytes += serialize(changes).length));
  }
  const keeper = new PersistenceQueue({
    open: () => store,
    project: 'p',
    session: 'bench',
    tell: () => undefined,
    whole: () => whole(engine),
  });
  const engine: Engine = new Engine({
    surface: measureSurface(mesh, 2048),
    kernels: createWasmKernels(),
    document: (await store.projects.get('p'))!.document as typeof document,
    onCommit: (commit) => keeper.keep(commit),
  });
  const paint = document.layers.find((layer) => layer.kind === 'paint')!.id;
  const written: number[] = [];
  for (let n = 0; n < 8; n++) {
    bytes = 0;
    // Half way round the ball with a brush a tenth of its size, soft, one over the other.
    const run = Array.from({ length: 60 }, (_, i) => {
      const a = (i / 60) * Math.PI + n * 0.1;
      return [
        Math.cos(a),
        n * 0.05,
        Math.sin(a),
        Math.cos(a),
        0,
        Math.sin(a),
        0.1,
        0.5 + 0.4 * Math.sin(i),
        0,
        0,
        i * 8,
      ];
    }).flat();
    engine.apply({
      do: 'stroke',
      layer: paint,
      stroke: {
        tool: 'brush',
        erase: false,
        color: '#d4581a',
        opacity: 0.7,
        brush: {
          ...PLAIN_BRUSH,
          edge: 0.8,
          pressure: { ...NO_DRIVES, size: STRAIGHT, opacity: STRAIGHT },
        },
        seed: 1,
        up: [0, 1, 0],
        eye: [0, 0, 1],
        nearSide: true,
        runs: [run],
      },
    });
    await keeper.settled();
    written.push(bytes);
  }
  const most = Math.max(...written);
  return [
    {
      what: 'one stroke half round a ball at 2048, soft, over others: written at the most; limit 200 kB',
      ours: `${(most / 1000).toFixed(0)} kB`,
      peer: `${LIMIT / 1000} kB`,
      ratio: LIMIT / most,
    },
  ];
}

const whole = (engine: Engine): WholeProject => ({
  document: engine.document,
  mesh: engine.mesh,
  history: engine.historyData,
  ...engine.everything(),
});
