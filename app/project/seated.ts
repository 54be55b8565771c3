import type { ProjectDocument } from '../../core/document';
import type { UvMesh } from '../../core/mesh';
import { RampAssignments, type Assigned } from '../../core/ramps';
import { useProject } from './project-store';

/** The last that was reckoned: it is asked for in several places, and drags ask again and again. */
let seats: { readonly mesh: UvMesh; readonly of: RampAssignments } | null = null;
let last: {
  readonly mesh: UvMesh;
  readonly ramps: ProjectDocument['ramps'];
  readonly regions: ProjectDocument['regions'];
  readonly seated: Assigned;
} | null = null;

/** What of a model lies on the project's ramp sheet; null where nothing does. */
export function seatedOf(
  mesh: UvMesh | null,
  { ramps, regions }: Pick<ProjectDocument, 'ramps' | 'regions'>,
): Assigned | null {
  if (!mesh || !ramps || ramps.seats.length === 0) return null;
  if (last && last.mesh === mesh && last.ramps === ramps && last.regions === regions) return last.seated;
  if (seats?.mesh !== mesh) seats = { mesh, of: new RampAssignments(mesh) };
  const seated = seats.of.reckon(ramps, (id) => regions.find((r) => r.id === id)?.faces ?? []);
  last = { mesh, ramps, regions, seated };
  return seated;
}

/** The same of the open project. */
export function seatedNow(): Assigned | null {
  const { mesh, document } = useProject.getState();
  return document && seatedOf(mesh, document);
}

/** Why nothing can be painted on a triangle that lies on the ramp sheet; null where it can. */
export function onRampSays(face: number): string | null {
  const { mesh, document } = useProject.getState();
  const seat = seatedNow()?.seatOf[face] ?? -1;
  const ramps = document?.ramps;
  if (!mesh || !ramps || seat < 0) return null;
  const ramp = ramps.ramps.find((r) => r.id === ramps.seats[seat]?.ramp)?.name ?? 'a ramp';
  return `“${mesh.parts[mesh.faceParts[face]!]}” lies here on “${ramp}” of the ramp sheet and has its colour from there. Painting, washes and light work on the other sheets only: take it off its ramp in Block in to paint it.`;
}
