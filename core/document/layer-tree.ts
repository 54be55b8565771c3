import { CoreError } from '../errors';
import { kindOf, type Layer, type MaskStep } from '../layers';
import type { Group, LayerNode } from './schema';

type Tree = readonly LayerNode[];

/** Where a node stands: in which group (null: the build-up itself), at which place from the ground. */
export interface NodePlace {
  readonly into: number | null;
  readonly at: number;
}

export const isGroup = (node: LayerNode): node is Group => node.kind === 'group';

/** Whether it changes what lies under it: it has no shape of its own to clip to. */
export const isChange = (node: LayerNode): boolean => !isGroup(node) && kindOf(node).form === 'change';

/** Whether it is nothing but its mask. */
export function isBoundless(node: LayerNode): boolean {
  const kind = isGroup(node) ? null : kindOf(node);
  return kind?.form === 'derived' && kind.boundless;
}

/** A node and those that are clipped to it. */
export interface ClipRun {
  readonly base: LayerNode;
  readonly clipped: readonly LayerNode[];
}

/** A level in runs, from the ground up; a change has no shape of its own to clip to. */
export function clipRuns(level: Tree): ClipRun[] {
  const out: ClipRun[] = [];
  for (let i = 0; i < level.length;) {
    const base = level[i]!;
    let end = i + 1;
    while (!isChange(base) && end < level.length && level[end]!.clip) end++;
    out.push({ base, clipped: level.slice(i + 1, end) });
    i = end;
  }
  return out;
}

/** Every node from the ground up, a group before what is in it. */
export function* nodesOf(tree: Tree, depth = 0): Iterable<{ node: LayerNode; depth: number }> {
  for (const node of tree) {
    yield { node, depth };
    if (isGroup(node)) yield* nodesOf(node.layers, depth + 1);
  }
}

/** The layers that are no groups, from the ground up. */
export function layersOf(tree: Tree): Layer[] {
  return [...nodesOf(tree)].flatMap(({ node }) => (isGroup(node) ? [] : [node]));
}

/** The node with this id, however deep it lies; undefined if there is none. */
export function findNode(tree: Tree, id: number): LayerNode | undefined {
  for (const { node } of nodesOf(tree)) if (node.id === id) return node;
  return undefined;
}

/** @throws CoreError `layer-missing` */
export function requireNode(tree: Tree, id: number): LayerNode {
  const node = findNode(tree, id);
  if (!node) throw new CoreError('layer-missing', 'That layer is no longer there. Choose another one.');
  return node;
}

/** @throws CoreError `layer-missing` */
export function placeOf(tree: Tree, id: number): NodePlace {
  const search = (level: Tree, into: number | null): NodePlace | null => {
    const at = level.findIndex((n) => n.id === id);
    if (at >= 0) return { into, at };
    for (const node of level) {
      const found = isGroup(node) ? search(node.layers, node.id) : null;
      if (found) return found;
    }
    return null;
  };
  const place = search(tree, null);
  if (!place) throw new CoreError('layer-missing', 'That layer is no longer there. Choose another one.');
  return place;
}

/** The nodes that stand beside one another in a group, or in the build-up itself. @throws CoreError `layer-missing` */
export function levelOf(tree: Tree, into: number | null): Tree {
  if (into === null) return tree;
  const group = requireNode(tree, into);
  if (!isGroup(group)) {
    throw new CoreError(
      'layer-missing',
      `“${group.name}” is not a group. Choose a group to put layers into.`,
    );
  }
  return group.layers;
}

/** The tree with one level changed; all that isn't concerned stays the same object. */
export function changeLevel(tree: Tree, into: number | null, change: (level: Tree) => Tree): Tree {
  if (into === null) return change(tree);
  levelOf(tree, into);
  const visit = (level: Tree): Tree => {
    let changed = false;
    const next = level.map((node): LayerNode => {
      if (!isGroup(node)) return node;
      const layers = node.id === into ? change(node.layers) : visit(node.layers);
      if (layers === node.layers) return node;
      changed = true;
      return { ...node, layers: [...layers] } as Group;
    });
    return changed ? next : level;
  };
  return visit(tree);
}

/** The tree with one node replaced. */
export function replaceNode(tree: Tree, id: number, change: (node: LayerNode) => LayerNode): Tree {
  const { into } = placeOf(tree, id);
  return changeLevel(tree, into, (level) => level.map((n) => (n.id === id ? change(n) : n)));
}

/** The tree with a change made to every node, before what is in it; what stays the same object hasn't changed. */
export function changeNodes(tree: Tree, change: (node: LayerNode) => LayerNode): Tree {
  let changed = false;
  const next = tree.map((node): LayerNode => {
    let after = change(node);
    if (isGroup(after)) {
      const layers = changeNodes(after.layers, change);
      if (layers !== after.layers) after = { ...after, layers: [...layers] };
    }
    if (after !== node) changed = true;
    return after;
  });
  return changed ? next : tree;
}

/** The same for the layers that are no groups. */
export const changeLayers = (tree: Tree, change: (layer: Layer) => Layer): LayerNode[] => [
  ...changeNodes(tree, (node) => (isGroup(node) ? node : change(node))),
];

/** The tree with some nodes inserted; a place beyond the last one is above the last one. */
export function insertNodes(tree: Tree, nodes: Tree, { into, at }: NodePlace): Tree {
  return changeLevel(tree, into, (level) => [...level.slice(0, at), ...nodes, ...level.slice(at)]);
}

/** The tree without some nodes and all that is in them. */
export function withoutNodes(tree: Tree, ids: ReadonlySet<number>): Tree {
  const visit = (level: Tree): Tree => {
    const kept = level.filter((n) => !ids.has(n.id));
    const next = kept.map((n): LayerNode => {
      if (!isGroup(n)) return n;
      const layers = visit(n.layers);
      return layers === n.layers ? n : ({ ...n, layers: [...layers] } as Group);
    });
    return kept.length === level.length && next.every((n, i) => n === level[i]) ? level : next;
  };
  return visit(tree);
}

/** Those among some nodes that are in no other of them, from the ground up. */
export function topmost(tree: Tree, ids: ReadonlySet<number>): LayerNode[] {
  return tree.flatMap((node) => {
    if (ids.has(node.id)) return [node];
    return isGroup(node) ? topmost(node.layers, ids) : [];
  });
}

/** The masks of nodes, by id. */
export function masksOf(tree: Tree): Map<number, readonly MaskStep[]> {
  return new Map([...nodesOf(tree)].map(({ node }) => [node.id, node.mask]));
}
