import type { UvMesh } from '../../core/mesh';
import { PLAIN_BRUSH, type BrushShape } from '../../core/paint';
import { CUE_KINDS, type CueSpec } from '../../core/cues';
import { Engine } from '../../core/engine';
import { newDocument, type LayerNode } from '../../core/document';
import { NODE_DEFAULTS, PLAIN_LEVELS, type MaskStep } from '../../core/layers';
import { createWasmKernels } from '../../core/kernels';
import { seededRandom } from '../../core/math';
import { BLEND_MODES } from '../../core/composite';
import { measureSurface, TILE_BYTES, tileCount, tileToRows } from '../../core/surface';
import { limitRow, median, ms, type Row } from '../clock';
import { bumpyBall, square } from '../models';

const SIZE = 2048;

const through = (cue: CueSpec, invert: boolean): MaskStep[] => [
  { from: 'cue', join: 'multiply', cue, levels: PLAIN_LEVELS, invert },
];

const PAINT_BLENDS = ['normal', 'overlay', 'multiply', 'screen', 'soft-light', 'normal'] as const;

/** So many layers: four derived, the others painted all over; with `groups` the painted ones lie in groups of three. */
function buildUp(count: number, groups: boolean, mesh: UvMesh = square()): { engine: Engine; paint: number } {
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
    grouped.push({
      ...base,
      kind: 'group',
      detail: null,
      isolated: i % 2 === 0,
      id: 100 + i,
      name: `Group ${i}`,
      layers,
    });
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

interface Stroke {
  readonly what: string;
  readonly brush: BrushShape;
  /** Of a dab, about. */
  readonly texels: number;
  readonly tool?: 'soften' | 'smear';
  /** Copies round the axis. */
  readonly round?: number;
  /** Most milliseconds, at the median and at the 95th percentile. */
  readonly limits: readonly [number, number];
}

const GRAIN = { kind: 'value', scale: 160, depth: 0.6 } as const;
const CHALK: BrushShape = { ...PLAIN_BRUSH, tip: 'chalk', grain: GRAIN };

/** Shows what has changed, as the application does. @returns how many tiles that were */
function makeShow(engine: Engine): () => number {
  const canvas = document.createElement('canvas');
  const gl = canvas.getContext('webgl2')!;
  gl.bindTexture(gl.TEXTURE_2D, gl.createTexture());
  gl.texStorage2D(gl.TEXTURE_2D, 1, gl.RGBA8, SIZE, SIZE);
  const out = new Uint8Array(TILE_BYTES);
  const rows = new Uint8Array(TILE_BYTES);
  return () => {
    const dirty = engine.dirty();
    for (const tile of dirty) {
      engine.renderTile(tile, out);
      tileToRows(out, rows);
      const [x, y] = [(tile % 32) * 64, Math.floor(tile / 32) * 64];
      gl.texSubImage2D(gl.TEXTURE_2D, 0, x, y, 64, 64, gl.RGBA, gl.UNSIGNED_BYTE, rows);
    }
    gl.finish();
    return dirty.length;
  };
}

/** Each event brings the brush one spacing further: its dab, the tiles composited through all layers, uploaded. */
function benchStroke(
  { what, brush, texels, tool, round, limits }: Stroke,
  { engine, paint }: { engine: Engine; paint: number },
  peer: number,
): Row[] {
  const show = makeShow(engine);
  show();
  const { texelLength } = engine.surface.sheets[0]!;
  const radius = Math.sqrt(texels / Math.PI) * texelLength;
  const style = {
    opacity: 0.7,
    brush: { ...brush, edge: 1 },
    seed: 1,
    up: [0, 1, 0] as [number, number, number],
    eye: [0, 0, 1] as [number, number, number],
    nearSide: true,
    ...(round && {
      symmetry: {
        planes: [],
        axis: {
          point: [0, 0, 0] as [number, number, number],
          direction: [0, 1, 0] as [number, number, number],
          count: round,
          span: 360,
        },
      },
    }),
  };
  engine.beginStroke(
    paint,
    tool ? { tool, ...style } : { tool: 'brush', erase: false, color: '#d4581a', ...style },
  );
  const { mesh } = engine;
  const isFlat = mesh.indices.length === 6;
  let way = 0;
  let tiles = 0;
  const times: number[] = [];
  for (let n = 0; n < 90; n++) {
    way += radius * 0.201;
    // Round the ball at its middle, or along the square.
    const a = way;
    const at = isFlat ? [0.1 + way, 0, -0.5] : [Math.cos(a), 0, -Math.sin(a)];
    const normal = isFlat ? [0, 1, 0] : at;
    const start = performance.now();
    engine.extendStroke([...at, ...normal, radius, 1, 0, 0, n * 8], false);
    tiles = show();
    times.push(performance.now() - start);
  }
  if (tiles < 4) throw new Error(`The dab of “${what}” touched only ${tiles} tiles.`);
  engine.cancelStroke();
  const sorted = times.slice(20).sort((x, y) => x - y);
  const at = (part: number): number => sorted[Math.floor(sorted.length * part)]!;
  const [median, late] = [at(0.5), at(0.95)];
  return [
    limitRow(`${what}: median, limit`, median, limits[0]),
    limitRow(`${what}: 95th percentile, limit`, late, limits[1]),
    {
      what: `${what}: beside a plain 2D-canvas brush`,
      ours: ms(median),
      peer: ms(peer),
      ratio: peer / median,
    },
  ];
}

/** A soft round stamp on a flat canvas of the sheet's size: what a drawing program without surface, layers or grain does. */
function benchCanvasBrush(texels: number): number {
  const canvas = new OffscreenCanvas(SIZE, SIZE);
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  const radius = Math.sqrt(texels / Math.PI);
  let x = 100;
  return median(60, () => {
    x = 100 + ((x + radius * 0.2) % 1500);
    const fall = context.createRadialGradient(x, 1024, 0, x, 1024, radius);
    fall.addColorStop(0, '#d4581ab0');
    fall.addColorStop(1, '#d4581a00');
    context.fillStyle = fall;
    context.fillRect(x - radius, 1024 - radius, radius * 2, radius * 2);
    context.getImageData(x, 1024, 1, 1);
  });
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

const ball = buildUp(12, true, bumpyBall(250, 100));
const [small, large] = [benchCanvasBrush(20_000), benchCanvasBrush(200_000)];
const STROKES: readonly Stroke[] = [
  { what: '20,000-texel tip with grain', brush: CHALK, texels: 20_000, limits: [8, 16] },
  { what: '20,000-texel round tip', brush: PLAIN_BRUSH, texels: 20_000, limits: [8, 16] },
  { what: '200,000-texel tip with grain', brush: CHALK, texels: 200_000, limits: [33, 66] },
  { what: '12 copies of a 5,000-texel tip', brush: PLAIN_BRUSH, texels: 5000, round: 12, limits: [33, 66] },
  { what: 'soften, 20,000 texels', brush: PLAIN_BRUSH, texels: 20_000, tool: 'soften', limits: [16, 32] },
  { what: 'smear, 20,000 texels', brush: PLAIN_BRUSH, texels: 20_000, tool: 'smear', limits: [16, 32] },
];
const rows = [
  // Event to texels on the GPU: 2048, 12 layers in groups, 50,000 triangles, distance along the surface.
  ...STROKES.flatMap((stroke) => benchStroke(stroke, ball, stroke.texels > 100_000 ? large : small)),
  benchWhole(buildUp(10, false).engine),
];
Object.assign(window, { benchRows: rows });
