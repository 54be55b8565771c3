import type { CheckedCommand } from './commands';
import { findNode } from './layer-tree';
import type { StrokeWish, ToolName } from '../paint';
import type { ProjectDocument } from './schema';

/** What a stroke of each tool is called. */
const STROKES: Readonly<Record<Exclude<ToolName, 'tone'>, string>> = {
  brush: 'Paint stroke',
  soften: 'Soften',
  smear: 'Smear',
  copy: 'Copy from another place',
  through: 'Paint through a picture',
  fill: 'Fill an area',
};

function strokeLabel(stroke: StrokeWish): string {
  if (stroke.tool !== 'tone') return STROKES[stroke.tool];
  return stroke.lightness < 0 ? 'Deepen' : 'Lift';
}

/** What a step is called where it can be undone. */
export function commandLabel(command: CheckedCommand, before: ProjectDocument): string {
  const nameOf = (layer: number): string => findNode(before.layers, layer)?.name ?? 'layer';
  const namesOf = (layers: readonly number[]): string =>
    layers.length === 1 ? nameOf(layers[0]!) : `${layers.length} layers`;
  switch (command.do) {
    case 'several':
      return command.label;
    case 'rename-project':
      return 'Rename project';
    case 'add-layer':
      return `Add ${command.layer.name}`;
    case 'lay-recipe':
      return `Lay ${command.recipe.name}`;
    case 'add-group':
      return `Add ${command.name}`;
    case 'group-layers':
      return `Group ${namesOf(command.layers)}`;
    case 'ungroup':
      return `Ungroup ${nameOf(command.layer)}`;
    case 'remove-layers':
      return `Remove ${namesOf(command.layers)}`;
    case 'duplicate-layers':
      return `Duplicate ${namesOf(command.layers)}`;
    case 'patch-layer':
      return `Change ${nameOf(command.layer)}`;
    case 'move-layers':
      return `Move ${namesOf(command.layers)}`;
    case 'add-light':
    case 'rename-light':
    case 'patch-light':
    case 'remove-light':
      return 'Change the light';
    case 'set-ramps':
    case 'remove-ramps':
      return 'Change the ramp sheet';
    case 'seat':
    case 'seat-faces':
      return 'Put on a ramp';
    case 'patch-seat':
      return 'Change a run on a ramp';
    case 'remove-seats':
      return 'Remove from the ramps';
    case 'add-swatches':
    case 'patch-swatch':
    case 'remove-swatches':
    case 'move-swatch':
    case 'order-swatches':
      return 'Change the palette';
    case 'add-camera':
    case 'patch-camera':
    case 'remove-camera':
      return 'Change the cameras';
    case 'add-look':
      return `Keep the look “${command.look.name}”`;
    case 'rename-look':
    case 'remove-look':
      return 'Change the looks';
    case 'add-pattern':
      return `Add ${command.pattern.name}`;
    case 'rename-pattern':
    case 'remove-pattern':
      return 'Change the patterns';
    case 'set-dense':
    case 'patch-dense':
      return 'Change the denser model';
    case 'add-reference':
    case 'patch-reference':
    case 'remove-reference':
      return 'Change the references';
    case 'set-layout':
      if (command.seams) return 'Change the seams';
      if (command.seamWishes) return 'Change where seams are wanted';
      if (command.seamPoints) return 'Let go of seams';
      if (command.paintEdges) return 'Change paint edges';
      return command.weights ? 'Change the weight of parts' : 'Pin islands';
    case 'color-faces':
      return `Colour ${command.region.name}`;
    case 'add-region':
    case 'patch-region':
    case 'remove-region':
      return 'Change the regions';
    case 'rename-sheet':
      return 'Rename a sheet';
    case 'stroke': {
      const { channel, stroke } = command;
      if (channel === 'mask') return `Paint on the mask of ${nameOf(command.layer)}`;
      return 'erase' in stroke && stroke.erase ? 'Erase' : strokeLabel(stroke);
    }
    case 'edit-strokes': {
      const many = command.strokes.length === 1 ? 'a stroke' : `${command.strokes.length} strokes`;
      return command.change === 'remove' ? `Remove ${many}` : `Change ${many}`;
    }
    case 'edit-ink': {
      const fresh = command.put.filter((line) => line.id === null).length;
      const many = (count: number): string => (count === 1 ? 'a line' : `${count} lines`);
      if (fresh > 0 && fresh === command.put.length && command.remove.length === 0)
        return `Draw ${many(fresh)}`;
      return command.put.length === 0
        ? `Remove ${many(command.remove.length)}`
        : `Change ${many(command.put.length)}`;
    }
    case 'fill':
      return `Fill ${nameOf(command.layer)}`;
    case 'flood':
      return `Flood ${nameOf(command.layer)}`;
    case 'fill-along':
      return `Fill ${nameOf(command.layer)} from ${nameOf(command.from)}`;
    case 'clear':
      return `Clear ${nameOf(command.layer)}`;
    case 'put-picture':
      return command.onto === null
        ? `Add “${command.name}” from a file`
        : `Read ${nameOf(command.onto)} again`;
    case 'merge-down':
      return `Merge ${nameOf(command.layer)} down`;
    case 'merge-visible':
      return 'Merge what shows';
    case 'flatten':
      return 'Flatten';
  }
}
