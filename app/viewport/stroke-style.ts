import type { Layer } from '../../core/engine';
import type { StrokeStyle } from '../../core/paint';
import { useProject } from '../shared/project-store';
import { brushInHand, useUi } from '../shared/ui-store';

/** The layer that a stroke goes to: the chosen one, if it is a paint layer that shows. */
export function targetLayer(): Layer | null {
  const { document } = useProject.getState();
  const { selectedLayer } = useUi.getState();
  const layer = document?.layers.find((l) => l.id === selectedLayer);
  return layer?.kind === 'paint' && layer.visible ? layer : null;
}

/** @param part name of the part under the brush when the stroke begins */
export function strokeStyle(part: string): StrokeStyle {
  const ui = useUi.getState();
  const brush = brushInHand(ui);
  return {
    erase: brush.erase,
    color: ui.color,
    opacity: brush.opacity,
    edge: brush.edge,
    spacing: brush.spacing,
    pressureSize: ui.pressureSize,
    pressureOpacity: ui.pressureOpacity,
    part: ui.guardPart ? part : null,
    nearSide: ui.guardNear,
  };
}
