import { base64ToBytes } from '../base64';
import { kindOf, NODE_DEFAULTS, withNumber, type MaskStep } from '../layers';
import { MAX_LIGHTS } from './limits';
import { albedoNodes, goesInto } from './detail-nodes';
import { changeNodes, insertNodes, type NodePlace, isGroup } from './layer-tree';
import { patternOf, type RecipePattern } from './recipe';
import type { Layable } from './roles';
import type { Group, LayerNode, ProjectDocument, ProjectLight } from './schema';

/**
 * A recipe's layers in a project, as a group under its name. Layers and lights get ids of their own; a light that the project has
 * already is used again.
 *
 * @param parts that it is kept to; null: it lies over the whole model
 */
export function layRecipe(
  document: ProjectDocument,
  recipe: Layable & { readonly name: string; readonly patterns: readonly RecipePattern[] },
  parts: readonly string[] | null,
  place: NodePlace,
): {
  readonly document: ProjectDocument;
  readonly ids: readonly number[];
  readonly files: ReadonlyMap<number, Uint8Array>;
} {
  let { nextId } = document;
  const lights = [...document.lights];
  const lightIds = new Map<number, number>();
  for (const light of recipe.lights) {
    const same = lights.find((l) => samePlan(l, light));
    if (same) lightIds.set(light.id, same.id);
    else if (lights.length < MAX_LIGHTS) {
      lights.push({ ...light, id: nextId });
      lightIds.set(light.id, nextId++);
    } else lightIds.set(light.id, lights[0]!.id);
  }
  const patterns = [...document.patterns];
  const patternIds = new Map<number, number>();
  const files = new Map<number, Uint8Array>();
  for (const recipePattern of recipe.patterns) {
    const id = nextId++;
    patterns.push({ ...patternOf(recipePattern), id });
    patternIds.set(recipePattern.id, id);
    files.set(id, base64ToBytes(recipePattern.png));
  }
  const group = nextId++;
  const ids = new Map<number, number>();
  const renumber = (level: readonly LayerNode[]): void => {
    for (const node of level) {
      ids.set(node.id, nextId++);
      if (isGroup(node)) renumber(node.layers);
    }
  };
  renumber(recipe.layers);
  const step = (s: MaskStep): MaskStep =>
    s.from === 'layer'
      ? { ...s, layer: ids.get(s.layer) ?? s.layer }
      : s.from === 'pattern'
        ? { ...s, tiled: withNumber(s.tiled, patternIds) }
        : s;
  const layers = changeNodes(recipe.layers, (node): LayerNode => {
    const own = { ...node, id: ids.get(node.id)!, mask: node.mask.map(step) };
    if (isGroup(own)) return own;
    const kind = kindOf(own);
    if (kind.form !== 'derived') return own;
    const lit = kind.withLights ? kind.withLights(own, lightIds) : own;
    return kind.withPatterns ? kind.withPatterns(lit, patternIds) : lit;
  });
  const mask: MaskStep[] = parts
    ? [
        {
          from: 'parts',
          join: 'multiply',
          levels: { low: 0, high: 1, gamma: 1 },
          invert: false,
          parts: [...parts],
        },
      ]
    : [];
  // What goes into the detail sheet stands by itself, kept to the same parts.
  const details = layers
    .filter((n) => goesInto(n) !== null)
    .map((n) => ({ ...n, mask: [...n.mask, ...mask] }));
  const laid: Group = {
    ...NODE_DEFAULTS,
    kind: 'group',
    id: group,
    name: recipe.name.slice(0, 80),
    mask,
    isolated: parts !== null,
    detail: null,
    layers: [...albedoNodes(layers)],
  };
  return {
    document: {
      ...document,
      lights,
      patterns,
      layers: [...insertNodes(document.layers, [laid], place), ...details],
      nextId,
    },
    ids: [group],
    files,
  };
}

const samePlan = (a: ProjectLight, b: ProjectLight): boolean =>
  JSON.stringify(a.plan) === JSON.stringify(b.plan);
