import { useEffect } from 'react';
import { useUi } from '../../shared/ui-store';
import type { StageView } from '../view/stage-view';

/** Draws a line around the chosen part for as long as parts are chosen here. */
export function PartOutline({ view }: { readonly view: StageView }) {
  const part = useUi((s) => s.selectedPart);
  useEffect(() => view.outline(part ?? -1), [view, part]);
  useEffect(() => () => view.outline(-1), [view]);
  return null;
}
