import { z } from 'zod';
import { BLEND_MODES } from '../../composite';
import { replaceNode } from '../../document';
import { CoreError } from '../../errors';
import { decodePng } from '../../formats';
import { planeOf } from '../../layers';
import { isEmptyTile, type TileState } from '../../pixels';
import {
  codesOfTile,
  filledTiles,
  texelIndex,
  TILE,
  TILE_BYTES,
  tileCount,
  tilesAcross,
} from '../../surface';
import { changed, command, type PixelSurface } from '../command';
import { at, id, nodeNameField } from '../fields';
import { given } from '../items';
import { newPaint, nodeName, patched, withNode } from '../nodes';
import { paintedChannel } from '../plane-work';
import { requirePng } from '../require-png';

/**
 * Lays a picture that came back from elsewhere, whose file comes along, on one sheet of a paint layer, in place of all that it has there. Its
 * upper left corner lies at x, y; what it doesn't reach is left empty.
 */
export const putPicture = command(
  z.strictObject({
    do: z.literal('put-picture'),
    /** Null: a new layer on top. */
    onto: id.nullable(),
    name: nodeNameField,
    sheet: at,
    x: z.int().min(-65_536).max(65_536).default(0),
    y: z.int().min(-65_536).max(65_536).default(0),
    /** These are set where they are told. */
    blend: z.enum(BLEND_MODES).exactOptional(),
    opacity: z.number().min(0).max(1).exactOptional(),
    /** Which of the files that come along. */
    file: at.default(0),
  }),
  {
    label: ({ onto, name }, { layers }) =>
      onto === null ? `Add “${name}” from a file` : `Read ${nodeName(layers, onto)} again`,
    apply: (document, { onto, name, blend, opacity }) => {
      const { layers } = document;
      const look = given({ blend, opacity });
      if (onto === null)
        return withNode(document, (id) => patched(newPaint(id, name), look), null, layers.length);
      return changed(document, { layers: [...replaceNode(layers, onto, (n) => patched(n, look))] });
    },
    pixels: (command, ground) => {
      const { onto } = command;
      const plane = onto === null ? planeOf(ground.ids[0]!) : paintedChannel(ground.before, onto, 'pixels');
      return { tiles: laidPicture(ground, command, plane), rebased: [plane] };
    },
    file: { isKept: false, check: (bytes) => requirePng(bytes, null) },
  },
);

/** A picture's texels on a sheet's tiles, as far as the surface covers them; tiles without any are empty afterwards. */
function laidPicture(
  { surface, pixels, files }: PixelSurface,
  {
    sheet,
    x,
    y,
    file: which,
  }: { readonly sheet: number; readonly x: number; readonly y: number; readonly file: number },
  plane: number,
): TileState[] {
  const own = surface.sheets[sheet];
  if (!own) throw new CoreError('bad-argument', 'That sheet is no longer there.');
  const file = files[which];
  if (!file) throw new CoreError('bad-argument', 'The picture is missing. Choose its file again.');
  const picture = decodePng(file);
  const from = new Uint32Array(picture.rgba.buffer, picture.rgba.byteOffset, picture.width * picture.height);
  const { size, firstTile } = own;
  return filledTiles(surface).flatMap((tile): TileState[] => {
    const t = tile - firstTile;
    if (t < 0 || t >= tileCount(size)) return [];
    const codes = codesOfTile(surface, tile)!;
    const out = new Uint8Array(TILE_BYTES);
    const words = new Uint32Array(out.buffer);
    for (let row = 0; row < TILE; row++) {
      const py = Math.floor(t / tilesAcross(size)) * TILE + row - y;
      if (py < 0 || py >= picture.height) continue;
      for (let column = 0; column < TILE; column++) {
        const px = (t % tilesAcross(size)) * TILE + column - x;
        if (px < 0 || px >= picture.width) continue;
        const i = texelIndex(TILE, column, row);
        const word = from[py * picture.width + px]!;
        // What is wholly transparent has no colour.
        if (codes[i]! >= 0 && word >>> 24 > 0) words[i] = word;
      }
    }
    const isEmpty = isEmptyTile(out);
    return isEmpty && !pixels.get(plane, tile) ? [] : [{ plane, tile, bytes: isEmpty ? null : out }];
  });
}
