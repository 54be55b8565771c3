import { hexToRgb } from '../color';
import { TILE_TEXELS, type PlaceReader, type SurfaceMap } from '../surface';
import { InkSurface } from './ink-surface';
import type { InkLine } from './line';
import type { Covered } from './drawing';
import { InkRaster, type LineTexels } from './raster';

/** Draws lines, each once: as long as it is the same, so are its texels. */
export class InkDrawer {
  readonly ground: InkSurface;
  private readonly raster: InkRaster;
  private readonly drawn = new WeakMap<InkLine, LineTexels>();

  constructor(surface: SurfaceMap, places: PlaceReader) {
    this.ground = new InkSurface(surface.mesh);
    this.raster = new InkRaster(surface, places, this.ground);
  }

  texels(line: InkLine): LineTexels {
    let known = this.drawn.get(line);
    if (!known) this.drawn.set(line, (known = this.raster.draw(line)));
    return known;
  }

  /**
   * Lines on a tile, the later over the earlier.
   *
   * @returns four numbers a texel, 0..1, colours premultiplied; null where none comes
   */
  onTile(lines: readonly InkLine[], tile: number): Float32Array | null {
    let out: Float32Array | null = null;
    for (const line of lines) {
      const { fill, ink } = this.texels(line);
      const { color, opacity, fill: inner } = line.style;
      for (const [covered, hex] of [
        [fill?.get(tile), inner],
        [ink.get(tile), color],
      ] as const) {
        if (covered && hex) lay((out ??= new Float32Array(TILE_TEXELS * 4)), covered, hex, opacity);
      }
    }
    return out;
  }
}

function lay(out: Float32Array, { index, cover }: Covered, hex: string, opacity: number): void {
  const { r, g, b } = hexToRgb(hex);
  for (let k = 0; k < index.length; k++) {
    const o = index[k]! * 4;
    const a = (cover[k]! / 65535) * opacity;
    const under = 1 - a;
    out[o] = (r / 255) * a + out[o]! * under;
    out[o + 1] = (g / 255) * a + out[o + 1]! * under;
    out[o + 2] = (b / 255) * a + out[o + 2]! * under;
    out[o + 3] = a + out[o + 3]! * under;
  }
}
