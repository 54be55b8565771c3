import { DETAIL_NEUTRAL, type Detail } from '../document';
import { TILE_TEXELS } from '../surface';

/** Rec. 709 weights on encoded channels: what a grey is painted with comes back. */
const greyOf = (r: number, g: number, b: number): number => 0.2126 * r + 0.7152 * g + 0.0722 * b;

/** What was painted on a mask as values of one channel. @param tile straight-alpha RGBA8 */
export function putChannel(tile: Uint8Array, detail: Detail, out: Uint8Array, channel: number): void {
  const neutral = DETAIL_NEUTRAL[detail];
  for (let i = 0; i < TILE_TEXELS * 4; i += 4) {
    const a = tile[i + 3]! / 255;
    const value = a === 0 ? neutral : greyOf(tile[i]!, tile[i + 1]!, tile[i + 2]!) * a + neutral * (1 - a);
    out[i + channel] = Math.floor(value + 0.5);
  }
}
