import type { Picture } from '../formats';
import type { UvMesh } from '../mesh';
import type { Region } from '../region';
import { type ProjectRamps, sheetOfRamps } from './project-ramps';
import { rampPicture } from './ramp-sheet';
import { RampAssignments } from './assignments';
import { splitSeated } from './split-seated';

/** What of a model lies on a ramp sheet, what doesn't, and the sheet. */
export interface OnRampSheet {
  readonly own: UvMesh;
  readonly onRamps: UvMesh;
  readonly sheet: Picture;
}

/** Parts a model in what lies on its ramp sheet and the rest; undefined where nothing lies on one. */
export function onRampSheet(
  mesh: UvMesh,
  ramps: ProjectRamps | null,
  regions: readonly Pick<Region, 'id' | 'faces'>[],
): OnRampSheet | undefined {
  if (!ramps || ramps.seats.length === 0) return undefined;
  const facesOf = (id: number): readonly number[] => regions.find((r) => r.id === id)?.faces ?? [];
  const { own, onRamps } = splitSeated(mesh, new RampAssignments(mesh).reckon(ramps, facesOf));
  return { own, onRamps, sheet: rampPicture(sheetOfRamps(ramps), ramps.size) };
}
