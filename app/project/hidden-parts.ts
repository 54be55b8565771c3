import { useMemo } from 'react';
import { formParts, isBackdrop, type UvMesh } from '../../core/mesh';
import { useUi } from '../shared/ui-store';
import { useProject } from './project-store';

/** Number of the backdrop in hand; -1: the model is. */
const inHand = (mesh: UvMesh, backdrop: string | null): number => {
  const part = backdrop === null ? -1 : mesh.parts.indexOf(backdrop);
  return part >= formParts(mesh) ? part : -1;
};

function untouchedOf(
  mesh: UvMesh | null,
  hidden: ReadonlySet<number>,
  backdrop: string | null,
): ReadonlySet<number> {
  if (!mesh?.backdrops) return hidden;
  const hand = inHand(mesh, backdrop);
  const isOut = (part: number): boolean => (hand < 0 ? isBackdrop(mesh, part) : part !== hand);
  return new Set([...hidden, ...[...mesh.parts.keys()].filter(isOut)]);
}

/** Parts that the hand leaves alone: what isn't shown, and either the backdrops or all but the one in hand. */
export const untouchedParts = (): ReadonlySet<number> =>
  untouchedOf(useProject.getState().mesh, useUi.getState().hidden, useUi.getState().backdrop);

export function useUntouchedParts(): ReadonlySet<number> {
  const mesh = useProject((s) => s.mesh);
  const hidden = useUi((s) => s.hidden);
  const backdrop = useUi((s) => s.backdrop);
  return useMemo(() => untouchedOf(mesh, hidden, backdrop), [mesh, hidden, backdrop]);
}

/** Names of the parts that what is done to the picture leaves alone. */
export function hiddenParts(): string[] {
  const untouched = untouchedParts();
  const { mesh } = useProject.getState();
  return mesh?.parts.filter((_, part) => untouched.has(part)) ?? [];
}
