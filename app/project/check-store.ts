import { create } from 'zustand';
import type { CheckReport } from '../../core/delivery';
import type { ProjectDocument } from '../../core/document';
import type { ProjectView } from './project-store';

/** What was found when the open project was looked at before it leaves, and what it was then. */
interface Checked {
  readonly report: CheckReport;
  readonly document: ProjectDocument;
  readonly strokes: number;
  /** It is to leave otherwise by now. */
  readonly isOld: boolean;
}

export const useCheckView = create<{ readonly checked: Checked | null }>(() => ({ checked: null }));

/** How a check stands beside the project as it is now. */
export function checkState(
  { checked }: { readonly checked: Checked | null },
  { document, strokes }: Pick<ProjectView, 'document' | 'strokes'>,
): 'none' | 'stale' | 'fits' {
  if (!checked || !document) return 'none';
  return !checked.isOld && checked.document === document && checked.strokes === strokes ? 'fits' : 'stale';
}
