import { nodesOf, planesGone, requireNode, type ProjectDocument, isGroup } from '../document';
import { CoreError } from '../errors';
import { isPaintedMask, kindOf, ownerOfChannel, planeOf, type Channel } from '../layers';
import { isEmptyTile, type PixelStore, type TileState } from '../pixels';
import { filledTiles, TILE_BYTES } from '../surface';
import type { PixelSurface, PixelWork } from './command';

/**
 * The plane that strokes on a layer's channel go to.
 *
 * @throws CoreError `layer-missing`, or `bad-argument` if nothing can be painted there
 */
export function paintedChannel(document: ProjectDocument, id: number, channel: Channel): number {
  const node = requireNode(document.layers, id);
  if (channel === 'mask') {
    if (!isPaintedMask(node.mask)) {
      throw new CoreError(
        'bad-argument',
        `The mask of “${node.name}” has no painted step. Add one to paint on it.`,
      );
    }
    return planeOf(id, 'mask');
  }
  if (isGroup(node) || kindOf(node).form !== 'pixels') {
    throw new CoreError(
      'bad-argument',
      `“${node.name}” is not a paint layer. Choose or add one to paint on.`,
    );
  }
  if (node.lock === 'pixels') {
    throw new CoreError(
      'bad-argument',
      `The pixels of “${node.name}” are locked. Unlock them to paint on it.`,
    );
  }
  return planeOf(id);
}

/** Every tile of a plane, emptied. */
export const emptied = (pixels: PixelStore, plane: number): TileState[] =>
  pixels.tiles(plane).map((tile) => ({ plane, tile, bytes: null }));

/** Every tile of a plane, on another. */
export const copied = (pixels: PixelStore, from: number, to: number): TileState[] =>
  [...pixels.states(from)].map(({ tile, bytes }) => ({ plane: to, tile, bytes }));

/**
 * Planes that go are emptied. Where the node stays, as that of a painted mask does, their strokes stay behind for undo: a fresh plane of the same
 * number begins after them.
 */
export function emptyGone({ before, after, pixels }: PixelSurface): PixelWork {
  const gone = planesGone(before, after);
  const left = new Set([...nodesOf(after.layers)].map(({ node }) => node.id));
  return {
    tiles: gone.flatMap((plane) => emptied(pixels, plane)),
    rebased: gone.filter((plane) => left.has(ownerOfChannel(plane).layer)),
  };
}

/** The whole picture as a plane. */
export function wholePicture({ surface, picture }: PixelSurface, plane: number): TileState[] {
  return filledTiles(surface).flatMap((tile) => {
    const bytes = new Uint8Array(TILE_BYTES);
    picture.composite(tile, bytes, null);
    return isEmptyTile(bytes) ? [] : [{ plane, tile, bytes }];
  });
}
