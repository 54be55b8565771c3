import { faceRuns } from '../core/mesh';
import type { Engine } from '../core/engine';
import { PLAIN_BRUSH, type BrushShape, type StrokeWish } from '../core/paint';
import { INSIDE, pixelTile, PlaceReader, TILE_BYTES, TILE_TEXELS } from '../core/surface';
import { engineOn, PAINT } from './engines';
import { seamedFloor } from './shapes';
import { PLAIN_STROKE } from './strokes';

export const UP = [0, 1, 0] as const;
const { seed, up, eye, nearSide } = PLAIN_STROKE;
/** What every tool with a brush reads, as plain as can be. */
export const brushed = { opacity: 1, seed, up, eye, nearSide };
export const ON: BrushShape = { ...PLAIN_BRUSH, edge: 0 };

/** Lays a stroke on the paint layer. */
export const lay = (engine: Engine, stroke: StrokeWish, guard: object | null = null): void => {
  engine.apply({ do: 'stroke', layer: PAINT, guard: guard as null, stroke });
};

/** Fills some triangles. */
export const fill = (engine: Engine, color: string, inside: (face: number) => boolean): void =>
  lay(
    engine,
    { tool: 'fill', erase: false, color, opacity: 1, runs: [] },
    { area: { faces: faceRuns(engine.mesh.faceParts.length, inside), cuts: [] } },
  );

export interface Texel {
  readonly at: readonly [number, number, number];
  readonly rgba: readonly [number, number, number, number];
}

/** The paint layer, place by place that the surface covers: texels that several share come once for each. */
export function texels(engine: Engine): Texel[] {
  const reader = new PlaceReader(engine.surface);
  const out: Texel[] = [];
  const bytes = new Uint8Array(TILE_BYTES);
  for (let tile = 0; tile < engine.surface.slotOfTile.length; tile++) {
    const places = reader.tile(tile);
    if (!places) continue;
    bytes.fill(0);
    engine.compositeTile(pixelTile(engine.surface.sheets, tile), bytes);
    const from = engine.surface.slotOfTile[tile]! * TILE_TEXELS;
    for (let i = 0; i < TILE_TEXELS; i++) {
      const code = engine.surface.codes[from + i]!;
      if (code < 0 || (code & 3) !== INSIDE) continue;
      const o = i * 4;
      out.push({
        at: [places.px[i]!, places.py[i]!, places.pz[i]!],
        rgba: [bytes[o]!, bytes[o + 1]!, bytes[o + 2]!, bytes[o + 3]!],
      });
    }
  }
  return out;
}

/** Only the paint layer is seen. */
export function engineFor(mesh = seamedFloor(), size: 128 | 256 = 256): Engine {
  const engine = engineOn(mesh, size);
  engine.apply({ do: 'remove-layers', layers: [1] });
  return engine;
}
