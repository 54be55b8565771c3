import type { LayerNode } from './schema';

/**
 * Masks of the detail sheet, a second picture of the same layout for a toon shader: what darkens first, how heavy the outline is, and
 * what keeps a highlight. Each is what lies in the groups of the build-up that go into it.
 */
export const DETAILS = ['dark', 'line', 'shine'] as const;
export type Detail = (typeof DETAILS)[number];

/**
 * Value where nothing is painted, 0..255. Dark: the middle leaves the light as it is, less darkens sooner, more stays light longer.
 * Line: the part of the outline's width that is left. Shine: how readily a place keeps a highlight.
 */
export const DETAIL_NEUTRAL: Readonly<Record<Detail, number>> = { dark: 128, line: 255, shine: 0 };

type Tree = readonly LayerNode[];

/** What a node of the build-up itself goes into; null: the albedo. */
export const goesInto = (node: LayerNode): Detail | null => (node.kind === 'group' ? node.detail : null);

/** The nodes of which the albedo consists. */
export const albedoNodes = (tree: Tree): Tree =>
  tree.some((n) => goesInto(n) !== null) ? tree.filter((n) => goesInto(n) === null) : tree;

/** The nodes of which a mask of the detail sheet consists; null: those of the albedo. */
export const nodesFor = (tree: Tree, detail: Detail | null): Tree =>
  detail === null ? albedoNodes(tree) : tree.filter((n) => goesInto(n) === detail);

/** What a node goes into, however deep it lies. */
export function detailOf(tree: Tree, id: number): Detail | null {
  const holds = (node: LayerNode): boolean =>
    node.id === id || (node.kind === 'group' && node.layers.some(holds));
  const root = tree.find(holds);
  return root ? goesInto(root) : null;
}

/** Whether anything goes into the detail sheet. */
export const hasDetails = (tree: Tree): boolean => tree.some((n) => goesInto(n) !== null);
