import { newDocument } from '../core/document';
import { NODE_DEFAULTS } from '../core/layers';
import { writeProjectFile } from '../core/project-file';
import type { TileState } from '../core/pixels';
import {
  TILE,
  TILE_BYTES,
  tileCount,
  tilesAcross,
  TILE_TEXELS,
  texelPosition,
  type SheetSize,
} from '../core/surface';
import { square } from './models';

/**
 * A project file whose paint layers are painted all over: soft gradients, as large soft brushes leave them, on every texel of
 * the sheet.
 */
export function paintedProject(size: SheetSize, layers: number): Uint8Array {
  const document = {
    ...newDocument(`Painted ${size}`, size),
    layers: Array.from({ length: layers }, (_, i) => ({
      ...NODE_DEFAULTS,
      mask: [],
      kind: 'paint' as const,
      id: 1 + i,
      name: `Paint ${i + 1}`,
    })),
    nextId: 1000,
  };
  return writeProjectFile({
    document,
    mesh: square(),
    pixels: paintPixels(
      size,
      Array.from({ length: layers }, (_, i) => 1 + i),
    ),
    strokes: new Map(),
    files: new Map(),
  });
}

/** Soft gradients on every texel of these planes. */
export function paintPixels(size: SheetSize, planes: readonly number[]): TileState[] {
  const out: TileState[] = [];
  const across = tilesAcross(size);
  const places = Array.from({ length: TILE_TEXELS }, (_, i) => texelPosition(TILE, i));
  for (const plane of planes) {
    for (let tile = 0; tile < tileCount(size); tile++) {
      const bytes = new Uint8Array(TILE_BYTES);
      const [left, top] = [(tile % across) * TILE, Math.floor(tile / across) * TILE];
      places.forEach(([px, py], i) => {
        const x = ((left + px) / size) * 6;
        const y = ((top + py) / size) * 6;
        const wave = Math.sin(x + plane) * Math.cos(y - plane * 2);
        bytes[i * 4] = 128 + 100 * wave;
        bytes[i * 4 + 1] = 90 + 80 * Math.sin(y * 2 + plane);
        bytes[i * 4 + 2] = 110 + 60 * Math.cos(x * 1.5 - y);
        bytes[i * 4 + 3] = 160 + 90 * Math.cos(x - y + plane);
      });
      out.push({ plane, tile, bytes });
    }
  }
  return out;
}
