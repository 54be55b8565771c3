import {
  findNode,
  layersOf,
  type LayerNode,
  type ProjectDocument,
  type ProjectLight,
} from '../../core/document';
import { useProject } from './project-store';
import { useUi } from '../shared/ui-store';

/** The node that is chosen in the build-up. */
export function activeNode(): LayerNode | undefined {
  const { document } = useProject.getState();
  const { target } = useUi.getState();
  return document && target ? findNode(document.layers, target.layer) : undefined;
}

/** The same for an interface that shows it. */
export function useActiveNode(): LayerNode | undefined {
  const layer = useUi((s) => s.target?.layer ?? null);
  return useProject((s) => (s.document && layer !== null ? findNode(s.document.layers, layer) : undefined));
}

/** The light that is aimed: that of the chosen light layer, of the lowest one, or the project's first. */
function lightOf(document: ProjectDocument | null, selected: number | null): ProjectLight | undefined {
  if (!document) return undefined;
  const layers = layersOf(document.layers).filter((l) => l.kind === 'light');
  const layer = layers.find((l) => l.id === selected) ?? layers[0];
  return document.lights.find((l) => l.id === layer?.light) ?? document.lights[0];
}

export const activeLight = (): ProjectLight | undefined =>
  lightOf(useProject.getState().document, useUi.getState().target?.layer ?? null);

export function useActiveLight(): ProjectLight | undefined {
  const selected = useUi((s) => s.target?.layer ?? null);
  return useProject((s) => lightOf(s.document, selected));
}
