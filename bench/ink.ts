import { cueSpec } from '../core/cues';
import { Engine } from '../core/engine';
import { newDocument } from '../core/document';
import {
  type InkLine,
  type OwnSource,
  InkDrawer,
  InkSurface,
  ownLines,
  smoothHandles,
  usualInk,
} from '../core/ink';
import { createWasmKernels } from '../core/kernels';
import { seededRandom, type Vec3 } from '../core/math';
import { boundsOf, diagonalOf } from '../core/mesh';
import { measureSurface, PlaceReader, TILE_BYTES } from '../core/surface';
import { limitRow, median, type Row } from './clock';
import { bumpyBall } from './models';

const LINES = 2000;
const LAYERS = 12;

/** A line on the ball: from a place in a direction, so many units long, of five points. */
function lineOn(id: number, lift: number, from: number, way: number, long: number, width: number): InkLine {
  const point = (k: number): Vec3 => {
    const a = from + (Math.cos(way) * long * k) / 4 / Math.max(0.2, Math.sin(lift));
    const b = lift + (Math.sin(way) * long * k) / 4;
    return [Math.sin(b) * Math.cos(a), Math.cos(b), -Math.sin(b) * Math.sin(a)];
  };
  const points = [0, 1, 2, 3, 4].map(point);
  return smoothHandles({
    id,
    at: points.flat(),
    ahead: points.flatMap(() => [0, 0, 0]),
    back: points.flatMap(() => [0, 0, 0]),
    press: points.map(() => 1),
    closed: false,
    style: usualInk(width),
  });
}

/** Lines drawn anew, one dragged, and those that the form draws by itself: 50,000 triangles at 2048. */
export function benchInk(): Row[] {
  const mesh = bumpyBall(250, 100);
  const surface = measureSurface(mesh, 2048);
  const texel = surface.sheets[0]!.texelLength;
  const random = seededRandom(3);
  const lines = Array.from({ length: LINES }, (_, id) =>
    lineOn(id, Math.acos(2 * random() - 1), random() * 6.28, random() * 6.28, 200 * texel, 4 * texel),
  );
  const drawer = new InkDrawer(surface, new PlaceReader(surface));
  const began = performance.now();
  for (const line of lines) drawer.texels(line);
  const anew = performance.now() - began;

  const engine = new Engine({ surface, kernels: createWasmKernels(), document: newDocument('Ink', 2048) });
  const out = new Uint8Array(TILE_BYTES);
  const settle = (): void => {
    for (const tile of engine.dirty()) engine.renderTile(tile, out);
  };
  for (let k = 0; k < LAYERS - 4; k++) {
    engine.apply({
      do: 'add-layer',
      layer: { kind: 'wash', name: `Wash ${k}`, color: '#805030', opacity: 0.3 },
      into: null,
      at: 1,
    });
  }
  const { ids } = engine.apply({ do: 'add-layer', layer: { kind: 'ink', name: 'Ink' }, into: null, at: 2 });
  const layer = ids[0]!;
  const long = lineOn(0, 1.2, 0, 0.3, 400 * texel, 6 * texel);
  const put = [long, ...lines.slice(0, 50)].map((line) => ({ ...line, id: null }));
  engine.apply({ do: 'edit-ink', layer, put });
  settle();
  let step = 0;
  const dragged = median(40, () => {
    const at = [...long.at];
    at[7]! += (++step % 9) * texel;
    engine.apply({ do: 'edit-ink', layer, put: [{ ...long, at }] }, 'drag');
    settle();
  });

  const diagonal = diagonalOf(boundsOf(mesh.positions));
  const sources: readonly (readonly [what: string, from: OwnSource])[] = [
    ['creases', { along: 'creases', angle: 12, which: 'both' }],
    ['contours', { along: 'contours', views: [{ name: '', eye: [2, 1.5, 3], flat: false }], inner: true }],
    ['folds', { along: 'folds', which: 'both', scale: 0.01, least: 0.2 }],
    [
      'hatching',
      {
        along: 'hatching',
        tone: cueSpec.parse({ cue: 'height', direction: [0, 1, 0], from: 0, to: 1 }),
        low: 0,
        high: 1,
        invert: false,
        way: 'form',
        directions: 1,
        spacing: 0.014,
        length: 0.09,
      },
    ],
  ];
  const own = sources.map(([what, from]) => {
    const start = performance.now();
    const made = ownLines(
      { from, style: usualInk(4 * texel), shortest: 0.01, smooth: 0.3, width: null },
      {
        ground: new InkSurface(mesh),
        islandOfFace: surface.islandOfFace,
        diagonal,
        region: () => null,
        cue: () => (_, at) => (at[1] + 1) / 2,
      },
    );
    for (const line of made) drawer.texels(line);
    return limitRow(`own lines by ${what}, ${made.length}, drawn: limit`, performance.now() - start, 3000);
  });
  return [
    limitRow(`${LINES} lines of 200 texels drawn anew: limit`, anew, 2000),
    limitRow(`a point of a line of 400 texels dragged, ${LAYERS} layers: limit`, dragged, 16),
    ...own,
  ];
}
