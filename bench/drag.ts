import { Engine } from '../core/engine';
import { NODE_DEFAULTS } from '../core/layers';
import { newDocument, oneSheet } from '../core/document';
import type { Command } from '../core/commands';
import { createWasmKernels } from '../core/kernels';
import { meshHash } from '../core/mesh';
import { measureSurface, TILE_BYTES } from '../core/surface';
import { median, ms, type Row } from './clock';
import { paintPixels } from './made-project';
import { bumpyBall } from './models';

const SIZE = 2048;
const PAINT_LAYERS = 10;

/** A light aimed over 50,000 triangles under ten paint layers at 2048: the coarse picture beside its limit and beside the full one. */
export function benchDrag(): Row[] {
  const mesh = bumpyBall(250, 100);
  const kernels = createWasmKernels();
  const sheets = oneSheet(SIZE);
  const document = { ...newDocument('Drag', sheets), model: meshHash(mesh) };
  const engine = new Engine({ surface: measureSurface(mesh, [SIZE]), kernels, document, pixels: [] });
  const light = document.lights[0]!.id;
  const add = (layer: object, at: number): number =>
    engine.apply({ do: 'add-layer', layer, into: null, at } as Command).ids[0]!;
  add({ ...NODE_DEFAULTS, mask: [], kind: 'light', name: 'Light', light, blend: 'soft-light' }, 1);
  const planes = Array.from({ length: PAINT_LAYERS }, (_, i) =>
    add({ ...NODE_DEFAULTS, mask: [], kind: 'paint', name: `Paint ${i}` }, 2),
  );
  const painted = new Engine({
    surface: engine.surface,
    kernels,
    document: engine.document,
    pixels: paintPixels(SIZE, planes),
  });
  const tile = new Uint8Array(TILE_BYTES);
  let turn = 0;
  const aim = (): void => {
    const direction: [number, number, number] = [Math.cos(turn), 0.5, Math.sin((turn += 0.1))];
    painted.apply({ do: 'patch-light', light, patch: { key: { direction } } }, 'drag');
  };
  const coarse = (): void => {
    aim();
    for (const t of [...painted.coarse!.dirty()]) painted.coarse!.render(t, tile);
  };
  const full = (): void => {
    aim();
    for (const t of [...painted.dirty()]) painted.renderTile(t, tile);
  };
  const first = performance.now();
  coarse();
  const begun = performance.now() - first;
  const [few, all] = [median(12, coarse), median(3, full)];
  return [
    {
      what: `aiming the light, 50,000 triangles, ${PAINT_LAYERS} paint layers at 2048, limit`,
      ours: ms(few),
      peer: '100 ms',
      ratio: 100 / few,
    },
    { what: 'the same beside the full picture', ours: ms(few), peer: ms(all), ratio: all / few },
    { what: 'its first answer, limit', ours: ms(begun), peer: '500 ms', ratio: 500 / begun },
  ];
}
