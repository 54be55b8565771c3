import { z } from 'zod';
import {
  goesInto,
  levelOf,
  placeOf,
  planesOf,
  requireNode,
  withoutNodes,
  type ProjectDocument,
  type LayerNode,
  isGroup,
} from '../../document';
import { CoreError } from '../../errors';
import { kindOf, planeOf } from '../../layers';
import { isEmptyTile, type TileState } from '../../pixels';
import { filledTiles, TILE_BYTES } from '../../surface';
import { changed, command } from '../command';
import { id } from '../fields';
import { nodeName, withoutGone } from '../nodes';
import { emptied } from '../plane-work';

/** Paints a layer into the paint layer under it, as both look together; it goes. */
export const mergeDown = command(z.strictObject({ do: z.literal('merge-down'), layer: id }), {
  label: ({ layer }, { layers }) => `Merge ${nodeName(layers, layer)} down`,
  apply: (document, { layer }) => {
    mergedInto(document, layer);
    return changed(document, withoutGone(document, withoutNodes(document.layers, new Set([layer]))));
  },
  pixels: ({ layer }, { before, pixels, surface, picture }) => {
    const { top, below } = mergedInto(before, layer);
    const plane = planeOf(below.id);
    // What both are clipped to clips what comes of them.
    const pair = below.clip ? [below, top].map((node) => ({ ...node, clip: false })) : [below, top];
    const tiles = filledTiles(surface).flatMap((tile): TileState[] => {
      const out = new Uint8Array(TILE_BYTES);
      picture.compositeNodes(pair, tile, out);
      if (isEmptyTile(out) && !pixels.has(plane, tile)) return [];
      return [{ plane, tile, bytes: isEmptyTile(out) ? null : out }];
    });
    const gone = planesOf({ layers: [top] }).flatMap((p) => emptied(pixels, p));
    return { tiles: [...gone, ...tiles], rebased: [plane] };
  },
});

/**
 * A layer, and the paint layer under it that it can be merged into without looking otherwise.
 *
 * @throws CoreError `layer-missing`, or `bad-argument` with what stands in the way
 */
function mergedInto(
  { layers }: ProjectDocument,
  id: number,
): { readonly top: LayerNode; readonly below: LayerNode } {
  const top = requireNode(layers, id);
  const { into, at } = placeOf(layers, id);
  const no = (sentence: string): CoreError => new CoreError('bad-argument', sentence);
  if (goesInto(top) !== null)
    throw no(`“${top.name}” goes into the detail sheet, so it can’t be merged into the albedo.`);
  if (!top.visible)
    throw no(`“${top.name}” is hidden, so nothing of it would be left. Show it to merge it, or remove it.`);
  const level = levelOf(layers, into);
  const below = level[at - 1];
  if (!below || isGroup(below) || kindOf(below).form !== 'pixels')
    throw no(
      `Under “${top.name}” there is no paint layer to merge into. Put one there, or use “Merge what shows”.`,
    );
  if (below.lock !== 'none') throw no(`“${below.name}” is locked. Unlock it to merge into it.`);
  if (below.mask.length > 0 || below.opacity < 1 || below.blend !== 'normal' || !below.visible)
    throw no(
      `“${below.name}” would look different with “${top.name}” merged into it, since it has a mask, an opacity or a blend mode of its own, or is hidden. Use “Merge what shows” instead.`,
    );
  if (below.clip && !top.clip)
    throw no(
      `“${below.name}” is clipped to what lies under it, and “${top.name}” would be. Clip that too, or use “Merge what shows”.`,
    );
  const above = level[at + 1];
  if (above?.clip && !top.clip)
    throw no(`“${above.name}” is clipped to “${top.name}” alone. Merge that down first.`);
  return { top, below };
}
