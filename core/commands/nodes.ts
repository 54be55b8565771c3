import {
  goesInto,
  insertNodes,
  nodeSchema,
  nodesOf,
  replaceNode,
  requireNode,
  topmost,
  type Group,
  type LayerNode,
  type ProjectDocument,
} from '../document';
import { CoreError } from '../errors';
import { issueOf } from '../read-as';
import { NODE_DEFAULTS, type Layer, type MaskStep } from '../layers';
import { withNew, type Applied } from './command';

export const newGroup = (id: number, name: string, layers: readonly LayerNode[]): Group => ({
  ...NODE_DEFAULTS,
  mask: [],
  kind: 'group',
  id,
  name,
  isolated: false,
  detail: null,
  layers: [...layers],
});

export const newPaint = (id: number, name: string): Layer => ({
  ...NODE_DEFAULTS,
  mask: [],
  kind: 'paint',
  id,
  name,
});

/** A document with a node put into it. @param make the node, with an id of its own */
export const withNode = (
  document: ProjectDocument,
  make: (id: number) => LayerNode,
  into: number | null,
  at: number,
): Applied =>
  withNew(document, (id) => ({ layers: [...insertNodes(document.layers, [make(id)], { into, at })] }));

/** The nodes that were named, none that lies in another of them. @throws CoreError `layer-missing` */
export function allNodes(layers: readonly LayerNode[], ids: readonly number[]): LayerNode[] {
  for (const id of ids) requireNode(layers, id);
  return topmost(layers, new Set(ids));
}

/** A node with other settings. @throws CoreError `bad-argument` if one doesn't fit */
export function patched(node: LayerNode, patch: object): LayerNode {
  const parsed = nodeSchema.safeParse({ ...node, ...patch });
  if (parsed.success) return parsed.data;
  const issue = parsed.error.issues[0];
  if (issue?.code === 'unrecognized_keys') {
    throw new CoreError('bad-argument', `“${node.name}” has no setting “${issue.keys[0]}”.`);
  }
  const { where, says } = issueOf(parsed.error);
  throw new CoreError('bad-argument', `“${node.name}” can’t be changed so: ${where} ${says}.`, {
    cause: parsed.error,
  });
}

/** The tree that is left when some of it goes, with all that was said of what went. */
export function withoutGone(
  document: ProjectDocument,
  layers: readonly LayerNode[],
): Pick<ProjectDocument, 'layers' | 'bases'> {
  const left = new Set([...nodesOf(layers)].map(({ node }) => node.id));
  const gone = new Set(
    [...nodesOf(document.layers)].map(({ node }) => node.id).filter((id) => !left.has(id)),
  );
  return {
    layers: [...withoutSteps(layers, (step) => step.from === 'layer' && gone.has(step.layer))],
    bases: document.bases.filter(({ plane }) => left.has(plane >= 0 ? plane : -1 - plane)),
  };
}

/** One layer for all of the albedo; the detail sheet stays as it is. */
export const flattened = (
  document: ProjectDocument,
  layer: Layer,
): Pick<ProjectDocument, 'layers' | 'bases'> =>
  withoutGone(document, [layer, ...document.layers.filter((n) => goesInto(n) !== null)]);

/** The tree without some steps of its masks. */
export function withoutSteps(
  tree: readonly LayerNode[],
  isGone: (step: MaskStep) => boolean,
): readonly LayerNode[] {
  let next = tree;
  for (const { node } of nodesOf(tree)) {
    if (!node.mask.some(isGone)) continue;
    const mask = node.mask.filter((step) => !isGone(step));
    next = replaceNode(next, node.id, (n) => ({ ...n, mask }));
  }
  return next;
}

/** Names of nodes for a label. */
export function nodeNames({ layers }: ProjectDocument, ids: readonly number[]): string {
  return ids.length === 1 ? nodeName(layers, ids[0]!) : `${ids.length} layers`;
}

export function nodeName(layers: readonly LayerNode[], id: number): string {
  for (const { node } of nodesOf(layers)) if (node.id === id) return node.name;
  return 'layer';
}
