import { isGroup } from './layer-tree';
import type { Detail } from './details';
import type { LayerNode } from './schema';

type Tree = readonly LayerNode[];

/** What a node of the build-up itself goes into; null: the albedo. */
export const goesInto = (node: LayerNode): Detail | null => (isGroup(node) ? node.detail : null);

/** The nodes of which the albedo consists. */
export const albedoNodes = (tree: Tree): Tree =>
  tree.some((n) => goesInto(n) !== null) ? tree.filter((n) => goesInto(n) === null) : tree;

/** The nodes of which a mask of the detail sheet consists; null: those of the albedo. */
export const nodesFor = (tree: Tree, detail: Detail | null): Tree =>
  detail === null ? albedoNodes(tree) : tree.filter((n) => goesInto(n) === detail);

/** What a node goes into, however deep it lies. */
export function detailOf(tree: Tree, id: number): Detail | null {
  const holds = (node: LayerNode): boolean => node.id === id || (isGroup(node) && node.layers.some(holds));
  const root = tree.find(holds);
  return root ? goesInto(root) : null;
}

/** Whether anything goes into the detail sheet. */
export const hasDetails = (tree: Tree): boolean => tree.some((n) => goesInto(n) !== null);
