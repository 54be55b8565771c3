import type { StageView } from './stage-view';

let active: StageView | null = null;

/** The view that is on the screen, for commands such as “show all”. */
export const activeView = (): StageView | null => active;

export function setActiveView(view: StageView | null): void {
  active = view;
}
