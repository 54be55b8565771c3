import { DEFAULT_CUES } from '../../core/cues';
import { Engine, newDocument, type Layer } from '../../core/engine';
import { createWasmKernels } from '../../core/kernels';
import { seededRandom } from '../../core/math';
import { BLEND_MODES } from '../../core/stack';
import { measureSurface, TILE_BYTES, tileCount, tileToRows } from '../../core/surface';
import { median, ms, type Row } from '../clock';
import { square } from '../models';

const SIZE = 2048;

/** Ten layers: four derived, six painted all over. */
function tenLayers(): { engine: Engine; paint: number } {
  const mesh = square();
  const surface = measureSurface(mesh, SIZE);
  const random = seededRandom(7);
  const base = { visible: true, opacity: 0.8 } as const;
  const layers: Layer[] = [
    {
      kind: 'local',
      id: 1,
      name: 'Local',
      ...base,
      opacity: 1,
      blend: 'normal',
      colors: {},
      fallback: '#a07050',
    },
    {
      kind: 'wash',
      id: 2,
      name: 'Height',
      ...base,
      blend: 'normal',
      color: '#403050',
      source: { cue: 'height', axis: 'x' },
      levels: { low: 0, high: 1, gamma: 1 },
      invert: false,
    },
    {
      kind: 'wash',
      id: 3,
      name: 'Facing',
      ...base,
      blend: 'multiply',
      color: '#604060',
      source: DEFAULT_CUES.facing,
      levels: { low: 0, high: 1, gamma: 1 },
      invert: true,
    },
    { kind: 'light', id: 4, name: 'Light', ...base, blend: 'soft-light' },
    ...(['normal', 'overlay', 'multiply', 'screen', 'soft-light', 'normal'] as const).map(
      (blend, i): Layer => ({
        kind: 'paint',
        id: 5 + i,
        name: `Paint ${i}`,
        ...base,
        blend,
      }),
    ),
  ];
  const pixels = [];
  for (let layer = 5; layer < 11; layer++) {
    for (let tile = 0; tile < tileCount(SIZE); tile++) {
      const bytes = new Uint8Array(TILE_BYTES);
      new Uint32Array(bytes.buffer).fill((random() * 0xffffffff) >>> 0);
      pixels.push({ layer, tile, bytes });
    }
  }
  const engine = new Engine({
    mesh,
    surface,
    kernels: createWasmKernels(),
    document: { ...newDocument('Bench', SIZE), layers, nextId: 20 },
    pixels,
  });
  for (const spec of engine.missingCues()) engine.setCue(spec, new Uint16Array(SIZE * SIZE).fill(30000));
  return { engine, paint: 10 };
}

function benchFrame(engine: Engine, paint: number): Row {
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
    erase: false,
    color: '#d4581a',
    opacity: 0.7,
    edge: 1,
    spacing: 0.1,
    pressureSize: false,
    pressureOpacity: false,
    part: 'Square',
    nearSide: true,
  });
  const radius = Math.sqrt(20_000 / Math.PI) / SIZE;
  let x = 0.1;
  let tiles = 0;
  // Each frame brings the brush one spacing further: one dab, its tiles composited through all ten layers, uploaded.
  const time = median(60, () => {
    x += radius * 0.201;
    engine.extendStroke([x, 0, -0.5, 0, 1, 0, radius, 1], false);
    tiles = engine.dirty().length;
    show();
  });
  if (tiles < 6) throw new Error(`The dab touched only ${tiles} tiles.`);
  engine.cancelStroke();
  return {
    what: 'frame: 20,000-texel dab, 10 layers, upload; limit 8 ms',
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

const { engine, paint } = tenLayers();
Object.assign(window, { benchRows: [benchFrame(engine, paint), benchWhole(engine)] });
