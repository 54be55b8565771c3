import { add, dot, normalize, scale, type Vec3 } from '../../../core/math';
import { boundsOf, centreOf, subjectDiagonal, type UvMesh } from '../../../core/mesh';
import { facesOfSeat, type RampAssignment } from '../../../core/ramps';
import type { ProjectDocument } from '../../../core/document';

/** What lies on a ramp, as its handles need it. */
export interface AssignmentExtent {
  readonly middle: Vec3;
  /** Along the run's direction, model units. */
  readonly low: number;
  readonly high: number;
}

/** How far along a direction what lies on a ramp reaches; null where it is nothing. */
export function extentOf(
  mesh: UvMesh,
  seat: Pick<RampAssignment, 'of'>,
  regions: ProjectDocument['regions'],
  direction: Vec3,
): AssignmentExtent | null {
  const faces = facesOfSeat(mesh, seat, (id) => regions.find((r) => r.id === id)?.faces ?? []);
  if (faces.length === 0) return null;
  const d = normalize(direction);
  const points: number[] = [];
  let [low, high] = [Infinity, -Infinity];
  for (const f of faces) {
    for (let k = 0; k < 3; k++) {
      const v = mesh.indices[f * 3 + k]! * 3;
      const p: Vec3 = [mesh.positions[v]!, mesh.positions[v + 1]!, mesh.positions[v + 2]!];
      points.push(...p);
      const along = dot(p, d);
      low = Math.min(low, along);
      high = Math.max(high, along);
    }
  }
  return { middle: centreOf(boundsOf(points)), low, high };
}

/** Less of an extent than this part of the model's is none. */
const NO_EXTENT = 1e-6;

/** Whether what lies on a ramp has no extent along its straight run: all of it lies on one place of the ramp. */
export function isFlatRun(mesh: UvMesh, seat: RampAssignment, regions: ProjectDocument['regions']): boolean {
  if (seat.run.kind !== 'straight') return false;
  const extent = extentOf(mesh, seat, regions, seat.run.direction);
  const whole = subjectDiagonal(mesh);
  return extent !== null && extent.high - extent.low <= whole * NO_EXTENT;
}

/** A place on the line through the middle of what lies on a ramp. @param t along the run: 0 its lowest place, 1 its highest */
export function placeAlong({ middle, low, high }: AssignmentExtent, direction: Vec3, t: number): Vec3 {
  const d = normalize(direction);
  return add(middle, scale(d, low + t * (high - low) - dot(middle, d)));
}

/** Ends of a ramp lie no farther off what lies on it than this, in its extents: a run that is nearly all one colour would have them at no end. */
const FARTHEST = 3;

/** The least part of its extent over which a ramp runs. */
const SHORTEST = 1 / 8;

/** Where along the run the ramp's first and last colour lie. */
export function rampEnds({
  from,
  to,
}: Pick<RampAssignment, 'from' | 'to'>): readonly [first: number, last: number] {
  const rise = to - from;
  if (Math.abs(rise) < 1e-6) return [0, 1];
  const bounded = (t: number): number => Math.min(1 + FARTHEST, Math.max(-FARTHEST, t));
  return [bounded(-from / rise), bounded((1 - from) / rise)];
}

/** The run whose ramp has its first and last colour at two places along it. */
export function runBetween(first: number, last: number): Pick<RampAssignment, 'from' | 'to'> {
  const length = last - first;
  const wide = Math.abs(length) < SHORTEST ? SHORTEST * (length < 0 ? -1 : 1) : length;
  const round = (x: number): number => Number(Math.min(8, Math.max(-8, x)).toFixed(4));
  return { from: round(-first / wide), to: round((1 - first) / wide) };
}
