import {
  backdropsOf,
  faceMask,
  faceRuns,
  formOf,
  sheetOfPart,
  type Backdrop,
  type FaceRuns,
  type UvMesh,
} from '../mesh';
import { baseOf } from '../layers';
import { EMPTY_TILE } from '../paint';
import type { TileState } from '../pixels';
import { cutOver, type Cut, type Region } from '../region';
import { sheetOfTile, tileCount, type SurfaceMap } from '../surface';
import type { CarriedPlane, PlanePaint } from './plane-paint';
import { resamplePlane } from './resample-plane';

type Tiles = ReadonlyMap<number, Uint8Array>;

/** What becomes of the sheets where only backdrops come, go or move. */
interface SheetMoves {
  /** The sheet that each sheet was; -1: it is new. */
  readonly was: readonly number[];
  /** Those of backdrops that stand otherwise now: what was painted on them isn't its strokes any more. */
  readonly moved: ReadonlySet<number>;
}

/** Whether two surfaces have the same model in the same layout, and differ in their backdrops alone. */
export function haveSameForm(from: SurfaceMap, to: SurfaceMap): boolean {
  const [before, after] = [backdropsOf(from.mesh), backdropsOf(to.mesh)];
  // Where all of them stand as they stood, nothing of this kind has happened.
  if (before.length === after.length && after.every((b, k) => stands(before[k]!, b))) return false;
  const [a, b] = [formOf(from.mesh), formOf(to.mesh)];
  return (
    alike(a.positions, b.positions) &&
    alike(a.uvs, b.uvs) &&
    alike(a.indices, b.indices) &&
    alike(a.faceParts, b.faceParts) &&
    a.parts.every(
      (_, part) => from.sheets[sheetOfPart(a, part)]!.size === to.sheets[sheetOfPart(b, part)]!.size,
    )
  );
}

function alike(a: ArrayLike<number>, b: ArrayLike<number>): boolean {
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
}

function sheetMoves(from: SurfaceMap, to: SurfaceMap): SheetMoves {
  const was = to.sheets.map(() => -1);
  const form = formOf(to.mesh);
  form.parts.forEach((_, part) => (was[sheetOfPart(to.mesh, part)] = sheetOfPart(from.mesh, part)));
  const moved = new Set<number>();
  const before = backdropsOf(from.mesh);
  const after = backdropsOf(to.mesh);
  for (const [k, backdrop] of after.entries()) {
    const same =
      before.find((b) => b.name === backdrop.name) ??
      // One that is called otherwise stands where it stood.
      (before.length === after.length && stands(before[k]!, backdrop) ? before[k] : undefined);
    if (!same) continue;
    was[backdrop.sheet] = same.sheet;
    const isResized = from.sheets[same.sheet]!.size !== to.sheets[backdrop.sheet]!.size;
    if (isResized || !stands(same, backdrop)) moved.add(backdrop.sheet);
  }
  return { was, moved };
}

const stands = (a: Backdrop, b: Backdrop): boolean => alike(a.corners.flat(), b.corners.flat());

/** Carries planes where only backdrops come, go or move: on the model every texel stays, and its strokes stay strokes. */
export function carryBackdrops(
  from: SurfaceMap,
  to: SurfaceMap,
  planes: readonly PlanePaint[],
): { readonly planes: readonly CarriedPlane[]; readonly resampled: readonly number[] } {
  const moves = sheetMoves(from, to);
  const resampled: number[] = [];
  const carried = planes.map((paint): CarriedPlane => {
    const { plane, tiles, base, strokes, allStrokes } = paint;
    const now = carriedTiles(from, to, tiles, moves);
    const isMoved = [...now.keys()].some((tile) => moves.moved.has(sheetOfTile(to.sheets, tile)));
    if (isMoved) {
      resampled.push(plane);
      return { plane, pixels: statesOf(plane, now), baseStrokes: allStrokes };
    }
    const ground = base && carriedTiles(from, to, base, moves);
    return {
      plane,
      pixels: [...statesOf(plane, now), ...(ground ? groundStates(plane, ground, now) : [])],
      baseStrokes: base ? allStrokes - strokes.length : null,
    };
  });
  return { planes: carried, resampled };
}

