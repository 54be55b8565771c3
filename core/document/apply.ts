import { CoreError } from '../errors';
import { withLines } from '../ink';
import { NODE_DEFAULTS, withLocalColor, withSwatchColor, type Layer, type MaskStep } from '../layers';
import { patchedPlan, planWithoutRegion } from '../light';
import { freePlace } from './board';
import { checkDocument } from './check-document';
import type { SingleCommand } from './commands';
import {
  changeLayers,
  changeLevel,
  insertNodes,
  levelOf,
  nodesOf,
  placeOf,
  replaceNode,
  requireNode,
  topmost,
  withoutNodes,
} from './layer-tree';
import { layRecipe } from './lay-recipe';
import { lightsOf, patternsOf, withoutRegion } from './layer-links';
import { goesInto } from './detail-nodes';
import { changeRamps, rampsWithoutRegion } from './change-ramps';
import { nodeSchema, type Group, type LayerNode, type ProjectDocument } from './schema';

/** A document with a command done, and the ids that were given on the way, in order. */
export interface Applied {
  readonly document: ProjectDocument;
  readonly ids: readonly number[];
  /** Files that came with it, by the ids that they were given. */
  readonly files?: ReadonlyMap<number, Uint8Array>;
}

/**
 * The document after a command; pixels are the engine's business.
 *
 * @throws CoreError `layer-missing` if the command names a layer that isn't there, `bad-argument` or `document-invalid` if it
 * can't be done; the sentence says why
 */
export function applyToDocument(document: ProjectDocument, command: SingleCommand): Applied {
  const applied = change(document, command);
  // A node or a list that comes to hold more than can be opened again is refused here.
  if (applied.document !== document) checkDocument(applied.document);
  return applied;
}

