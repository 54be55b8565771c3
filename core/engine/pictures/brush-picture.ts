import { hexToRgb } from '../../color';
import type { Picture } from '../../formats';
import type { Kernels } from '../../kernels';
import { checkMesh, requireUvs, type UvMesh } from '../../mesh';
import { LiveStroke, StrokeRasterizer, PICTURE_TIP, SAMPLE_STRIDE, type BrushShape } from '../../paint';
import { readPattern } from '../../pattern';
import { measureSurface, TILE, TILE_BYTES, TILE_TEXELS, texelPosition, type SurfaceMap } from '../../surface';

/** Texels a side of the scratch sheet; the picture takes its whole width. */
const SIDE = 256;
const HEIGHT = 112;

/** The patch is this wide, model units: a texel is a hundredth. */
const WIDTH = SIDE / 100;
const TALL = HEIGHT / 100;

const PAINT = '#35323a';
const PAPER = '#8d8891';

/** The two grounds of a patch on which a brush is tried. */
const LIGHT = '#c9c5c0';
const DARK = '#4a4750';

export interface ShownBrush {
  readonly brush: BrushShape;
  /** Half its width in the picture, pixels. */
  readonly radius: number;
  readonly opacity: number;
  readonly erase: boolean;
  /** Its tip, where that is a picture: a PNG. */
  readonly tip: Uint8Array | null;
}

/** A stroke that was drawn to try a brush. */
export interface ScratchStroke extends ShownBrush {
  readonly color: string;
  /** x and y in pixels of the picture from its upper left, pressure and time in ms, one after the other. */
  readonly samples: number[];
}

let patch: SurfaceMap | null = null;

/** What a stroke of a brush looks like: made like any other, on a flat patch, pressed most in its middle. */
export function brushPicture(shown: ShownBrush, kernels: Kernels): Picture {
  const ground = shown.erase ? painted(() => PAPER) : new Map<number, Uint8Array>();
  return laid([{ ...shown, color: PAINT, run: wave(shown.radius / 100) }], ground, kernels);
}

/** Strokes that were drawn to try brushes, on a light and a dark ground. */
export const scratchPicture = (strokes: readonly ScratchStroke[], kernels: Kernels): Picture =>
  laid(
    strokes.map((stroke) => ({ ...stroke, run: drawn(stroke) })),
    painted((x) => (x < SIDE / 2 ? LIGHT : DARK)),
    kernels,
  );

interface LaidStroke extends ShownBrush {
  readonly color: string;
  readonly run: number[];
}

function laid(strokes: readonly LaidStroke[], tiles: Map<number, Uint8Array>, kernels: Kernels): Picture {
  patch ??= measureSurface(flatPatch(), SIDE);
  const rasterizer = new StrokeRasterizer(patch, kernels);
  for (const { brush, opacity, erase, color, tip, run } of strokes) {
    const live = new LiveStroke({
      style: {
        tool: 'brush',
        erase,
        color,
        opacity,
        brush: brush.tip === PICTURE_TIP ? { ...brush, picture: 0 } : brush,
        seed: 1,
        up: [0, 1, 0],
        eye: [0, 0, 1],
        nearSide: false,
      },
      keepAlpha: false,
      guard: null,
      rasterizer,
      kernels,
      plane: tiles,
      picture: () => tip && readPattern(tip),
    });
    const touched = new Set([...live.replay([run])].map((sub) => sub >> 2));
    for (const tile of touched) tiles.set(tile, live.paint(tile, tiles.get(tile)));
    live.end();
  }
  const rgba = new Uint8Array(SIDE * HEIGHT * 4);
  for (const [tile, bytes] of tiles) {
    for (let i = 0; i < TILE_TEXELS; i++) {
      const [x, y] = texelPosition(SIDE, tile * TILE_TEXELS + i);
      // The patch lies at the foot of its sheet.
      const row = y - (SIDE - HEIGHT);
      if (row >= 0) rgba.set(bytes.subarray(i * 4, i * 4 + 4), (row * SIDE + x) * 4);
    }
  }
  return { width: SIDE, height: HEIGHT, rgba };
}

/** What was drawn, as samples of the patch. */
function drawn({ samples, radius }: ScratchStroke): number[] {
  const out: number[] = [];
  for (let i = 0; i + 4 <= samples.length; i += 4) {
    const [x, y, pressure, time] = samples.slice(i, i + 4) as [number, number, number, number];
    const at = [x / 100, TALL - y / 100, 0];
    out.push(...at, 0, 0, 1, radius / 100, pressure, 0, 0, time - samples[3]!);
  }
  return out;
}

/** Samples along a wave from left to right. */
function wave(radius: number): number[] {
  const steps = 60;
  const left = Math.min(WIDTH * 0.3, Math.max(0.2, radius * 1.1));
  const out: number[] = [];
  for (let i = 0; i <= steps; i++) {
    const t = i / steps;
    const x = left + (WIDTH - 2 * left) * t;
    const y = TALL / 2 + Math.sin(t * 2 * Math.PI) * Math.max(0, TALL / 2 - radius) * 0.75;
    const pressure = 0.25 + 0.75 * Math.sin(Math.PI * t);
    const sample = [x, y, 0, 0, 0, 1, radius, pressure, 0.35, 0.6, i * 12];
    if (sample.length !== SAMPLE_STRIDE) throw new Error('A sample is incomplete.');
    out.push(...sample);
  }
  return out;
}

/** All of the patch in one colour a column. */
function painted(colorAt: (x: number) => string): Map<number, Uint8Array> {
  const out = new Map<number, Uint8Array>();
  for (let tile = 0; tile < (SIDE / TILE) ** 2; tile++) {
    const bytes = new Uint8Array(TILE_BYTES);
    for (let i = 0; i < TILE_TEXELS; i++) {
      const { r, g, b } = hexToRgb(colorAt(texelPosition(SIDE, tile * TILE_TEXELS + i)[0]));
      bytes.set([r, g, b, 255], i * 4);
    }
    out.set(tile, bytes);
  }
  return out;
}

function flatPatch(): UvMesh {
  const tall = HEIGHT / SIDE;
  return requireUvs(
    checkMesh({
      positions: Float32Array.of(0, 0, 0, WIDTH, 0, 0, WIDTH, TALL, 0, 0, TALL, 0),
      normals: Float32Array.of(0, 0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1),
      uvs: Float32Array.of(0, 0, 1, 0, 1, tall, 0, tall),
      indices: Uint32Array.of(0, 1, 2, 0, 2, 3),
      faceParts: Uint16Array.of(0, 0),
      parts: ['Patch'],
    }),
  );
}
