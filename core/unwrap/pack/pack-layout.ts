import { findIslands, type UvMesh } from '../../mesh';
import { cornerUvs, withCornerUvs } from '../corner-uvs';
import { mirrorPlane } from '../natural/mirror-map';
import { boxOf, type FlatIsland } from './outline';
import { packIslands } from './pack-islands';
import { doubledArea, restShapes, shapeArea } from '../flatten/rest-shape';
import { mirroredPairs, packSideBySide } from '../natural/side-by-side';
import type { Arrange } from '../unwrap-model';

export interface PackLayout {
  readonly size: number;
  /** Texels between islands. */
  readonly margin: number;
  /** Gives all islands the same density first, times their part's weight; otherwise each keeps its size beside the others. */
  readonly even: boolean;
  /** As they stand now, those of a part together and mirrored ones beside one another; or turned as they fit tightest. */
  readonly arrange: Arrange;
  readonly weights: ReadonlyMap<string, number>;
  /** One triangle of each island that stays where it is. */
  readonly pins: readonly number[];
}

/** An island that is shorter than this on the sheet is a point, and finds no place of its own; one that is a point on the model doesn't either. */
const POINT = 1e-6;

/** No island becomes longer on the sheet than so many times the box around it on the model: slivers would, for the sake of their area. */
const MOST_LONG = 4;

/** Packs the present islands anew. Islands that lie exactly on one another stay together. */
export function packLayout(mesh: UvMesh, { size, margin, even, arrange, weights, pins }: PackLayout): UvMesh {
  const { ofFace, count } = findIslands(mesh);
  const pinned = new Set(pins.map((f) => ofFace[f]).filter((i) => i !== undefined));
  const shapes = restShapes(mesh);
  const lists: number[][] = Array.from({ length: count }, () => []);
  ofFace.forEach((island, f) => lists[island]!.push(f));
  const islands: (FlatIsland & {
    readonly faces: number[];
    readonly solid: number;
    readonly flat: number;
    /** The most that it may grow. */
    readonly longest: number;
  })[] = [];
  const held: FlatIsland[] = [];
  /** Triangles that lie exactly on an island that is packed. */
  const riders: number[] = [];
  const rides = ridersAmong(mesh, lists);
  lists.forEach((faces, island) => {
    if (rides.has(island)) {
      riders.push(...faces);
      return;
    }
    let solid = 0;
    let flat = 0;
    for (const f of faces) {
      solid += shapeArea(shapes, f);
      flat += Math.abs(doubledArea(mesh.indices, mesh.uvs, f)) / 2;
    }
    const one = islandOf(mesh, faces);
    const { left, right, low, high } = boxOf(one.points);
    const flatLength = Math.hypot(right - left, high - low);
    const solidLength = boxLength(mesh, faces);
    if (pinned.has(island)) held.push(one);
    else if (flatLength > POINT && solidLength > 0)
      islands.push({ ...one, faces, solid, flat, longest: (MOST_LONG * solidLength) / flatLength });
  });
  if (islands.length === 0) return mesh;
  const factors = islands.map(({ faces, solid, flat, longest }) => {
    if (!even) return 1;
    const weight = weights.get(mesh.parts[mesh.faceParts[faces[0]!]!]!) ?? 1;
    return Math.min(flat > 0 ? Math.sqrt(solid / flat) : Infinity, longest) * weight;
  });
  const how = { size, margin, weights: factors, pinned: held };
  const packed =
    arrange === 'tightest'
      ? packIslands(islands, { ...how, turn: true })
      : packSideBySide(islands, pairsIn(mesh, islands), {
          ...how,
          turn: false,
          groups: islands.map(({ faces }) => mesh.faceParts[faces[0]!]!),
        });
  const uvs = cornerUvs(mesh);
  const nowAt = new Map<string, readonly [number, number]>();
  const name = (corner: number): string => `${uvs[corner * 2]} ${uvs[corner * 2 + 1]}`;
  if (riders.length) {
    islands.forEach(({ faces, indices }, i) => {
      const points = packed.uvs[i]!;
      faces.forEach((f, k) => {
        for (let corner = 0; corner < 3; corner++) {
          const v = indices[k * 3 + corner]! * 2;
          nowAt.set(name(f * 3 + corner), [points[v]!, points[v + 1]!]);
        }
      });
    });
    for (const f of riders) {
      for (let corner = f * 3; corner < f * 3 + 3; corner++) {
        const place = nowAt.get(name(corner));
        if (place) uvs.set(place, corner * 2);
      }
    }
  }
  islands.forEach(({ faces, indices }, i) => {
    const points = packed.uvs[i]!;
    faces.forEach((f, k) => {
      for (let corner = 0; corner < 3; corner++) {
        const v = indices[k * 3 + corner]! * 2;
        uvs[(f * 3 + corner) * 2] = points[v]!;
        uvs[(f * 3 + corner) * 2 + 1] = points[v + 1]!;
      }
    });
  });
  return withCornerUvs(mesh, uvs);
}

/** The diagonal of the box around some triangles of the model. */
function boxLength({ positions, indices }: UvMesh, faces: readonly number[]): number {
  const corners = faces.flatMap((f) => [f * 3, f * 3 + 1, f * 3 + 2]);
  const side = (axis: number): number => {
    let [low, high] = [Infinity, -Infinity];
    for (const c of corners) {
      const x = positions[indices[c]! * 3 + axis]!;
      low = Math.min(low, x);
      high = Math.max(high, x);
    }
    return high - low;
  };
  return Math.hypot(side(0), side(1), side(2));
}

/** Islands that lie exactly on a larger one, or on part of it: every corner has the place of one of its corners. */
function ridersAmong(mesh: UvMesh, lists: readonly (readonly number[])[]): Set<number> {
  const places = new Map<string, number>();
  const riders = new Set<number>();
  const largestFirst = [...lists.keys()].sort((a, b) => lists[b]!.length - lists[a]!.length || a - b);
  for (const island of largestFirst) {
    const names = lists[island]!.flatMap((f) =>
      [0, 1, 2].map((k) => {
        const v = mesh.indices[f * 3 + k]! * 2;
        return `${mesh.uvs[v]} ${mesh.uvs[v + 1]}`;
      }),
    );
    const under = places.get(names[0] ?? '');
    if (under !== undefined && names.every((name) => places.get(name) === under)) riders.add(island);
    else for (const name of names) if (!places.has(name)) places.set(name, island);
  }
  return riders;
}

/** Islands that mirror one another on the model. */
const pairsIn = (
  mesh: UvMesh,
  islands: readonly { readonly faces: readonly number[] }[],
): (readonly [number, number])[] =>
  mirroredPairs(
    mesh,
    islands.map(({ faces }) => ({ faces: Uint32Array.from(faces) })),
    mirrorPlane(mesh),
  );

/** Some triangles as they lie on the sheet. */
function islandOf(mesh: UvMesh, faces: readonly number[]): FlatIsland {
  const local = new Map<number, number>();
  const points: number[] = [];
  const indices = new Uint32Array(faces.length * 3);
  faces.forEach((f, i) => {
    for (let k = 0; k < 3; k++) {
      const v = mesh.indices[f * 3 + k]!;
      // Vertices of one place on the sheet are one point of the outline, whatever their normals.
      let n = local.get(v);
      if (n === undefined) {
        local.set(v, (n = local.size));
        points.push(mesh.uvs[v * 2]!, mesh.uvs[v * 2 + 1]!);
      }
      indices[i * 3 + k] = n;
    }
  });
  return { points: Float64Array.from(points), indices };
}
