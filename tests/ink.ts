import { InkDrawer, smoothHandles, usualInk, type InkLine, type InkStyle } from '../core/ink';
import type { Vec3 } from '../core/math';
import type { UvMesh } from '../core/mesh';
import { INSIDE, measureSurface, PlaceReader, TILE_TEXELS, type SheetSize } from '../core/surface';

/** An even black line. */
export const EVEN: InkStyle = { ...usualInk(0.1), color: '#000000', taper: [0, 0] };

/** A smooth line through points. */
export const lineThrough = (
  points: readonly Vec3[],
  style: Partial<InkStyle> = {},
  more: Partial<InkLine> = {},
): InkLine => {
  const none = points.flatMap(() => [0, 0, 0]);
  return smoothHandles({
    id: 0,
    at: points.flat(),
    ahead: none,
    back: none,
    press: points.map(() => 1),
    closed: false,
    style: { ...EVEN, ...style },
    ...more,
  });
};

/** How much of a texel is inked, and where it lies. */
export interface InkedTexel {
  readonly at: Vec3;
  readonly cover: number;
  readonly face: number;
}

/** Lines as they are drawn on a model, texel by texel that it covers. */
export function inked(mesh: UvMesh, lines: readonly InkLine[], size: SheetSize = 256): InkedTexel[] {
  const surface = measureSurface(mesh, size);
  const places = new PlaceReader(surface);
  const drawer = new InkDrawer(surface, places);
  const out: InkedTexel[] = [];
  for (let tile = 0; tile < surface.slotOfTile.length; tile++) {
    const p = places.tile(tile);
    if (!p) continue;
    const values = drawer.onTile(lines, tile);
    for (let i = 0; i < TILE_TEXELS; i++) {
      const code = surface.codes[surface.slotOfTile[tile]! * TILE_TEXELS + i]!;
      if (code < 0 || (code & 3) !== INSIDE) continue;
      out.push({ at: [p.px[i]!, p.py[i]!, p.pz[i]!], cover: values?.[i * 4 + 3] ?? 0, face: code >> 2 });
    }
  }
  return out;
}
