import type { LayerNode, NodePlace } from '../../../core/document';

/** A node as a row of the list: the highest first, a group above what is in it. */
export interface TreeRow {
  readonly node: LayerNode;
  readonly depth: number;
  readonly place: NodePlace;
}

/** @param folded groups whose layers aren't listed */
export function rowsOf(
  tree: readonly LayerNode[],
  folded: ReadonlySet<number>,
  into: number | null = null,
  depth = 0,
): TreeRow[] {
  return tree
    .map((node, at): TreeRow[] => [
      { node, depth, place: { into, at } },
      ...(node.kind === 'group' && !folded.has(node.id)
        ? rowsOf(node.layers, folded, node.id, depth + 1)
        : []),
    ])
    .reverse()
    .flat();
}

/**
 * Where a dragged row would be put.
 *
 * @param rows without what lies inside the dragged row
 * @param active index of the dragged row
 * @param over index of the row whose place it takes
 * @param deeper how many levels further in it is held than it was
 * @returns the level it would stand on, and its place as a command counts it: from the ground, without the dragged row
 */
export function dropPlace(
  rows: readonly TreeRow[],
  active: number,
  over: number,
  deeper: number,
  folded: ReadonlySet<number>,
): { readonly depth: number; readonly place: NodePlace } | null {
  const dragged = rows[active];
  if (!dragged) return null;
  const rest = rows.filter((_, i) => i !== active);
  const above = rest[over - 1];
  const below = rest[over];
  // Under an open group one may go into it; between two layers of a group one can't leave it.
  const opens = above?.node.kind === 'group' && !folded.has(above.node.id);
  const most = above ? above.depth + (opens ? 1 : 0) : 0;
  const least = below?.depth ?? 0;
  const depth = Math.max(least, Math.min(most, dragged.depth + deeper));
  let into: number | null = null;
  if (above && depth > above.depth) into = above.node.id;
  else {
    for (let i = over - 1; i >= 0; i--) {
      if (rest[i]!.depth === depth) {
        into = rest[i]!.place.into;
        break;
      }
    }
  }
  // Whoever of the same group stands lower is below it.
  const at = rest.slice(over).filter((r) => r.place.into === into && r.depth === depth).length;
  return { depth, place: { into, at } };
}
