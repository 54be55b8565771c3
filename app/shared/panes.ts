/** A rectangle of the picture, CSS pixels from its upper left. */
export interface Pane {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** What can be put in the middle. */
export const PANE_KINDS = ['model', 'sheet', 'reference'] as const;
/** What can stand there: those, and what a stage brings: the reference as it is matched, what is delivered as an engine shows it. */
export type PaneKind = (typeof PANE_KINDS)[number] | 'match' | 'engine';

/** What stands in the middle: one of them, or two side by side. */
export interface Panes {
  readonly left: PaneKind;
  readonly right: PaneKind | null;
  /** The left one's part of the width when there are two. */
  readonly split: number;
}

export const isShown = ({ left, right }: Panes, kind: PaneKind): boolean => left === kind || right === kind;

/** Where a pane lies; null if it isn't shown. CSS pixels. */
export function paneRect(panes: Panes, kind: PaneKind, width: number, height: number): Pane | null {
  const cut = panes.right === null ? width : Math.round(width * panes.split);
  if (panes.left === kind) return { x: 0, y: 0, width: cut, height };
  if (panes.right === kind) return { x: cut, y: 0, width: width - cut, height };
  return null;
}

/** One pane alone, or together with what stood in the middle before. */
export const onlyPane = (panes: Panes, kind: PaneKind): Panes => ({ ...panes, left: kind, right: null });

/** Puts a pane on one side; what stands there goes to the other, if it isn't the same. */
export function besidePane(panes: Panes, kind: PaneKind): Panes {
  if (panes.left === kind) return panes;
  return { ...panes, right: panes.right === kind ? null : kind };
}

export const swapPanes = ({ left, right, split }: Panes): Panes =>
  right === null ? { left, right, split } : { left: right, right: left, split: 1 - split };

/** The model alone, both, the sheet alone: the next one. */
export function nextPanes(panes: Panes): Panes {
  if (panes.right !== null) return { ...panes, left: 'sheet', right: null };
  return panes.left === 'model' ? { ...panes, right: 'sheet' } : { ...panes, left: 'model' };
}
