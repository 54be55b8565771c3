import type { Sheet } from '../../core/document';
import { useProject } from './project-store';
import { useUi } from '../shared/ui-store';

export interface ActiveSheet extends Sheet {
  readonly index: number;
}

const NONE: readonly Sheet[] = [];

/** The sheet that the flat view shows and the layout tools work on; null while no project is open. */
export function useActiveSheet(): ActiveSheet | null {
  const sheets = useProject((s) => s.document?.sheets);
  const wanted = useUi((s) => s.sheet);
  return activeOf(sheets ?? NONE, wanted);
}

/** The same, outside of components. */
export const activeSheet = (): ActiveSheet | null =>
  activeOf(useProject.getState().document?.sheets ?? NONE, useUi.getState().sheet);

function activeOf(sheets: readonly Sheet[], wanted: number): ActiveSheet | null {
  const index = Math.min(wanted, sheets.length - 1);
  const sheet = sheets[index];
  return sheet ? { ...sheet, index } : null;
}

/** Texels a side of every sheet of the open project. */
export const sheetSizes = (): number[] => useProject.getState().document?.sheets.map((s) => s.size) ?? [];