function change(document: ProjectDocument, command: SingleCommand): Applied {
  const only = (patch: Partial<ProjectDocument>): Applied => ({
    document: { ...document, ...patch },
    ids: [],
  });
  const { layers, nextId } = document;
  switch (command.do) {
    case 'rename-project':
      return only({ name: command.name });
    case 'add-layer': {
      const { copyPixelsOf, into, at } = command;
      if (copyPixelsOf !== undefined) requireNode(layers, copyPixelsOf);
      return added(document, { ...command.layer, id: nextId }, into, at);
    }
    case 'put-picture': {
      const { onto, name, blend, opacity } = command;
      const look = { ...(blend && { blend }), ...(opacity !== undefined && { opacity }) };
      if (onto !== null) return only({ layers: [...replaceNode(layers, onto, (n) => patched(n, look))] });
      return added(
        document,
        { ...NODE_DEFAULTS, ...look, mask: [], kind: 'paint', id: nextId, name },
        null,
        layers.length,
      );
    }
    case 'lay-recipe':
      return layRecipe(document, command.recipe, command.parts ?? null, command);
    case 'add-group':
      return added(
        document,
        { ...newGroup(nextId, command.name, []), detail: command.detail ?? null },
        command.into,
        command.at,
      );
    case 'group-layers': {
      const chosen = allNodes(layers, command.layers);
      const { into, at } = placeOf(layers, chosen.at(-1)!.id);
      const ids = new Set(command.layers);
      const below = levelOf(layers, into)
        .slice(0, at + 1)
        .filter((n) => ids.has(n.id)).length;
      const group = newGroup(nextId, command.name, chosen);
      return {
        document: {
          ...document,
          layers: [...insertNodes(withoutNodes(layers, ids), [group], { into, at: at + 1 - below })],
          nextId: nextId + 1,
        },
        ids: [nextId],
      };
    }
    case 'ungroup': {
      const group = requireNode(layers, command.layer);
      if (group.kind !== 'group') {
        throw new CoreError('bad-argument', `“${group.name}” is not a group.`);
      }
      if (group.detail !== null) {
        throw new CoreError(
          'bad-argument',
          `“${group.name}” goes into the detail sheet; without the group its layers would lie on the albedo. Move them out of it one by one, or let the group go into the albedo first.`,
        );
      }
      const { into } = placeOf(layers, group.id);
      const next = changeLevel(layers, into, (level) =>
        level.flatMap((n) => (n.id === group.id ? [...group.layers] : [n])),
      );
      return only({ layers: [...withoutMaskSteps(next, layersGone(layers, next))] });
    }
    case 'remove-layers': {
      allNodes(layers, command.layers);
      const next = withoutNodes(layers, new Set(command.layers));
      return only({
        layers: [...withoutMaskSteps(next, layersGone(layers, next))],
        bases: basesOf(document, next),
      });
    }
    case 'duplicate-layers':
      return duplicated(document, command.layers);
    case 'patch-layer':
      return only({ layers: [...replaceNode(layers, command.layer, (n) => patched(n, command.patch))] });
    case 'move-layers': {
      const chosen = allNodes(layers, command.layers);
      const inside = new Set(chosen.flatMap((n) => [...nodesOf([n])].map(({ node }) => node.id)));
      if (command.into !== null && inside.has(command.into)) {
        throw new CoreError('bad-argument', 'A group can’t be put into itself.');
      }
      const rest = withoutNodes(layers, new Set(command.layers));
      return only({ layers: [...insertNodes(rest, chosen, { into: command.into, at: command.at })] });
    }
    case 'add-light': {
      const { name, plan } = command;
      return {
        document: {
          ...document,
          lights: [...document.lights, { id: nextId, name, plan }],
          nextId: nextId + 1,
        },
        ids: [nextId],
      };
    }
    case 'rename-light':
      return only({ lights: patchItem(document.lights, command.light, 'light', { name: command.name }) });
    case 'patch-light': {
      const { plan } = item(document.lights, command.light, 'light');
      const next = patchedPlan(plan, command.patch);
      return only({ lights: patchItem(document.lights, command.light, 'light', { plan: next }) });
    }
    case 'remove-light': {
      const light = item(document.lights, command.light, 'light');
      const user = [...nodesOf(layers)].find(({ node }) => lightsOf(node).includes(light.id));
      if (user) {
        throw new CoreError(
          'bad-argument',
          `“${light.name}” lights the layer “${user.node.name}”. Choose another light there first.`,
        );
      }
      return only({ lights: document.lights.filter((l) => l !== light) });
    }
    case 'add-swatches': {
      const swatches = command.swatches.map((s, i) => ({ ...s, id: nextId + i }));
      return {
        document: {
          ...document,
          palette: [...document.palette, ...swatches],
          nextId: nextId + swatches.length,
        },
        ids: swatches.map((s) => s.id),
      };
    }
    case 'patch-swatch': {
      const palette = patchItem(document.palette, command.swatch, 'swatch', command.patch);
      const { color } = command.patch;
      // What stands on the model in that swatch's colour follows it.
      return only(
        color === undefined
          ? { palette }
          : {
              palette,
              layers: changeLayers(layers, (layer) =>
                layer.kind === 'local' ? withSwatchColor(layer, command.swatch, color) : layer,
              ),
            },
      );
    }
    case 'remove-swatches':
      return only({ palette: document.palette.filter((s) => !command.swatches.includes(s.id)) });
    case 'move-swatch': {
      const swatch = item(document.palette, command.swatch, 'swatch');
      const rest = document.palette.filter((s) => s !== swatch);
      return only({ palette: rest.toSpliced(command.to, 0, swatch) });
    }
    case 'order-swatches': {
      const named = command.swatches.map((id) => item(document.palette, id, 'swatch'));
      return only({ palette: [...named, ...document.palette.filter((s) => !named.includes(s))] });
    }
    case 'add-reference':
      return {
        document: {
          ...document,
          references: [
            ...document.references,
            {
              ...command.reference,
              id: nextId,
              board: freePlace(document.references, command.reference),
              note: '',
              match: null,
            },
          ],
          nextId: nextId + 1,
        },
        ids: [nextId],
      };
    case 'patch-reference':
      return only({
        references: patchItem(document.references, command.reference, 'reference', command.patch),
      });
    case 'remove-reference': {
      const reference = item(document.references, command.reference, 'reference');
      return only({ references: document.references.filter((r) => r !== reference) });
    }
    case 'add-look':
      return {
        document: {
          ...document,
          looks: [...document.looks, { ...command.look, id: nextId }],
          nextId: nextId + 1,
        },
        ids: [nextId],
      };
    case 'rename-look':
      return only({ looks: patchItem(document.looks, command.look, 'look', { name: command.name }) });
    case 'remove-look': {
      const look = item(document.looks, command.look, 'look');
      return only({ looks: document.looks.filter((l) => l !== look) });
    }
    case 'add-pattern':
      return {
        document: {
          ...document,
          patterns: [...document.patterns, { ...command.pattern, id: nextId }],
          nextId: nextId + 1,
        },
        ids: [nextId],
      };
    case 'rename-pattern':
      return only({
        patterns: patchItem(document.patterns, command.pattern, 'pattern', { name: command.name }),
      });
    case 'remove-pattern': {
      const pattern = item(document.patterns, command.pattern, 'pattern');
      const user = [...nodesOf(layers)].find(({ node }) => patternsOf(node).includes(pattern.id));
      if (user) {
        throw new CoreError(
          'bad-argument',
          `“${pattern.name}” lies on the layer “${user.node.name}”. Choose another pattern there first.`,
        );
      }
      return only({ patterns: document.patterns.filter((p) => p !== pattern) });
    }
    case 'set-dense':
      return command.dense
        ? {
            document: { ...document, dense: { ...command.dense, id: nextId }, nextId: nextId + 1 },
            ids: [nextId],
          }
        : only({ dense: null });
    case 'patch-dense':
      if (!document.dense) {
        throw new CoreError('bad-argument', 'There is no denser model. Add one first.');
      }
      return only({ dense: { ...document.dense, distance: command.distance } });
    case 'add-camera':
      return {
        document: {
          ...document,
          cameras: [...document.cameras, { ...command.camera, id: nextId }],
          nextId: nextId + 1,
        },
        ids: [nextId],
      };
    case 'patch-camera':
      return only({ cameras: patchItem(document.cameras, command.camera, 'camera', command.patch) });
    case 'remove-camera': {
      const camera = item(document.cameras, command.camera, 'camera');
      return only({ cameras: document.cameras.filter((c) => c !== camera) });
    }
    case 'set-layout': {
      const { do: _do, ...changes } = command;
      return only(given(changes) ?? {});
    }
    case 'add-region':
      return {
        document: {
          ...document,
          regions: [...document.regions, { ...command.region, id: nextId }],
          nextId: nextId + 1,
        },
        ids: [nextId],
      };
    case 'color-faces': {
      const node = requireNode(layers, command.layer);
      if (node.kind !== 'local') {
        throw new CoreError(
          'bad-argument',
          `“${node.name}” holds no local colours. Choose a layer that does.`,
        );
      }
      const region = { ...command.region, id: nextId };
      const colors = withLocalColor(node, { region: nextId }, command.color, command.swatch);
      return {
        document: {
          ...document,
          regions: [...document.regions, region],
          layers: [...replaceNode(layers, node.id, () => ({ ...node, ...colors }))],
          nextId: nextId + 1,
        },
        ids: [nextId],
      };
    }
    case 'patch-region':
      return only({ regions: patchItem(document.regions, command.region, 'region', command.patch) });
    case 'remove-region': {
      const region = item(document.regions, command.region, 'region');
      const masked = withoutMaskSteps(layers, (s) => s.from === 'region' && s.region === region.id);
      return only({
        regions: document.regions.filter((r) => r !== region),
        layers: changeLayers(masked, (layer) => withoutRegion(layer, region.id)),
        lights: document.lights.map((light) => ({
          ...light,
          plan: planWithoutRegion(light.plan, region.id),
        })),
        ramps: rampsWithoutRegion(document.ramps, region.id),
      });
    }
    case 'rename-sheet': {
      const sheet = document.sheets[command.sheet];
      if (!sheet) throw new CoreError('bad-argument', 'That sheet is no longer there.');
      if (document.sheets.some((s) => s !== sheet && s.name === command.name)) {
        throw new CoreError(
          'bad-argument',
          `Another sheet is called “${command.name}” already. Choose another name.`,
        );
      }
      return only({ sheets: document.sheets.with(command.sheet, { ...sheet, name: command.name }) });
    }
    case 'merge-down':
      return only({
        layers: [...withoutNodes(layers, new Set([command.layer]))],
      });
    case 'merge-visible':
      return added(document, newPaint(nextId, command.name), null, layers.length);
    case 'flatten':
      return {
        document: { ...document, ...flattened(document, newPaint(nextId, command.name)), nextId: nextId + 1 },
        ids: [nextId],
      };
    case 'edit-ink': {
      const node = requireNode(layers, command.layer);
      if (node.kind !== 'ink') throw new CoreError('bad-argument', `“${node.name}” is not an ink layer.`);
      const { lines, ids } = withLines(node.lines, command.put, command.remove);
      return {
        document: {
          ...document,
          layers: [...replaceNode(layers, node.id, (n) => ({ ...n, lines }) as LayerNode)],
        },
        ids,
      };
    }
    case 'set-ramps':
    case 'remove-ramps':
    case 'seat':
    case 'seat-faces':
    case 'patch-seat':
    case 'remove-seats':
      return changeRamps(document, command);
    case 'edit-strokes':
    case 'stroke':
    case 'fill':
    case 'flood':
    case 'fill-along':
    case 'clear':
      return { document, ids: [] };
  }
}

