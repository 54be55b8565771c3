import type { GuardWish } from '../../../core/commands';
import { type Region, cutOver, placeNear } from '../../../core/region';
import { type Vec3, placed } from '../../../core/math';
import { faceMask, faceRuns, type FaceRuns, type UvMesh } from '../../../core/mesh';
import { copiesOf, type Symmetry } from '../../../core/paint';
import { untouchedParts, useProject } from '../../project';
import { useUi } from '../../shared/ui-store';

/** The region that strokes are kept within, while it is there. */
export const guardRegion = (): Region | null =>
  useProject.getState().document?.regions.find((r) => r.id === useUi.getState().guardRegion) ?? null;

/** What holds a stroke that begins on a part; null: it begins on no one part. */
export function guardOf(part: string | null): GuardWish | null {
  const region = guardRegion();
  const { guardPart, hidden } = useUi.getState();
  const { mesh } = useProject.getState();
  const held = {
    ...(guardPart && part !== null && { part }),
    ...(region && { region: region.id }),
    // What isn't shown stays untouched.
    ...(hidden.size > 0 && mesh && { area: { faces: shownFaces(mesh), cuts: [] } }),
  };
  return Object.keys(held).length > 0 ? held : null;
}

const shownFaces = (mesh: UvMesh): FaceRuns => {
  const untouched = untouchedParts();
  return faceRuns(mesh.faceParts.length, (f) => !untouched.has(mesh.faceParts[f]!));
};

/** An area without what isn't shown. */
export function shownOf(area: NonNullable<GuardWish['area']>): NonNullable<GuardWish['area']> {
  const { mesh } = useProject.getState();
  if (!mesh || untouchedParts().size === 0) return area;
  const count = mesh.faceParts.length;
  const [shown, inside] = [faceMask(count, shownFaces(mesh)), faceMask(count, area.faces)];
  const cuts = area.cuts.map((cut) => cutOver(cut, count, count, (f) => (shown[f] ? f : -1)));
  return {
    faces: faceRuns(count, (f) => inside[f] === 1 && shown[f] === 1),
    cuts: cuts.filter(({ faces }) => faces.length > 0),
  };
}

/** What holds a stroke that is made at several places: the parts where they lie, as the other hand is one of its own. */
export function guardOver(mesh: UvMesh, over: Symmetry, at: Vec3, part: string): GuardWish | null {
  const region = guardRegion();
  const held = region && { region: region.id };
  if (!useUi.getState().guardPart) return guardOf(null);
  const parts = new Set([mesh.parts.indexOf(part)]);
  for (const copy of copiesOf(over).slice(1)) {
    const { face } = placeNear(mesh, ...placed(at, copy));
    parts.add(mesh.faceParts[face]!);
  }
  const untouched = untouchedParts();
  const faces = faceRuns(mesh.faceParts.length, (f) => {
    const own = mesh.faceParts[f]!;
    return parts.has(own) && !untouched.has(own);
  });
  return { ...held, area: { faces, cuts: [] } };
}
