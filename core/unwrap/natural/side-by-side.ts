import type { Vec3 } from '../../math';
import { faceGeometry, type Mesh, type SymmetryPlane } from '../../mesh';
import type { CutChart } from '../segment/chart';
import { mirrored, placeOf } from './other-side';
import { boxOf, type FlatIsland } from '../pack/outline';
import { areaOf, packIslands, type Packed, type PackOptions } from '../pack/pack-islands';

/** Pieces mirror one another if their areas differ by no more than this part, */
const AREA = 0.15;

/** and their middles and spreads, each along three axes, agree up to this part of their size. */
const PLACE = 0.12;

/** Where a piece is on the model, and how it is spread about there. */
interface Stand {
  readonly area: number;
  readonly middle: Vec3;
  /** Standard deviation along x, y and z. */
  readonly spread: Vec3;
}

/**
 * Pairs of pieces that are one another's mirror image over a plane, also where they are triangulated otherwise: their numbers, the one on the
 * left of the picture first.
 */
export function mirroredPairs(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  charts: readonly Pick<CutChart, 'faces'>[],
  plane: SymmetryPlane,
): (readonly [number, number])[] {
  const areas = faceGeometry(mesh).areas;
  const own = charts.map(({ faces }) => standOf(mesh, areas, faces, (p) => p));
  const images = charts.map(({ faces }) => standOf(mesh, areas, faces, (p) => mirrored(p, plane)));
  const out: (readonly [number, number])[] = [];
  const taken = new Set<number>();
  images.forEach((image, i) => {
    if (taken.has(i)) return;
    // What is its own mirror image has no twin.
    let [best, least] = [i, unlike(image, own[i]!)];
    own.forEach((other, k) => {
      const d = taken.has(k) || k === i ? Infinity : unlike(image, other);
      if (d < least && d < PLACE) [best, least] = [k, d];
    });
    if (best === i) return;
    taken.add(i).add(best);
    // Seen from the front, what has the lesser x lies on the left.
    out.push(own[i]!.middle[0] <= own[best]!.middle[0] ? [i, best] : [best, i]);
  });
  return out;
}

function standOf(
  { positions: p, indices }: Pick<Mesh, 'positions' | 'indices'>,
  areas: Float64Array,
  faces: Uint32Array,
  moved: (p: Vec3) => Vec3,
): Stand {
  const [sum, squares] = [
    [0, 0, 0],
    [0, 0, 0],
  ];
  let area = 0;
  for (const f of faces) {
    area += areas[f]!;
    for (let k = 0; k < 3; k++) {
      moved(placeOf(p, indices[f * 3 + k]!)).forEach((x, axis) => {
        sum[axis]! += (areas[f]! / 3) * x;
        squares[axis]! += (areas[f]! / 3) * x * x;
      });
    }
  }
  const middle = sum.map((x) => x / (area || 1)) as unknown as Vec3;
  const spread = squares.map((x, k) => Math.sqrt(Math.max(0, x / (area || 1) - middle[k]! ** 2)));
  return { area, middle, spread: spread as unknown as Vec3 };
}

/** How far two pieces are from being the same, in parts of their size; Infinity if their areas say they aren't. */
function unlike(a: Stand, b: Stand): number {
  if (Math.abs(a.area - b.area) > AREA * Math.max(a.area, b.area)) return Infinity;
  const size = Math.hypot(...a.spread) || 1e-30;
  const far = (u: Vec3, v: Vec3): number => Math.hypot(...u.map((x, k) => x - v[k]!));
  return (far(a.middle, b.middle) + far(a.spread, b.spread)) / size;
}

/** Sheets that are packed until the gap in a pair is as wide as the margin. */
const TRIES = 4;

/** Part of the work that is left for those after each. */
const LATER = 0.2;

/** A gap is taken a little wider than it must be, for the scale is known only afterwards. */
const SPARE = 1.02;

/** A pair isn't kept together if a sheet as wide as it would be filled less than this. */
const LEAST_FILL = 0.3;

const widthOf = ({ points }: FlatIsland): number => {
  const { left, right } = boxOf(points);
  return right - left;
};

/** Packs islands; those of a pair lie beside one another, if there is room for that. */
export function packSideBySide(
  islands: readonly FlatIsland[],
  pairs: readonly (readonly [number, number])[],
  options: PackOptions,
): Packed {
  const area = islands.reduce((sum, one) => sum + areaOf(one.points, one.indices), 0);
  const widest = Math.sqrt(area / LEAST_FILL);
  const narrow = pairs.filter(([a, b]) => widthOf(islands[a]!) + widthOf(islands[b]!) < widest);
  if (narrow.length === 0) return packIslands(islands, options);
  const second = new Map(narrow.map(([a, b]) => [a, b]));
  const seconds = new Set(second.values());
  const firsts = islands.map((_, i) => i).filter((i) => !seconds.has(i));
  const pick = <T>(list: readonly T[] | undefined): readonly T[] | undefined =>
    list && firsts.map((i) => list[i]!);
  const [weights, groups] = [pick(options.weights), pick(options.groups)];
  let scale = Math.sqrt(0.5 / (area || 1));
  for (let n = 1; ; n++) {
    const gapAt = (i: number): number =>
      (SPARE * options.margin) / options.size / scale / (options.weights?.[i] ?? 1);
    const packed = packIslands(
      firsts.map((i) =>
        second.has(i) ? besideOneAnother(islands[i]!, islands[second.get(i)!]!, gapAt(i)) : islands[i]!,
      ),
      {
        ...options,
        ...(weights ? { weights } : {}),
        ...(groups ? { groups } : {}),
        // Most often the first try will do; none is told as a step back.
        onProgress: (done) => options.onProgress?.(1 - LATER ** (n - 1) * (1 - done * (1 - LATER))),
      },
    );
    const isWide = packed.scale >= scale * (2 - SPARE);
    scale = Math.min(scale, packed.scale) * (isWide ? 1 : 0.99);
    if (!isWide && n < TRIES) continue;
    const uvs = new Array<Float64Array>(islands.length);
    firsts.forEach((i, k) => {
      const points = packed.uvs[k]!;
      const length = islands[i]!.points.length;
      uvs[i] = points.slice(0, length);
      const other = second.get(i);
      if (other !== undefined) uvs[other] = points.slice(length);
    });
    return { ...packed, uvs };
  }
}

/** Two islands as one, the second to the right of the first. @param gap between them, units of the surface */
export function besideOneAnother(a: FlatIsland, b: FlatIsland, gap: number): FlatIsland {
  const [left, right] = [boxOf(a.points), boxOf(b.points)];
  const points = new Float64Array(a.points.length + b.points.length);
  points.set(a.points);
  for (let i = 0; i < b.points.length; i += 2) {
    points[a.points.length + i] = b.points[i]! - right.left + left.right + gap;
    points[a.points.length + i + 1] = b.points[i + 1]! - right.low + left.low;
  }
  const first = a.points.length / 2;
  const indices = new Uint32Array(a.indices.length + b.indices.length);
  indices.set(a.indices);
  indices.set(
    b.indices.map((v) => v + first),
    a.indices.length,
  );
  return { points, indices };
}
