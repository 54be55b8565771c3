import { DETAILS, type ProjectDocument } from '../document';
import type { Kernels } from '../kernels';
import { TILE_BYTES, type SurfaceMap } from '../surface';
import { putChannel } from './detail-values';
import type { LayerTiles, ChannelPixels } from './layer-tiles';
import { Picture } from './picture';
import { WHOLE_BUILD_UP } from './build-up-view';

/** The detail sheet, kept up to date tile by tile: red what darkens first, green the outline's width, blue what keeps a highlight. */
export class DetailPicture {
  private readonly masks: readonly Picture[];

  constructor(
    kernels: Kernels,
    tiles: LayerTiles,
    pixels: ChannelPixels,
    surface: SurfaceMap,
    document: ProjectDocument,
  ) {
    this.masks = DETAILS.map((detail) => {
      const picture = new Picture(kernels, tiles, pixels, surface, document);
      picture.setView({ ...WHOLE_BUILD_UP, detail });
      return picture;
    });
  }

  /** Every mask's picture, to be told of what changes. */
  get pictures(): readonly Picture[] {
    return this.masks;
  }

  /** Tiles of which at least one mask is out of date. */
  dirty(): readonly number[] {
    return [...new Set(this.masks.flatMap((mask) => mask.dirty()))];
  }

  /** Brings a tile up to date. @param out receives RGBA in tile order, alpha 255 */
  render(tile: number, out: Uint8Array): void {
    const grey = new Uint8Array(TILE_BYTES);
    this.masks.forEach((mask, channel) => {
      mask.composite(tile, grey);
      mask.freshen(tile);
      putChannel(grey, DETAILS[channel]!, out, channel);
    });
    for (let i = 3; i < TILE_BYTES; i += 4) out[i] = 255;
  }
}
