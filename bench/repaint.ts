import { Engine } from '../core/engine';
import { newDocument, oneSheet } from '../core/document';
import { createWasmKernels } from '../core/kernels';
import { seededRandom } from '../core/math';
import { meshHash } from '../core/mesh';
import { StrokeReplayer } from '../core/model';
import { PLAIN_BRUSH, type Stroke } from '../core/paint';
import { measureSurface } from '../core/surface';
import { limitRow, type Row } from './clock';
import { bumpyBall } from './models';

const STROKES = 300;
const SAMPLES = 60;

/** Strokes of a session's work, along the ball at any place. */
function strokes(): Stroke[] {
  const random = seededRandom(5);
  return Array.from({ length: STROKES }, (): Stroke => {
    const [lift, from, turn] = [random() * 1.6 - 0.8, random() * 6.28, 0.2 + random() * 0.4];
    const radius = 0.01 + 0.03 * random();
    const run = Array.from({ length: SAMPLES }, (_, i) => {
      const a = from + (turn * i) / SAMPLES;
      const c = Math.sqrt(1 - lift * lift);
      const at = [c * Math.cos(a), lift, -c * Math.sin(a)];
      return [...at, ...at, radius, 1, 0, 0, i * 8];
    });
    return {
      tool: 'brush',
      erase: false,
      color: '#c86432',
      opacity: 0.7,
      brush: { ...PLAIN_BRUSH, edge: 0.8 },
      seed: 1,
      up: [0, 1, 0],
      eye: [0, 0, 1],
      nearSide: true,
      keepAlpha: false,
      within: null,
      frame: 0,
      runs: [run.flat()],
    };
  });
}

/** 300 strokes made again at 4096, as when a sheet's size is changed; and what a thousand of them leave in memory. */
export function benchRepaint(): Row[] {
  const mesh = bumpyBall(96, 48);
  const surface = measureSurface(mesh, 4096);
  const kernels = createWasmKernels();
  const document = { ...newDocument('Repaint', oneSheet(4096)), model: meshHash(mesh) };
  const replayer = new StrokeReplayer(surface, kernels, document);
  const list = strokes();
  const start = performance.now();
  replayer.replay(list, new Map());
  const took = performance.now() - start;
  const small = measureSurface(mesh, 1024);
  const engine = new Engine({ surface: small, kernels, document: { ...document, sheets: oneSheet(1024) } });
  const paint = document.layers.find((l) => l.kind === 'paint')!.id;
  const lay = (count: number): number => {
    for (let i = 0; i < count; i++) {
      const { keepAlpha: _k, within: _w, frame: _f, ...stroke } = list[i % list.length]!;
      engine.apply({ do: 'stroke', layer: paint, stroke });
      // As the keeper does once a step is on disk.
      engine.releaseSteps(() => true);
    }
    globalThis.gc?.();
    return process.memoryUsage().heapUsed + process.memoryUsage().arrayBuffers;
  };
  const before = lay(300);
  const after = lay(700);
  const grown = (after - before) / 1e6;
  return [
    limitRow(`${STROKES} strokes made again at 4096, limit`, took, 10_000),
    {
      what: '700 more strokes leave so much in memory, limit',
      ours: `${grown.toFixed(0)} MB`,
      peer: '120 MB',
      ratio: 120 / Math.max(1, grown),
    },
  ];
}
