import { z } from 'zod';
import { insertNodes, levelOf, placeOf, type LayerNode, type ProjectDocument, isGroup } from '../../document';
import { CHANNELS, planeOf } from '../../layers';
import type { TileState } from '../../pixels';
import { command } from '../command';
import { ids } from '../fields';
import { allNodes, nodeNames } from '../nodes';
import { copied } from '../plane-work';

export const duplicateLayers = command(z.strictObject({ do: z.literal('duplicate-layers'), layers: ids }), {
  label: ({ layers }, before) => `Duplicate ${nodeNames(before, layers)}`,
  apply: (document, { layers: wanted }) => {
    let { layers, nextId } = document;
    const copies = new Map<number, number>();
    for (const node of allNodes(layers, wanted)) {
      const copy = withNewIds(node, () => nextId++, copies);
      const { into, at } = placeOf(layers, node.id);
      const named = { ...copy, name: `${node.name} copy`.slice(0, 80) };
      layers = [...insertNodes(layers, [named], { into, at: at + 1 })];
    }
    return {
      document: { ...document, layers: masksOfCopies(layers, copies), nextId },
      ids: [...copies.values()],
    };
  },
  pixels: (_, { after, ids, pixels }) => {
    const fresh = new Set(ids);
    const tiles: TileState[] = [];
    const rebased: number[] = [];
    for (const id of ids) {
      const original = originalOf(after, id, fresh);
      for (const channel of CHANNELS) {
        const states = copied(pixels, planeOf(original, channel), planeOf(id, channel));
        if (states.length === 0) continue;
        tiles.push(...states);
        rebased.push(planeOf(id, channel));
      }
    }
    return { tiles, rebased };
  },
});

/** A mask made from a layer that was copied along is made from the copy. */
function masksOfCopies(layers: readonly LayerNode[], copies: ReadonlyMap<number, number>): LayerNode[] {
  const fresh = new Set(copies.values());
  const follow = (level: readonly LayerNode[]): LayerNode[] =>
    level.map((node) => {
      const mask = !fresh.has(node.id)
        ? node.mask
        : node.mask.map((s) => (s.from === 'layer' ? { ...s, layer: copies.get(s.layer) ?? s.layer } : s));
      return isGroup(node) ? { ...node, mask, layers: follow(node.layers) } : { ...node, mask };
    });
  return follow(layers);
}

function withNewIds(node: LayerNode, next: () => number, copies: Map<number, number>): LayerNode {
  const id = next();
  copies.set(node.id, id);
  if (!isGroup(node)) return { ...node, id };
  return { ...node, id, layers: node.layers.map((n) => withNewIds(n, next, copies)) };
}

/** The node that a copy was made of: a copied tree stands right above the one that it was made of. */
function originalOf(after: ProjectDocument, id: number, fresh: ReadonlySet<number>): number {
  // Climb to the top of the copied tree, remembering the way.
  const way: number[] = [];
  let { into, at } = placeOf(after.layers, id);
  while (into !== null && fresh.has(into)) {
    way.unshift(at);
    ({ into, at } = placeOf(after.layers, into));
  }
  let node = levelOf(after.layers, into)[at - 1]!;
  for (const step of way) node = isGroup(node) ? node.layers[step]! : node;
  return node.id;
}
