import { z } from 'zod';
import { CoreError } from '../errors';
import { lightPlan } from '../light';
import { strokeSchema } from '../paint';
import {
  documentSchema,
  layerSchema,
  referenceSchema,
  regionSchema,
  sheetSchema,
  swatchSchema,
  type Layer,
  type ProjectDocument,
} from './document';

const id = z.int().nonnegative();

/** Everything that can be done to a project. The interface, the tests and the command line all speak these. */
export const commandSchema = z.discriminatedUnion('do', [
  z.strictObject({ do: z.literal('rename-project'), name: documentSchema.shape.name }),
  /** The layer's id is given by the document. `copyPixelsOf`: a paint layer whose pixels the new one begins with. */
  z.strictObject({
    do: z.literal('add-layer'),
    layer: layerSchema,
    at: z.int().nonnegative(),
    copyPixelsOf: id.optional(),
  }),
  z.strictObject({ do: z.literal('remove-layer'), layer: id }),
  /** Replaces a layer by one of the same id and kind. */
  z.strictObject({ do: z.literal('change-layer'), layer: layerSchema }),
  z.strictObject({ do: z.literal('move-layer'), layer: id, to: z.int().nonnegative() }),
  z.strictObject({ do: z.literal('set-light'), light: lightPlan }),
  z.strictObject({ do: z.literal('set-palette'), palette: z.array(swatchSchema) }),
  z.strictObject({ do: z.literal('set-references'), references: z.array(referenceSchema) }),
  z.strictObject({
    do: z.literal('set-layout'),
    seams: documentSchema.shape.seams.unwrap().optional(),
    paintEdges: documentSchema.shape.paintEdges.unwrap().optional(),
    weights: documentSchema.shape.weights.unwrap().optional(),
    pins: documentSchema.shape.pins.unwrap().optional(),
  }),
  /** Layers whose mask is a region that is no longer there cover the whole model again. */
  z.strictObject({ do: z.literal('set-regions'), regions: z.array(regionSchema) }),
  z.strictObject({ do: z.literal('rename-sheet'), sheet: id, name: sheetSchema.shape.name }),
  /** Recorded when the model was changed by `Engine.changeModel`; it can't be applied by itself. */
  z.strictObject({ do: z.literal('change-model'), label: z.string().min(1).max(120) }),
  z.strictObject({ do: z.literal('stroke'), layer: id, stroke: strokeSchema }),
]);

export type Command = z.infer<typeof commandSchema>;

/** What a step is called where it can be undone. */
export function commandLabel(command: Command, before: ProjectDocument): string {
  const nameOf = (layer: number): string => before.layers.find((l) => l.id === layer)?.name ?? 'layer';
  switch (command.do) {
    case 'rename-project':
      return 'Rename project';
    case 'add-layer':
      return `Add ${command.layer.name}`;
    case 'remove-layer':
      return `Remove ${nameOf(command.layer)}`;
    case 'change-layer':
      return `Change ${nameOf(command.layer.id)}`;
    case 'move-layer':
      return `Move ${nameOf(command.layer)}`;
    case 'set-light':
      return 'Change the light';
    case 'set-palette':
      return 'Change the palette';
    case 'set-references':
      return 'Change the references';
    case 'set-layout':
      if (command.seams) return 'Change the seams';
      if (command.paintEdges) return 'Change paint edges';
      return command.weights ? 'Change the weight of parts' : 'Pin islands';
    case 'set-regions':
      return 'Change the regions';
    case 'rename-sheet':
      return 'Rename a sheet';
    case 'change-model':
      return command.label;
    case 'stroke':
      return command.stroke.erase ? 'Erase' : 'Paint stroke';
  }
}

/**
 * The document after a command; pixels are the engine's business.
 *
 * @throws CoreError `layer-missing` if the command names a layer that isn't there, `bad-argument` if kinds don't match
 */
export function applyToDocument(document: ProjectDocument, command: Command): ProjectDocument {
  switch (command.do) {
    case 'rename-project':
      return { ...document, name: command.name };
    case 'add-layer': {
      if (command.copyPixelsOf !== undefined) layerIndex(document, command.copyPixelsOf);
      const layers = [...document.layers];
      const layer: Layer = { ...command.layer, id: document.nextId };
      layers.splice(Math.min(command.at, layers.length), 0, layer);
      return { ...document, layers, nextId: document.nextId + 1 };
    }
    case 'remove-layer': {
      layerIndex(document, command.layer);
      return { ...document, layers: document.layers.filter((l) => l.id !== command.layer) };
    }
    case 'change-layer': {
      const index = layerIndex(document, command.layer.id);
      if (document.layers[index]!.kind !== command.layer.kind) {
        throw new CoreError('bad-argument', 'A layer keeps its kind; add another layer instead.');
      }
      return { ...document, layers: document.layers.with(index, command.layer) };
    }
    case 'move-layer': {
      const index = layerIndex(document, command.layer);
      const layers = [...document.layers];
      const [moved] = layers.splice(index, 1);
      layers.splice(Math.min(command.to, layers.length), 0, moved!);
      return { ...document, layers };
    }
    case 'set-light':
      return { ...document, light: command.light };
    case 'set-palette':
      return { ...document, palette: command.palette, nextId: nextIdFor(document, command.palette) };
    case 'set-references':
      return { ...document, references: command.references, nextId: nextIdFor(document, command.references) };
    case 'set-layout': {
      const { do: _do, ...changes } = command;
      const given = Object.entries(changes).filter(([, value]) => value !== undefined);
      return { ...document, ...Object.fromEntries(given) };
    }
    case 'set-regions': {
      const there = new Set(command.regions.map((r) => r.id));
      const layers = document.layers.map((layer) => {
        if (layer.region === undefined || there.has(layer.region)) return layer;
        const { region: _gone, ...rest } = layer;
        return rest;
      });
      return { ...document, layers, regions: command.regions, nextId: nextIdFor(document, command.regions) };
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
      return { ...document, sheets: document.sheets.with(command.sheet, { ...sheet, name: command.name }) };
    }
    case 'change-model':
      throw new CoreError(
        'bad-argument',
        'A model is changed together with its paint; that can’t be done by a command.',
      );
    case 'stroke': {
      const layer = document.layers[layerIndex(document, command.layer)]!;
      if (layer.kind !== 'paint') {
        throw new CoreError(
          'bad-argument',
          `“${layer.name}” is not a paint layer. Choose or add one to paint on.`,
        );
      }
      return document;
    }
  }
}

const nextIdFor = (document: ProjectDocument, items: readonly { id: number }[]): number =>
  Math.max(document.nextId, ...items.map((item) => item.id + 1));

/** @throws CoreError `layer-missing` */
export function layerIndex(document: ProjectDocument, layer: number): number {
  const index = document.layers.findIndex((l) => l.id === layer);
  if (index < 0) throw new CoreError('layer-missing', 'That layer is no longer there. Choose another one.');
  return index;
}
