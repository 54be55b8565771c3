import { isGroup } from './layer-tree';
import { kindOf, type Layer } from '../layers';
import type { LayerNode } from './schema';

/** The light plans that a node is made from. */
export function lightsOf(node: LayerNode): readonly number[] {
  if (isGroup(node)) return [];
  const kind = kindOf(node);
  return kind.form === 'derived' ? (kind.lights?.(node) ?? []) : [];
}

/** The patterns that a node is made from, those of its mask among them. */
export function patternsOf(node: LayerNode): readonly number[] {
  const masked = node.mask.flatMap((step) => (step.from === 'pattern' ? [step.tiled.pattern] : []));
  if (isGroup(node)) return masked;
  const kind = kindOf(node);
  return [...masked, ...(kind.form === 'derived' ? (kind.patterns?.(node) ?? []) : [])];
}

/** The regions that a node is made from, those of its mask among them. */
export function regionsOf(node: LayerNode): readonly number[] {
  const masked = node.mask.flatMap((step) => (step.from === 'region' ? [step.region] : []));
  if (isGroup(node)) return masked;
  const kind = kindOf(node);
  return [...masked, ...(kind.form === 'derived' ? (kind.regions?.(node) ?? []) : [])];
}

/** A layer without what names a region. */
export function withoutRegion(layer: Layer, region: number): Layer {
  const kind = kindOf(layer);
  const isNamed = kind.form === 'derived' && kind.regions?.(layer).includes(region);
  return isNamed && kind.withoutRegion ? kind.withoutRegion(layer, region) : layer;
}
