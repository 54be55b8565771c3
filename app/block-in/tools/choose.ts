import type { UvMesh } from '../../../core/mesh';
import { boundedArea, sameFacing, withMirrored, type Cut } from '../../../core/region';
import { useProject } from '../../project';
import { useFaceChoice } from '../../shared/face-choice';
import { topologyFor, wholeIslands, wholeComponents } from '../../shared/layout-store';

/** An edge that turns by more bounds an area; what turns away by more doesn't look to the same side. */
const CREASE = Math.PI / 6;
const SAME_SIDE = Math.PI / 9;

/** Adds faces to those that are chosen, or takes them off. */
export function chooseFaces(mesh: UvMesh, faces: Iterable<number>, cuts: readonly Cut[] = []): void {
  useFaceChoice.setState((s) => {
    const reached = s.mirror ? withMirrored(mesh, faces) : new Set(faces);
    const next = new Set(s.faces);
    for (const f of reached) {
      if (s.takesOff) next.delete(f);
      else next.add(f);
    }
    return { faces: next, cuts: [...s.cuts, ...cuts] };
  });
}

/** What a press on a face takes with the tool in hand. */
export function facesAt(mesh: UvMesh, face: number): Set<number> {
  const { tool } = useFaceChoice.getState();
  const topology = topologyFor(mesh);
  switch (tool) {
    case 'area': {
      const document = useProject.getState().document;
      return boundedArea(mesh, topology, face, {
        crease: CREASE,
        seams: document?.seams ?? [],
        regions: document?.regions.map((r) => r.faces) ?? [],
      });
    }
    case 'side':
      return sameFacing(mesh, topology, face, SAME_SIDE);
    case 'shell':
      return wholeComponents(mesh, [face]);
    case 'island':
      return wholeIslands(mesh, [face]);
    default:
      return new Set([face]);
  }
}
