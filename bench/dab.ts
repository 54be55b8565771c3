import { createPlainKernels, createWasmKernels, type Kernels } from '../core/kernels';
import { StrokeRasterizer, PLAIN_BRUSH, WetPaint, type BrushShape } from '../core/paint';
import { measureSurface, TILE_BYTES } from '../core/surface';
import { ms, type Row } from './clock';
import { square } from './models';

const BALL: BrushShape = { ...PLAIN_BRUSH, lies: 'against' };

/** A dab over 20,000 texels of a 2048 sheet: WebAssembly beside plain TypeScript. */
export function benchDab(): Row[] {
  const surface = measureSurface(square(), 2048);
  const radius = Math.sqrt(20_000 / Math.PI) / 2048;
  const time = (kernels: Kernels, brush: BrushShape = BALL): number => {
    const rasterizer = new StrokeRasterizer(surface, kernels);
    const times: number[] = [];
    for (let i = 0; i < 80; i++) {
      // A fresh place each time, so that coverage is really written.
      rasterizer.begin(null, brush);
      const touched = new Set<number>();
      const start = performance.now();
      rasterizer.dab(
        0,
        {
          x: 0.1 + ((i * 0.37) % 0.8),
          y: 0,
          z: -0.1 - ((i * 0.59) % 0.8),
          radius,
          inner: 0,
          strength: 1,
          flipped: false,
          shade: 0,
          move: null,
          normal: [0, 1, 0],
          along: [1, 0, 0],
          facing: [0, 1, 0],
        },
        touched,
      );
      times.push(performance.now() - start);
      if (touched.size < 20) throw new Error('The dab missed.');
    }
    return times.slice(20).sort((a, b) => a - b)[30]!;
  };
  /** The same of what works on the paint that lies there, on a plane that is painted all over. */
  const wet = (tool: 'soften' | 'smear'): number => {
    const rasterizer = new StrokeRasterizer(surface, createWasmKernels());
    const tile = new Uint8Array(TILE_BYTES).fill(200);
    const times: number[] = [];
    rasterizer.begin(null, PLAIN_BRUSH);
    const paint = new WetPaint(rasterizer, { tool, opacity: 1, keepAlpha: false }, { get: () => tile });
    for (let i = 0; i < 60; i++) {
      const dab = {
        x: 0.1 + i * 0.008,
        y: 0,
        z: -0.5,
        radius,
        inner: 0,
        strength: 1,
        flipped: false,
        shade: 0,
        move: [0.008, 0, 0],
        normal: [0, 1, 0],
        along: [1, 0, 0],
        facing: [0, 1, 0],
      } as const;
      const start = performance.now();
      paint.dab(0, dab, new Set());
      times.push(performance.now() - start);
    }
    return times.slice(20).sort((a, b) => a - b)[20]!;
  };
  const grain = { kind: 'value', scale: 160, depth: 0.6 } as const;
  const chalk = time(createWasmKernels(), { ...PLAIN_BRUSH, tip: 'chalk', grain });
  const ours = time(createWasmKernels());
  const peer = time(createPlainKernels());
  return [
    {
      what: 'dab over 20,000 texels at 2048, plain TypeScript',
      ours: ms(ours),
      peer: ms(peer),
      ratio: peer / ours,
    },
    {
      what: 'the same of a tip with grain, distance along the surface, limit 8 ms',
      ours: ms(chalk),
      peer: '8 ms',
      ratio: 8 / chalk,
    },
    ...(['soften', 'smear'] as const).map((tool) => {
      const took = wet(tool);
      return {
        what: `${tool}: one dab of 20,000 texels, twice that of the tip with grain`,
        ours: ms(took),
        peer: ms(2 * chalk),
        ratio: (2 * chalk) / took,
      };
    }),
    { what: 'the same, limit 1 ms', ours: ms(ours), peer: '1 ms', ratio: 1 / ours },
  ];
}
