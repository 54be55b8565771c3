import { followNames, followTargets, kindOf, type Layer, type MaskStep } from '../layers';
import { renamedPlan } from '../light';
import type { Placing } from '../paint';
import { changeNodes } from './layer-tree';
import type { LayerNode, ProjectDocument } from './schema';

/** The light plans that a node is made from. */
export function lightsOf(node: LayerNode): readonly number[] {
  if (node.kind === 'group') return [];
  const kind = kindOf(node);
  return kind.form === 'derived' ? (kind.lights?.(node) ?? []) : [];
}

/** The patterns that a node is made from, those of its mask among them. */
export function patternsOf(node: LayerNode): readonly number[] {
  const masked = node.mask.flatMap((step) => (step.from === 'pattern' ? [step.tiled.pattern] : []));
  if (node.kind === 'group') return masked;
  const kind = kindOf(node);
  return [...masked, ...(kind.form === 'derived' ? (kind.patterns?.(node) ?? []) : [])];
}

/** The regions that a node is made from, those of its mask among them. */
export function regionsOf(node: LayerNode): readonly number[] {
  const masked = node.mask.flatMap((step) => (step.from === 'region' ? [step.region] : []));
  if (node.kind === 'group') return masked;
  const kind = kindOf(node);
  return [...masked, ...(kind.form === 'derived' ? (kind.regions?.(node) ?? []) : [])];
}

/** A layer without what names a region. */
export function withoutRegion(layer: Layer, region: number): Layer {
  const kind = kindOf(layer);
  const isNamed = kind.form === 'derived' && kind.regions?.(layer).includes(region);
  return isNamed && kind.withoutRegion ? kind.withoutRegion(layer, region) : layer;
}

/** A document when parts are called otherwise: what holds for parts follows them. @param renamed what they were called, and are */
export function withRenamedParts(
  document: ProjectDocument,
  renamed: readonly (readonly [was: string, is: string])[],
): ProjectDocument {
  if (renamed.length === 0) return document;
  const names = new Map(renamed);
  const step = (s: MaskStep): MaskStep =>
    s.from === 'parts' ? { ...s, parts: [...new Set(s.parts.map((name) => names.get(name) ?? name))] } : s;
  return {
    ...document,
    layers: [
      ...changeNodes(document.layers, (node) => {
        const mask = node.mask.some((s) => s.from === 'parts') ? node.mask.map(step) : node.mask;
        const masked = mask === node.mask ? node : { ...node, mask };
        if (masked.kind === 'group') return masked;
        const kind = kindOf(masked);
        return kind.form === 'derived' && kind.renamed ? kind.renamed(masked, names) : masked;
      }),
    ],
    lights: document.lights.map((light) => ({ ...light, plan: renamedPlan(light.plan, names, followNames) })),
    weights: followNames(document.weights, names),
    ramps: document.ramps && { ...document.ramps, seats: followTargets(document.ramps.seats, names) },
  };
}

/** A document when the model is moved, turned or scaled: what lies at places of the model goes with it. */
export function withMovedLayers(document: ProjectDocument, placing: Placing | null): ProjectDocument {
  if (!placing) return document;
  const layers = changeNodes(document.layers, (node) => {
    if (node.kind === 'group') return node;
    const kind = kindOf(node);
    return kind.form === 'derived' && kind.moved ? kind.moved(node, placing) : node;
  });
  return { ...document, layers: [...layers] };
}
