import type { Advice } from '../../../core/match';
import { useProject } from '../../project';
import { useUi } from '../../shared/ui-store';
import type { ViewportContext } from '../../viewport';
import { lookThrough } from '../camera/camera-actions';
import { useMatch } from '../match-ui';

/** Points a place out on picture and model, and chooses the part that it is about. */
export function showPlace(
  viewport: ViewportContext,
  at: readonly [number, number] | null,
  part: string | null,
): void {
  const number = part === null ? -1 : (useProject.getState().mesh?.parts.indexOf(part) ?? -1);
  if (number >= 0) {
    useUi.setState({ selectedPart: number, alsoParts: new Set() });
    viewport.view?.outline(number);
  }
  useMatch.setState({ shownPlace: at, arranged: 'beside', how: { as: 'colors' } });
  lookThrough(viewport.view);
}

export function showAdvice(viewport: ViewportContext, advice: Advice): void {
  showPlace(viewport, advice.at, advice.of === 'part' ? advice.area : null);
  useMatch.setState({ shownAdvice: advice });
}
