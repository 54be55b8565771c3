import { isPaintedMask, kindOf, planeOf } from '../layers';
import { nodesOf, isGroup } from './layer-tree';
import type { ProjectDocument } from './schema';

/** Planes that a document's layers and painted masks have. */
export function planesOf({ layers }: Pick<ProjectDocument, 'layers'>): number[] {
  return [...nodesOf(layers)].flatMap(({ node }) => [
    ...(!isGroup(node) && kindOf(node).form === 'pixels' ? [planeOf(node.id)] : []),
    ...(isPaintedMask(node.mask) ? [planeOf(node.id, 'mask')] : []),
  ]);
}

/** Those that are no more. */
export function planesGone(before: ProjectDocument, after: ProjectDocument): number[] {
  const left = new Set(planesOf(after));
  return planesOf(before).filter((plane) => !left.has(plane));
}
