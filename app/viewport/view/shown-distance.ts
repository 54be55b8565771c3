import { useEffect } from 'react';
import { type Session, useMatchView } from '../../project';
import { useUi } from '../../shared/ui-store';
import type { StageView } from './stage-view';

/** Shows how far the paint is from the reference in the place of the paint, while that is asked for. */
export function useShownDistance(view: StageView | null, session: Session): void {
  const difference = useUi((s) => (s.shown.of === 'distance' ? s.shown.difference : null));
  const heatSheet = useMatchView((s) => s.heatSheet);
  useEffect(() => session.matcher.showHeat(difference), [session, difference]);
  useEffect(() => {
    const { sheet } = session;
    if (sheet) view?.setSheet(heatSheet ?? sheet, sheet);
  }, [view, session, heatSheet]);
}
