import {
  boxPlace,
  ClosestPoint,
  faceMask,
  faceRuns,
  subjectDiagonal,
  placeInBox,
  type FaceRuns,
  type SurfacePoint,
} from '../mesh';
import {
  add,
  compose,
  IDENTITY,
  inverse,
  placed,
  placeDirection,
  scaleOf,
  sub,
  type Placing,
  type Vec3,
} from '../math';
import { faceMapOf, sameTriangles, type FaceMap, type ModelMove } from './face-map';

/**
 * How whatever refers to a model follows it when it changes: triangles and corners by the face map, places and lengths by how the model was
 * moved, or over the surface where the same triangles have another shape, and parts by their names. What needn't change is given back as it is.
 */
export class Follower {
  readonly move: ModelMove;
  readonly faces: FaceMap;
  /** What parts were called, and are. */
  readonly names: ReadonlyMap<string, string>;
  /** Takes a place of the former model to where it is now; null where it stays. */
  readonly placing: Placing | null;
  /** The same triangles in another shape: places follow the triangle that they lie on. */
  private readonly isReshaped: boolean;
  private readonly hasSameBox: boolean;
  private closest: ClosestPoint | null = null;

  /** @param faces as `faceMapOf` tells it, where that is known already */
  constructor(move: ModelMove, faces: FaceMap = faceMapOf(move)) {
    this.move = move;
    this.faces = faces;
    this.names = new Map(move.renamed);
    this.placing = move.placing ?? (move.align && inverse(move.align));
    const ends: readonly Vec3[] = [
      [0, 0, 0],
      [1, 0, 0],
    ];
    const { from, to } = move;
    this.hasSameBox = !this.placing && ends.every((at) => sameVector(boxPlace(from, at), boxPlace(to, at)));
    this.isReshaped = !this.placing && this.faces.identical && !sameTriangles(from, to);
  }

  /** Some triangles under the numbers that they have now; those that are gone are left out. */
  faceList(list: readonly number[]): number[] {
    const { source, identical } = this.faces;
    if (identical || list.length === 0) return list as number[];
    const inside = new Set(list);
    const out: number[] = [];
    source.forEach((old, f) => {
      if (inside.has(old)) out.push(f);
    });
    return out;
  }

  /** The same of runs. */
  runs(runs: FaceRuns): FaceRuns {
    const { source, identical, before } = this.faces;
    if (identical || runs.length === 0) return runs;
    const was = faceMask(before, runs);
    return faceRuns(source.length, (f) => source[f]! >= 0 && was[source[f]!] === 1);
  }

  /** Corners, three a triangle; none of them means anything on a model of other triangles. */
  corners(list: readonly number[]): number[] {
    const { source, identical, exact } = this.faces;
    if (identical || list.length === 0) return list as number[];
    if (!exact) return [];
    const now = new Map<number, number>();
    source.forEach((old, f) => old >= 0 && now.set(old, f));
    return list.flatMap((corner) => {
      const face = now.get(Math.floor(corner / 3));
      return face === undefined ? [] : [face * 3 + (corner % 3)];
    });
  }

  /** Where a place of the former model is now, model units. */
  point(at: Vec3): Vec3 {
    if (this.placing) return placed(at, this.placing);
    return this.isReshaped ? this.overSurface(at) : at;
  }

  /** A direction of the model, of unit length; where nothing was turned it stays as it is. */
  direction(way: Vec3): Vec3 {
    return this.placing ? placeDirection(way, this.placing) : way;
  }

  /** Whether every place is where it was. */
  get stays(): boolean {
    return !this.placing && !this.isReshaped;
  }

  /** Where the model stands, seen from where it stood when strokes were made. On a model of other triangles no stroke is made again. */
  frames<F extends { readonly id: number; readonly placing: Placing }>(frames: readonly F[]): F[] {
    const { placing } = this;
    if (!this.faces.exact) return frames.slice(0, 1).map((frame) => ({ ...frame, placing: IDENTITY }));
    return placing ? frames.map((f) => ({ ...f, placing: compose(placing, f.placing) })) : (frames as F[]);
  }

  /** What takes places of a file to where they are now, if it was `placing` before. */
  filePlacing(placing: Placing | null): Placing | null {
    return this.placing ? compose(this.placing, placing ?? IDENTITY) : placing;
  }

  /** How many times longer lengths are. */
  get times(): number {
    return this.placing ? scaleOf(this.placing) : 1;
  }

  /** A place that is told from the middle of the model's box, in parts of its diagonal. */
  place(at: Vec3): Vec3 {
    const { from, to } = this.move;
    const was = boxPlace(from, at);
    const is = this.point(was);
    // Where neither place nor box has moved, nothing is rounded anew.
    if (is === was && this.hasSameBox) return at;
    return placeInBox(to, is);
  }

  /** A length in parts of the diagonal. */
  part(length: number): number {
    if (this.hasSameBox) return length;
    const { from, to } = this.move;
    return (length * subjectDiagonal(from) * this.times) / (subjectDiagonal(to) || 1);
  }

  /** As far off the triangle that was nearest as it was. */
  private overSurface(at: Vec3): Vec3 {
    const { from, to } = this.move;
    this.closest ??= new ClosestPoint(from.positions, from.indices);
    const place: SurfacePoint = { face: -1, w0: 1, w1: 0, w2: 0, distance: 0 };
    this.closest.find(...at, place);
    return add(onMesh(to, place), sub(at, onMesh(from, place)));
  }
}

const sameVector = (a: Vec3, b: Vec3): boolean => a.every((x, k) => x === b[k]);

function onMesh(
  { positions, indices }: Pick<ModelMove['from'], 'positions' | 'indices'>,
  place: SurfacePoint,
): Vec3 {
  const weights = [place.w0, place.w1, place.w2];
  const axis = (k: number): number =>
    weights.reduce((sum, w, c) => sum + w * positions[indices[place.face * 3 + c]! * 3 + k]!, 0);
  return [axis(0), axis(1), axis(2)];
}
