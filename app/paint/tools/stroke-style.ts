import { findNode, kindOf, isPaintedMask } from '../../../core/engine';
import type { StrokeBegin } from '../../../workers';
import { useProject } from '../../project';
import { brushInHand, useUi, type EditTarget } from '../../shared/ui-store';

/** Onto what a stroke would go, or why it can't. */
export function paintTarget(): EditTarget | { readonly refused: string } {
  const { document } = useProject.getState();
  const { target } = useUi.getState();
  const node = document && target ? findNode(document.layers, target.layer) : undefined;
  if (!node) return { refused: 'Choose a paint layer in the build-up first, or add one.' };
  if (!node.visible) return { refused: `“${node.name}” is hidden. Show it to paint on it.` };
  if (target?.channel === 'mask' && isPaintedMask(node.mask)) return { layer: node.id, channel: 'mask' };
  if (node.kind === 'group' || kindOf(node).form !== 'pixels') {
    return {
      refused: `“${node.name}” follows the form. Paint on its mask, or choose a paint layer in the build-up.`,
    };
  }
  if (node.lock === 'pixels') return { refused: `The pixels of “${node.name}” are locked.` };
  return { layer: node.id, channel: 'pixels' };
}

/** @param part name of the part under the brush when the stroke begins */
export function strokeOn({ layer, channel }: EditTarget, part: string): StrokeBegin {
  const ui = useUi.getState();
  const brush = brushInHand(ui);
  // On a mask the brush reveals and the eraser hides.
  const onMask = channel === 'mask';
  return {
    layer,
    channel,
    guard: ui.guardPart ? { part } : null,
    style: {
      tool: 'brush',
      erase: !onMask && brush.erase,
      color: onMask ? (ui.maskHides !== brush.erase ? '#000000' : '#ffffff') : ui.color,
      opacity: brush.opacity,
      edge: brush.edge,
      spacing: brush.spacing,
      pressureSize: ui.pressureSize,
      pressureOpacity: ui.pressureOpacity,
      nearSide: ui.guardNear,
    },
  };
}
