import { z } from 'zod';
import { replaceNode, requireNode, type LayerNode } from '../../document';
import { CoreError } from '../../errors';
import { inkWishSchema, MOST_LINES, withLines } from '../../ink';
import { command } from '../command';
import { at, id } from '../fields';

/** Puts lines into an ink layer, those with a number in the place of the former, and removes others. Points are laid onto the surface. */
export const editInk = command(
  z.strictObject({
    do: z.literal('edit-ink'),
    layer: id,
    put: z.array(inkWishSchema).max(MOST_LINES).default([]),
    remove: z.array(at).max(MOST_LINES).default([]),
  }),
  {
    gesture: ({ layer }) => layer,
    label: ({ put, remove }) => {
      const fresh = put.filter((line) => line.id === null).length;
      const many = (count: number): string => (count === 1 ? 'a line' : `${count} lines`);
      if (fresh > 0 && fresh === put.length && remove.length === 0) return `Draw ${many(fresh)}`;
      return put.length === 0 ? `Remove ${many(remove.length)}` : `Change ${many(put.length)}`;
    },
    apply: (document, { layer, put, remove }) => {
      const node = requireNode(document.layers, layer);
      if (node.kind !== 'ink') throw new CoreError('bad-argument', `“${node.name}” is not an ink layer.`);
      const { lines, ids } = withLines(node.lines, put, remove);
      const layers = replaceNode(document.layers, node.id, (n) => ({ ...n, lines }) as LayerNode);
      return { document: { ...document, layers: [...layers] }, ids };
    },
  },
);
