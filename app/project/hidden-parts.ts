import { useUi } from '../shared/ui-store';
import { useProject } from './project-store';

/** Names of the parts that aren't shown: what is done to the picture leaves them alone. */
export function hiddenParts(): string[] {
  const { hidden } = useUi.getState();
  const { mesh } = useProject.getState();
  return mesh?.parts.filter((_, part) => hidden.has(part)) ?? [];
}
