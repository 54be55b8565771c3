import { detailOf, hasDetails, type Detail } from '../../core/document';
import { useUi } from '../shared/ui-store';
import { useProject } from './project-store';

/** Whether the albedo is what is seen, and not the mask of the detail sheet that the chosen layer goes into. */
export function seesAlbedo(): boolean {
  const { shown, target, seesAlbedo: isAsked } = useUi.getState();
  const { document } = useProject.getState();
  if (shown.of !== 'paint') return false;
  return isAsked || !document || !target || detailOf(document.layers, target.layer) === null;
}

/** The mask of the detail sheet that the chosen layer goes into. */
export function useChosenDetail(): Detail | null {
  const layer = useUi((s) => s.target?.layer ?? null);
  return useProject((s) => (s.document && layer !== null ? detailOf(s.document.layers, layer) : null));
}

/** The mask of the detail sheet that is looked at: that which the chosen layer goes into, if nothing else is asked for. */
export function useShownDetail(): Detail | null {
  const isAsked = useUi((s) => s.shown.of === 'paint' && !s.seesAlbedo);
  const detail = useChosenDetail();
  return isAsked ? detail : null;
}

/** Whether the toon view is shown, and there is a detail sheet for it. */
export function useLooksAtDetail(): boolean {
  const isToon = useUi((s) => s.shown.of === 'paint' && s.light === 'toon');
  return useProject((s) => isToon && s.status === 'ready' && hasDetails(s.document?.layers ?? []));
}