const newGroup = (id: number, name: string, layers: readonly LayerNode[]): Group => ({
  ...NODE_DEFAULTS,
  mask: [],
  kind: 'group',
  id,
  name,
  isolated: false,
  detail: null,
  layers: [...layers],
});

const newPaint = (id: number, name: string): Layer => ({
  ...NODE_DEFAULTS,
  mask: [],
  kind: 'paint',
  id,
  name,
});

/** One layer for all of the albedo; the detail sheet stays as it is. */
function flattened(document: ProjectDocument, layer: Layer): Pick<ProjectDocument, 'layers' | 'bases'> {
  const layers = [layer, ...document.layers.filter((n) => goesInto(n) !== null)];
  return {
    layers: [...withoutMaskSteps(layers, layersGone(document.layers, layers))],
    bases: basesOf(document, layers),
  };
}

function added(document: ProjectDocument, node: LayerNode, into: number | null, at: number): Applied {
  const layers = [...insertNodes(document.layers, [node], { into, at })];
  return { document: { ...document, layers, nextId: document.nextId + 1 }, ids: [node.id] };
}

/** The nodes that were named, none that lies in another of them. @throws CoreError `layer-missing` */
function allNodes(layers: readonly LayerNode[], ids: readonly number[]): LayerNode[] {
  for (const id of ids) requireNode(layers, id);
  return topmost(layers, new Set(ids));
}

