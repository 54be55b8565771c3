import { hexToRgb } from '../color';
import type { Picture } from '../formats';
import type { Kernels } from '../kernels';
import { checkMesh, requireUvs, type UvMesh } from '../mesh';
import { LiveStroke, PaintDesk, SAMPLE_STRIDE, type BrushShape } from '../paint';
import { measureSurface, TILE_BYTES, TILE_TEXELS, texelPosition, type SurfaceMap } from '../surface';

/** Texels a side of the scratch sheet; the picture takes its whole width. */
const SIDE = 256;
const HEIGHT = 112;

/** The patch is this wide, model units: a texel is a hundredth. */
const WIDTH = SIDE / 100;
const TALL = HEIGHT / 100;

const PAINT = '#35323a';
const PAPER = '#8d8891';

export interface ShownBrush {
  readonly brush: BrushShape;
  /** Half its width in the picture, pixels. */
  readonly radius: number;
  readonly opacity: number;
  readonly erase: boolean;
}

let patch: SurfaceMap | null = null;

/** What a stroke of a brush looks like: made like any other, on a flat patch, pressed most in its middle. */
export function brushPicture({ brush, radius, opacity, erase }: ShownBrush, kernels: Kernels): Picture {
  patch ??= measureSurface(flatPatch(), SIDE);
  const desk = new PaintDesk(patch, kernels);
  const live = new LiveStroke({
    style: {
      tool: 'brush',
      erase,
      color: PAINT,
      opacity,
      brush,
      seed: 1,
      up: [0, 1, 0],
      eye: [0, 0, 1],
      nearSide: false,
    },
    keepAlpha: false,
    guard: null,
    desk,
    kernels,
    plane: new Map(),
  });
  const rgba = new Uint8Array(SIDE * HEIGHT * 4);
  const tiles = new Map<number, Uint8Array>();
  const touched = new Set([...live.replay([wave(radius / 100)])].map((sub) => sub >> 2));
  for (let tile = 0; tile < (SIDE / 64) ** 2; tile++) {
    const before = erase ? paper() : undefined;
    if (touched.has(tile)) tiles.set(tile, live.paint(tile, before));
    else if (before) tiles.set(tile, before);
  }
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

function paper(): Uint8Array {
  const { r, g, b } = hexToRgb(PAPER);
  const out = new Uint8Array(TILE_BYTES);
  for (let i = 0; i < out.length; i += 4) out.set([r, g, b, 255], i);
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
