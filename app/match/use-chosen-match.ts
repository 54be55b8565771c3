import type { Reference } from '../../core/document';
import { useProject } from '../project';
import { useUi } from '../shared/ui-store';

const NONE: readonly Reference[] = [];

/** The reference that is chosen on the easel; the first one otherwise. */
export function useChosenMatch(): Reference | undefined {
  const references = useProject((s) => s.document?.references) ?? NONE;
  const chosen = useUi((s) => s.reference);
  return references.find((r) => r.id === chosen) ?? references[0];
}
