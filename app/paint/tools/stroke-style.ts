import {
  findNode,
  isPaintedMask,
  kindOf,
  localColorsIn,
  nodesOf,
  type GuardWish,
  type Layer,
  type LayerNode,
  type LocalColors,
  type ProjectDocument,
  type Region,
} from '../../../core/engine';
import { rgbToHex } from '../../../core/color';
import { CoreError } from '../../../core/errors';
import type { BrushedStyle } from '../../../core/paint';
import type { StrokeBegin } from '../../../workers';
import { useProject } from '../../project';
import { brushInHand, useUi, type EditTarget } from '../../shared/ui-store';

/** Why a stroke can't be made, and the layer that it could go to instead. */
export interface Refused {
  readonly refused: string;
  readonly instead: Layer | null;
}

/** Onto what a stroke would go, or why it can't. */
export function paintTarget(): EditTarget | Refused {
  const layers = useProject.getState().document?.layers ?? [];
  const { target } = useUi.getState();
  const node = target ? findNode(layers, target.layer) : undefined;
  const refuse = (refused: string): Refused => ({ refused, instead: nearestPaint(layers, node?.id) });
  if (!node) return refuse('Choose a paint layer in the build-up first, or add one.');
  if (!node.visible) return refuse(`“${node.name}” is hidden. Show it to paint on it.`);
  if (target?.channel === 'mask' && isPaintedMask(node.mask)) return { layer: node.id, channel: 'mask' };
  if (node.kind === 'group' || kindOf(node).form !== 'pixels') {
    return refuse(
      `“${node.name}” follows the form. Paint on its mask, or choose a paint layer in the build-up.`,
    );
  }
  if (node.lock === 'pixels') return refuse(`The pixels of “${node.name}” are locked.`);
  return { layer: node.id, channel: 'pixels' };
}

/** The next paint layer over a node that can be painted on, or else the next one under it. */
function nearestPaint(tree: readonly LayerNode[], id: number | undefined): Layer | null {
  const all = [...nodesOf(tree)].map(({ node }) => node);
  const at = all.findIndex((node) => node.id === id);
  const order = [...all.slice(at + 1), ...all.slice(0, Math.max(0, at)).reverse()];
  const found = order.find(
    (node) =>
      node.kind !== 'group' && kindOf(node).form === 'pixels' && node.visible && node.lock !== 'pixels',
  );
  return found && found.kind !== 'group' ? found : null;
}

/** A glaze covers so much of what the brush would. */
const GLAZE = 0.3;

const localColors = new WeakMap<ProjectDocument, LocalColors | null>();

/** The local colour of a triangle. @throws CoreError `bad-argument` if the model has none yet */
function localColorAt(face: number): string {
  const { document, mesh } = useProject.getState();
  let colors = document && localColors.get(document);
  if (document && mesh && colors === undefined) {
    colors = localColorsIn(document, mesh);
    localColors.set(document, colors);
  }
  if (!colors) {
    throw new CoreError(
      'bad-argument',
      'There is no local colour to glaze with yet. Give the part one in Block in, or switch “Glaze back” off.',
    );
  }
  const { rgb } = colors;
  const o = face * 3;
  return rgbToHex({ r: rgb[o]!, g: rgb[o + 1]!, b: rgb[o + 2]! });
}

/** The region that strokes are kept within, while it is there. */
export const guardRegion = (): Region | null =>
  useProject.getState().document?.regions.find((r) => r.id === useUi.getState().guardRegion) ?? null;

/** What holds a stroke that begins on a part. */
function guardOf(part: string): GuardWish | null {
  const region = guardRegion();
  const { guardPart } = useUi.getState();
  return guardPart || region ? { ...(guardPart && { part }), ...(region && { region: region.id }) } : null;
}

/**
 * @param part name of the part under the brush when the stroke begins
 * @param face the triangle there
 * @param seen how the picture was looked at
 */
export function strokeOn(
  { layer, channel }: EditTarget,
  part: string,
  face: number,
  seen: Pick<BrushedStyle, 'up' | 'eye'>,
): StrokeBegin {
  const ui = useUi.getState();
  const brush = brushInHand(ui);
  const glazes = ui.glazing && channel === 'pixels' && !brush.erase;
  // On a mask the brush reveals and the eraser hides.
  const onMask = channel === 'mask';
  return {
    layer,
    channel,
    guard: guardOf(part),
    style: {
      tool: 'brush',
      erase: !onMask && brush.erase,
      color: onMask
        ? ui.maskHides !== brush.erase
          ? '#000000'
          : '#ffffff'
        : glazes
          ? localColorAt(face)
          : ui.color,
      opacity: brush.opacity * (glazes ? GLAZE : 1),
      brush: brush.shape,
      seed: crypto.getRandomValues(new Uint32Array(1))[0]!,
      ...seen,
      nearSide: ui.guardNear,
    },
  };
}