/** Tiles under the numbers that they have now; those of backdrops that are shaped otherwise are resampled. */
function carriedTiles(
  from: SurfaceMap,
  to: SurfaceMap,
  tiles: Tiles,
  { was }: SheetMoves,
): Map<number, Uint8Array> {
  const out = new Map<number, Uint8Array>();
  let again: Tiles | null = null;
  for (const [sheet, { firstTile, size }] of to.sheets.entries()) {
    const before = from.sheets[was[sheet]!];
    if (!before) continue;
    const isSame = sameLayout(from, to, was[sheet]!, sheet);
    if (!isSame) again ??= resamplePlane(from, to, tiles, null);
    for (let t = 0; t < tileCount(size); t++) {
      const bytes = isSame ? tiles.get(before.firstTile + t) : again?.get(firstTile + t);
      if (bytes) out.set(firstTile + t, bytes);
    }
  }
  return out;
}

/** Whether the same triangles lie on a sheet in the same way. Their numbers may have moved, if they are a backdrop's. */
function sameLayout(a: SurfaceMap, b: SurfaceMap, was: number, is: number): boolean {
  const [x, y] = [a.sheets[was]!, b.sheets[is]!];
  if (x.size !== y.size) return false;
  const corners = (mesh: UvMesh, sheet: number): number[] =>
    [...mesh.faceParts.keys()]
      .filter((f) => sheetOfPart(mesh, mesh.faceParts[f]!) === sheet)
      .flatMap((f) =>
        [0, 1, 2].flatMap((k) => {
          const v = mesh.indices[f * 3 + k]! * 2;
          return [mesh.uvs[v]!, mesh.uvs[v + 1]!];
        }),
      );
  return alike(corners(a.mesh, was), corners(b.mesh, is));
}

export const statesOf = (plane: number, tiles: Tiles): TileState[] =>
  [...tiles].map(([tile, bytes]) => ({ plane, tile, bytes }));

/** The base's tiles that are no longer the same as the plane's. */
export function groundStates(plane: number, ground: Tiles, tiles: Tiles): TileState[] {
  return [...new Set([...ground.keys(), ...tiles.keys()])].flatMap((tile) => {
    const bytes = ground.get(tile);
    return bytes === tiles.get(tile) ? [] : [{ plane: baseOf(plane), tile, bytes: bytes ?? EMPTY_TILE }];
  });
}

/** Up to which number triangles are the same ones, where backdrops come or go. */
function keptFaces(from: UvMesh, to: UvMesh): number {
  const [before, after] = [from.faceParts.length, to.faceParts.length];
  // One that isn't the last may have gone: what was numbered after it has another number now.
  return after >= before ? before : formOf(to).faceParts.length;
}

const cutsWithin = (cuts: readonly Cut[], from: UvMesh, to: UvMesh): Cut[] => {
  const kept = keptFaces(from, to);
  return cuts.map((cut) =>
    cutOver(cut, from.faceParts.length, to.faceParts.length, (f) => (f < kept ? f : -1)),
  );
};

/** Regions without the triangles of backdrops that are gone. */
export function regionsWithin(regions: readonly Region[], from: UvMesh, to: UvMesh): Region[] {
  if (from.faceParts.length === to.faceParts.length) return [...regions];
  const kept = keptFaces(from, to);
  return regions.map((region) => ({
    ...region,
    faces: region.faces.filter((f) => f < kept),
    cuts: cutsWithin(region.cuts, from, to),
  }));
}

/** The same of what holds strokes. */
export function guardsWithin<G extends { readonly faces: FaceRuns; readonly cuts: readonly Cut[] }>(
  guards: readonly G[],
  from: UvMesh,
  to: UvMesh,
): G[] {
  const [before, after] = [from.faceParts.length, to.faceParts.length];
  if (before === after) return [...guards];
  const kept = keptFaces(from, to);
  return guards.map((guard) => {
    const was = faceMask(before, guard.faces);
    return {
      ...guard,
      faces: faceRuns(after, (f) => f < kept && was[f] === 1),
      cuts: cutsWithin(guard.cuts, from, to),
    };
  });
}
