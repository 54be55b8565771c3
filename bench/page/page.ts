import { PLAIN_BRUSH } from '../../core/paint';
import { CUE_KINDS, type CueSpec } from '../../core/cues';
import {
  Engine,
  newDocument,
  NODE_DEFAULTS,
  PLAIN_LEVELS,
  type LayerNode,
  type MaskStep,
} from '../../core/engine';
import { createWasmKernels } from '../../core/kernels';
import { seededRandom } from '../../core/math';
import { BLEND_MODES } from '../../core/composite';
import { measureSurface, TILE_BYTES, tileCount, tileToRows } from '../../core/surface';
import { median, ms, type Row } from '../clock';
import { square } from '../models';

const SIZE = 2048;

const through = (cue: CueSpec, invert: boolean): MaskStep[] => [
  { from: 'cue', join: 'multiply', cue, levels: PLAIN_LEVELS, invert },
];

const PAINT_BLENDS = ['normal', 'overlay', 'multiply', 'screen', 'soft-light', 'normal'] as const;

/** So many layers: four derived, the others painted all over; with `groups` the painted ones lie in groups of three. */
function buildUp(count: number, groups: boolean): { engine: Engine; paint: number } {
  const mesh = square();
  const surface = measureSurface(mesh, SIZE);
  const random = seededRandom(7);
  const base = { ...NODE_DEFAULTS, mask: [], opacity: 0.8 };
  const painted = Array.from({ length: count - 4 }, (_, i): LayerNode => ({
    ...base,
    kind: 'paint',
    id: 5 + i,
    name: `Paint ${i}`,
    blend: PAINT_BLENDS[i % PAINT_BLENDS.length]!,
  }));
  const grouped: LayerNode[] = [];
  for (let i = 0; i < painted.length; i += 3) {
    const layers = painted.slice(i, i + 3);
    grouped.push({ ...base, kind: 'group', isolated: i % 2 === 0, id: 100 + i, name: `Group ${i}`, layers });
  }
  const layers: LayerNode[] = [
    {
      ...base,
      kind: 'local',
      id: 1,
      name: 'Local',
      opacity: 1,
      colors: [],
      regions: [],
      swatches: [],
      fallback: '#a07050',
    },
    {
      ...base,
      kind: 'wash',
      id: 2,
      name: 'Height',
      color: '#403050',
      mask: through({ cue: 'height', direction: [1, 0, 0], from: 0, to: 1 }, false),
    },
    {
      ...base,
      kind: 'wash',
      id: 3,
      name: 'Facing',
      blend: 'multiply',
      color: '#604060',
      mask: through(CUE_KINDS.facing.usual as CueSpec, true),
    },
    { ...base, kind: 'light', id: 4, name: 'Light', light: 0, blend: 'soft-light' },
    ...(groups ? grouped : painted),
  ];
  const pixels = painted.flatMap(({ id }) =>
    Array.from({ length: tileCount(SIZE) }, (_, tile) => {
      const bytes = new Uint8Array(TILE_BYTES);
      new Uint32Array(bytes.buffer).fill((random() * 0xffffffff) >>> 0);
      return { plane: id, tile, bytes };
    }),
  );
  const engine = new Engine({
    surface,
    kernels: createWasmKernels(),
    document: { ...newDocument('Bench', SIZE), layers, nextId: 1000 },
    pixels,
  });
  for (const spec of engine.missingCues())
    engine.setCue(spec, new Uint16Array(surface.codes.length).fill(30000));
  // The layer in hand is in the middle: half of the others lie over it.
  return { engine, paint: 5 + Math.floor(painted.length / 2) };
}

function benchFrame(what: string, { engine, paint }: { engine: Engine; paint: number }): Row {
  const canvas = document.createElement('canvas');
  const gl = canvas.getContext('webgl2')!;
  gl.bindTexture(gl.TEXTURE_2D, gl.createTexture());
  gl.texStorage2D(gl.TEXTURE_2D, 1, gl.RGBA8, SIZE, SIZE);
  const out = new Uint8Array(TILE_BYTES);
  const rows = new Uint8Array(TILE_BYTES);
  const show = (): void => {
    for (const tile of engine.dirty()) {
      engine.renderTile(tile, out);
      tileToRows(out, rows);
      gl.texSubImage2D(
        gl.TEXTURE_2D,
        0,
        (tile % 32) * 64,
        Math.floor(tile / 32) * 64,
        64,
        64,
        gl.RGBA,
        gl.UNSIGNED_BYTE,
        rows,
      );
    }
    gl.finish();
  };
  show();
  engine.beginStroke(paint, {
    tool: 'brush',
    erase: false,
    color: '#d4581a',
    opacity: 0.7,
    brush: { ...PLAIN_BRUSH, edge: 1 },
    seed: 1,
    up: [0, 0, -1],
    eye: [0, 1, 0],
    nearSide: true,
  });
  const radius = Math.sqrt(20_000 / Math.PI) / SIZE;
  let x = 0.1;
  let tiles = 0;
  // Each frame brings the brush one spacing further: one dab, its tiles composited through all ten layers, uploaded.
  const time = median(60, () => {
    x += radius * 0.201;
    engine.extendStroke([x, 0, -0.5, 0, 1, 0, radius, 1, 0, 0, 0], false);
    tiles = engine.dirty().length;
    show();
  });
  if (tiles < 6) throw new Error(`The dab touched only ${tiles} tiles.`);
  engine.cancelStroke();
  return {
    what: `frame: 20,000-texel dab, ${what}, upload; limit 8 ms`,
    ours: ms(time),
    peer: '8 ms',
    ratio: 8 / time,
  };
}

function benchWhole(engine: Engine): Row {
  const out = new Uint8Array(TILE_BYTES);
  const ours = median(3, () => {
    for (let tile = 0; tile < tileCount(SIZE); tile++) engine.compositeTile(tile, out);
  });
  const canvases = BLEND_MODES.slice(0, 10).map((_, i) => {
    const canvas = new OffscreenCanvas(SIZE, SIZE);
    const context = canvas.getContext('2d', { willReadFrequently: true })!;
    context.fillStyle = `hsl(${i * 36} 60% 50% / 0.7)`;
    context.fillRect(0, 0, SIZE, SIZE);
    return canvas;
  });
  const target = new OffscreenCanvas(SIZE, SIZE).getContext('2d', { willReadFrequently: true })!;
  const modes = [
    'source-over',
    'source-over',
    'multiply',
    'soft-light',
    'source-over',
    'overlay',
    'multiply',
    'screen',
    'soft-light',
    'source-over',
  ] as const;
  const peer = median(3, () => {
    target.clearRect(0, 0, SIZE, SIZE);
    canvases.forEach((canvas, i) => {
      target.globalAlpha = 0.8;
      target.globalCompositeOperation = modes[i]!;
      target.drawImage(canvas, 0, 0);
    });
    target.getImageData(0, 0, 1, 1);
  });
  return {
    what: 'full composite, 10 layers at 2048, 2D canvas (willReadFrequently)',
    ours: ms(ours),
    peer: ms(peer),
    ratio: peer / ours,
  };
}

const rows = [
  benchFrame('12 layers in groups', buildUp(12, true)),
  benchFrame('30 layers in groups', buildUp(30, true)),
  benchWhole(buildUp(10, false).engine),
];
Object.assign(window, { benchRows: rows });
