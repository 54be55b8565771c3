import { ways } from '../cues';
import { dot, normalize, type Vec3 } from '../math';
import { boxPlace, subjectDiagonal, type Mesh } from '../mesh';
import type { ProjectRamps, RampAssignment, AssignedMapping } from './project-ramps';
import { onRamp, rampBands } from './ramp-sheet';

/** Triangles of a region by its id; empty if it isn't there. */
export type FacesOf = (region: number) => readonly number[];

/** What of a model lies on its ramps. */
export interface Assigned {
  /** Index of the seat that each triangle has; -1: it lies on its own sheet. */
  readonly seatOf: Int32Array;
  /** uv a corner, origin at the lower left of the ramp sheet; only those of triangles that have a seat. */
  readonly uvs: Float32Array;
}

/** Along a run, 0..1, at the corners of some triangles. */
interface RunValues {
  readonly key: string;
  readonly faces: Uint32Array;
  /** Three a triangle. */
  readonly at: Float32Array;
}

/** Less of an extent than this part of the model's diagonal is none: all of it lies on one place of the ramp. */
const NO_EXTENT = 1e-6;

/**
 * Reckons where a model's triangles lie on ramps. Runs are kept as long as they are the same, so that sliding one along its ramp costs next
 * to nothing.
 */
export class RampAssignments {
  private readonly mesh: Mesh;
  private readonly known = new Map<number, RunValues>();
  private readonly facesOfPart: ReadonlyMap<string, Uint32Array>;

  constructor(mesh: Mesh) {
    this.mesh = mesh;
    this.facesOfPart = facesByPart(mesh);
  }

  /** Which triangles have which seat, and where on the ramp sheet their corners lie. Seats of regions win over those of parts, later ones over earlier. */
  reckon(ramps: ProjectRamps, facesOf: FacesOf): Assigned {
    const { faceParts } = this.mesh;
    const seatOf = new Int32Array(faceParts.length).fill(-1);
    const uvs = new Float32Array(faceParts.length * 6);
    const { seats, size, lie } = ramps;
    const bands = rampBands(ramps.ramps.length, size);
    const values = seats.map((seat) => this.valuesOf(seat, facesOf));
    for (const isRegion of [false, true]) {
      seats.forEach((seat, i) => {
        if ('region' in seat.of === isRegion) for (const f of values[i]!.faces) seatOf[f] = i;
      });
    }
    seats.forEach((seat, i) => {
      const band = bands[ramps.ramps.findIndex((r) => r.id === seat.ramp)];
      if (!band) return;
      const { faces, at } = values[i]!;
      for (let k = 0; k < faces.length; k++) {
        const f = faces[k]!;
        if (seatOf[f] !== i) continue;
        for (let c = 0; c < 3; c++) {
          const [u, v] = onRamp(band, placeOnRamp(seat, at[k * 3 + c]!), size, lie);
          uvs[f * 6 + c * 2] = u;
          uvs[f * 6 + c * 2 + 1] = v;
        }
      }
    });
    for (const id of this.known.keys()) if (!seats.some((s) => s.id === id)) this.known.delete(id);
    return { seatOf, uvs };
  }

  /** Along a seat's run at the corners of its triangles. */
  valuesOf(
    seat: RampAssignment,
    facesOf: FacesOf,
  ): { readonly faces: Uint32Array; readonly at: Float32Array } {
    const { of } = seat;
    const faces =
      'region' in of
        ? Uint32Array.from(facesOf(of.region))
        : (this.facesOfPart.get(of.part) ?? new Uint32Array(0));
    const key = `${JSON.stringify(seat.of)} ${JSON.stringify(seat.run)}`;
    const known = this.known.get(seat.id);
    if (known?.key === key && sameFaces(known.faces, faces)) return known;
    const values = { key, faces, at: alongRun(this.mesh, faces, seat.run) };
    this.known.set(seat.id, values);
    return values;
  }
}

/** Where on its ramp a place along a seat's run lies, 0..1. */
export function placeOnRamp(
  { from, to, rings }: Pick<RampAssignment, 'from' | 'to' | 'rings'>,
  at: number,
): number {
  return Math.min(1, Math.max(0, from + (to - from) * at + slideAt(rings, at)));
}

/** By how much rings are slid at a place along the run: as told at each ring, evenly less between them, nothing at the ends. */
function slideAt(rings: RampAssignment['rings'], at: number): number {
  let [x0, y0] = [0, 0];
  for (const [x, y] of rings) {
    if (at <= x) return x > x0 ? y0 + ((y - y0) * (at - x0)) / (x - x0) : y;
    [x0, y0] = [x, y];
  }
  return x0 < 1 ? y0 * (1 - (at - x0) / (1 - x0)) : y0;
}

/** The triangles of a part or a region. */
export function facesOfSeat(
  { faceParts, parts }: Mesh,
  { of }: Pick<RampAssignment, 'of'>,
  facesOf: FacesOf,
): readonly number[] {
  if ('region' in of) return facesOf(of.region);
  const part = parts.indexOf(of.part);
  return [...faceParts.keys()].filter((f) => faceParts[f] === part);
}

/** The triangles of each part. */
function facesByPart({ faceParts, parts }: Mesh): Map<string, Uint32Array> {
  const lists: number[][] = parts.map(() => []);
  faceParts.forEach((part, f) => lists[part]!.push(f));
  return new Map(parts.map((name, i) => [name, Uint32Array.from(lists[i]!)]));
}

const sameFaces = (a: Uint32Array, b: Uint32Array): boolean =>
  a === b || (a.length === b.length && a.every((f, i) => f === b[i]));

/**
 * How far along a run the corners of some triangles lie: 0 for the lowest or nearest of them, 1 for the highest or farthest.
 *
 * @returns three a triangle; what no way over the surface leads to has 1, and all 0 where there is no extent
 */
export function alongRun(mesh: Mesh, faces: Uint32Array, run: AssignedMapping): Float32Array {
  const out = new Float32Array(faces.length * 3);
  const measure = measureOf(mesh, run);
  let [low, high] = [Infinity, -Infinity];
  for (let i = 0; i < out.length; i++) {
    const f = faces[Math.floor(i / 3)]!;
    const v = measure(f, mesh.indices[f * 3 + (i % 3)]!);
    out[i] = v;
    if (!Number.isFinite(v)) continue;
    low = Math.min(low, v);
    high = Math.max(high, v);
  }
  const extent = high - low;
  const isFlat = !(extent > subjectDiagonal(mesh) * NO_EXTENT);
  for (let i = 0; i < out.length; i++) {
    out[i] = isFlat ? 0 : Number.isFinite(out[i]!) ? (out[i]! - low) / extent : 1;
  }
  return out;
}

/** What a run goes by, model units. */
function measureOf(mesh: Mesh, run: AssignedMapping): (face: number, vertex: number) => number {
  const { positions: p } = mesh;
  const at = (v: number): Vec3 => [p[v * 3]!, p[v * 3 + 1]!, p[v * 3 + 2]!];
  if (run.kind === 'straight') {
    const way = normalize(run.direction);
    return (_, v) => dot(at(v), way);
  }
  if (run.kind === 'round') {
    const [x, y, z] = boxPlace(mesh, run.centre);
    return (_, v) => Math.hypot(p[v * 3]! - x, p[v * 3 + 1]! - y, p[v * 3 + 2]! - z);
  }
  const way = ways(mesh, [boxPlace(mesh, run.from)]);
  return (f, v) => way(f, ...at(v));
}
