import { z } from 'zod';
import { DETAILS, type Detail } from '../document';
import type { Picture } from '../formats';

const mask = z.enum(DETAILS).nullable();

/** Which mask of the detail sheet goes into which channel of its picture; null: none. */
export const detailChannels = z.strictObject({ r: mask, g: mask, b: mask, a: mask });
export type DetailChannels = z.infer<typeof detailChannels>;

/** As the toon view reads them. */
export const USUAL_CHANNELS: DetailChannels = { r: 'dark', g: 'line', b: 'shine', a: null };

export const CHANNEL_NAMES = ['r', 'g', 'b', 'a'] as const;

/** Bytes of a channel that no mask goes into: nothing, but alpha is full. */
const EMPTY = [0, 0, 0, 255] as const;

/**
 * The detail sheet with its masks in the wanted channels.
 *
 * @param picture red, green, blue: the masks in the order of `DETAILS`; what has no alpha is left as it is
 */
export function inChannels({ width, height, rgba }: Picture, channels: DetailChannels): Picture {
  const from = CHANNEL_NAMES.map((name) => {
    const detail = channels[name];
    return detail === null ? -1 : DETAILS.indexOf(detail);
  });
  const out = new Uint8Array(rgba.length);
  for (let i = 0; i < rgba.length; i += 4) {
    if (rgba[i + 3] === 0) continue;
    for (let c = 0; c < 4; c++) out[i + c] = from[c]! < 0 ? EMPTY[c]! : rgba[i + from[c]!]!;
  }
  return { width, height, rgba: out };
}

/** What is told of a detail sheet beside its picture, so that a shader can be written for it. */
export function detailReport(channels: DetailChannels): {
  readonly channels: Readonly<Record<string, string>>;
  readonly means: Readonly<Record<Detail, string>>;
} {
  return {
    channels: Object.fromEntries(CHANNEL_NAMES.map((name) => [name, channels[name] ?? 'none'])),
    means: {
      dark: '128 leaves the light as it is; less darkens sooner, more stays lit longer: add (value - 128) / 255 to the light, 0..1',
      line: 'part of the outline’s width: 255 all of it, 0 none',
      shine: 'how readily a highlight is kept: 0 never',
    },
  };
}