/** @throws CoreError `bad-argument` if a setting doesn't fit */
function patched(node: LayerNode, patch: object): LayerNode {
  const parsed = nodeSchema.safeParse({ ...node, ...patch });
  if (parsed.success) return parsed.data;
  const issue = parsed.error.issues[0];
  if (issue?.code === 'unrecognized_keys') {
    throw new CoreError('bad-argument', `“${node.name}” has no setting “${issue.keys[0]}”.`);
  }
  throw new CoreError(
    'bad-argument',
    `“${node.name}” can’t be changed so: ${issue?.path.join('.') ?? ''} ${issue?.message ?? ''}.`,
    { cause: parsed.error },
  );
}

function duplicated(document: ProjectDocument, wanted: readonly number[]): Applied {
  let { layers, nextId } = document;
  const copies = new Map<number, number>();
  for (const node of allNodes(layers, wanted)) {
    const copy = withNewIds(node, () => nextId++, copies);
    const { into, at } = placeOf(layers, node.id);
    layers = [
      ...insertNodes(layers, [{ ...copy, name: `${node.name} copy`.slice(0, 80) }], { into, at: at + 1 }),
    ];
  }
  // A mask made from a layer that was copied along is made from the copy.
  const fresh = new Set(copies.values());
  const follow = (level: readonly LayerNode[]): LayerNode[] =>
    level.map((node) => {
      const mask = !fresh.has(node.id)
        ? node.mask
        : node.mask.map((s) => (s.from === 'layer' ? { ...s, layer: copies.get(s.layer) ?? s.layer } : s));
      return node.kind === 'group' ? { ...node, mask, layers: follow(node.layers) } : { ...node, mask };
    });
  return { document: { ...document, layers: follow(layers), nextId }, ids: [...copies.values()] };
}

function withNewIds(node: LayerNode, next: () => number, copies: Map<number, number>): LayerNode {
  const id = next();
  copies.set(node.id, id);
  if (node.kind !== 'group') return { ...node, id };
  return { ...node, id, layers: node.layers.map((n) => withNewIds(n, next, copies)) };
}

/** Which mask steps name a layer that has gone from one tree to the next. */
function layersGone(before: readonly LayerNode[], after: readonly LayerNode[]): (step: MaskStep) => boolean {
  const left = new Set([...nodesOf(after)].map(({ node }) => node.id));
  const gone = new Set([...nodesOf(before)].map(({ node }) => node.id).filter((id) => !left.has(id)));
  return (step) => step.from === 'layer' && gone.has(step.layer);
}

function withoutMaskSteps(
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

/** What is said of planes of nodes that are there. */
function basesOf({ bases }: ProjectDocument, layers: readonly LayerNode[]): ProjectDocument['bases'] {
  const there = new Set([...nodesOf(layers)].map(({ node }) => node.id));
  return bases.filter(({ plane }) => there.has(plane >= 0 ? plane : -1 - plane));
}

interface Item {
  readonly id: number;
}

function item<T extends Item>(list: readonly T[], id: number, what: string): T {
  const found = list.find((i) => i.id === id);
  if (!found) throw new CoreError('bad-argument', `That ${what} is no longer there.`);
  return found;
}

function patchItem<T extends Item>(list: readonly T[], id: number, what: string, patch: object): T[] {
  item(list, id, what);
  return list.map((i) => (i.id === id ? { ...i, ...given(patch) } : i));
}

/** Without what is undefined. */
function given<T extends object>(
  patch: T | undefined,
): { [K in keyof T]: Exclude<T[K], undefined> } | undefined {
  if (!patch) return undefined;
  return Object.fromEntries(Object.entries(patch).filter(([, v]) => v !== undefined)) as never;
}
