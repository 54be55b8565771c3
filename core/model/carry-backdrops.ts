import type { Follower } from '../follow';
import { baseOf } from '../layers';
import { copiesOf, EMPTY_TILE, SAMPLE_STRIDE, type Stroke } from '../paint';
import { compose, placed, type Vec3 } from '../math';
import {
  backdropsOf,
  subjectDiagonal,
  subjectOf,
  frameOfBackdrop,
  liesOn,
  sheetOfPart,
  type Backdrop,
  type UvMesh,
} from '../mesh';
import type { TileState } from '../pixels';
import { sheetOfTile, tileCount, type SurfaceMap } from '../surface';
import type { CarriedChannel, ChannelPaint } from './plane-paint';
import type { StrokeContext } from './replay';
import { resampleChannel } from './resample-plane';

type Tiles = ReadonlyMap<number, Uint8Array>;

/** What becomes of the sheets where only backdrops come, go or move. */
interface SheetMoves {
  /** The sheet that each sheet was; -1: it is new. */
  readonly was: readonly number[];
  /** Those of backdrops that stand otherwise now: what was painted on them isn't its strokes any more. */
  readonly moved: ReadonlySet<number>;
  /** Every place where a backdrop stands that didn't, or stood that doesn't any more. */
  readonly changed: readonly Backdrop[];
}

/** Whether two surfaces have the same model in the same layout, and differ in their backdrops alone. */
export function haveSameForm(from: SurfaceMap, to: SurfaceMap): boolean {
  const [before, after] = [backdropsOf(from.mesh), backdropsOf(to.mesh)];
  // Where all of them stand as they stood, nothing of this kind has happened.
  if (before.length === after.length && after.every((b, k) => stands(before[k]!, b))) return false;
  const [a, b] = [subjectOf(from.mesh), subjectOf(to.mesh)];
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

function sheetMoves(from: SurfaceMap, to: SurfaceMap, names: Follower['names']): SheetMoves {
  const was = to.sheets.map(() => -1);
  const form = subjectOf(to.mesh);
  form.parts.forEach((_, part) => (was[sheetOfPart(to.mesh, part)] = sheetOfPart(from.mesh, part)));
  const moved = new Set<number>();
  const before = new Map(backdropsOf(from.mesh).map((b) => [names.get(b.name) ?? b.name, b]));
  const changed = new Set(before.values());
  for (const backdrop of backdropsOf(to.mesh)) {
    const same = before.get(backdrop.name);
    if (!same || !stands(same, backdrop)) changed.add(backdrop);
    else changed.delete(same);
    if (!same) continue;
    was[backdrop.sheet] = same.sheet;
    const isResized = from.sheets[same.sheet]!.size !== to.sheets[backdrop.sheet]!.size;
    if (isResized || !stands(same, backdrop)) moved.add(backdrop.sheet);
  }
  return { was, moved, changed: [...changed] };
}

const stands = (a: Backdrop, b: Backdrop): boolean => alike(a.corners.flat(), b.corners.flat());

/**
 * Carries planes where only backdrops come, go or move: on the model every texel stays, and its strokes stay strokes. Those of a plane of which
 * one lies where a backdrop came, went or moved become its base: made again they would paint what stands there now.
 */
export function carryBackdrops(
  from: SurfaceMap,
  to: SurfaceMap,
  planes: readonly ChannelPaint[],
  { names }: Follower,
  { frames }: Pick<StrokeContext, 'frames'>,
): { readonly planes: readonly CarriedChannel[]; readonly resampled: readonly number[] } {
  const moves = sheetMoves(from, to, names);
  const meets = strokesMeet(moves.changed, subjectDiagonal(to.mesh), frames);
  const resampled: number[] = [];
  const carried = planes.map((paint): CarriedChannel => {
    const { plane, tiles, base, strokes, allStrokes } = paint;
    const now = carriedTiles(from, to, tiles, moves);
    const isMoved = [...now.keys()].some((tile) => moves.moved.has(sheetOfTile(to.sheets, tile)));
    if (isMoved) resampled.push(plane);
    if (isMoved || strokes.some(meets))
      return { plane, pixels: statesOf(plane, now), baseStrokes: allStrokes };
    const ground = base && carriedTiles(from, to, base, moves);
    return {
      plane,
      pixels: [...statesOf(plane, now), ...(ground ? groundStates(plane, ground, now) : [])],
      baseStrokes: base ? allStrokes - strokes.length : null,
    };
  });
  return { planes: carried, resampled };
}

/** Tells whether a stroke, or a copy of it, has a place on one of some backdrops. */
function strokesMeet(
  backdrops: readonly Backdrop[],
  diagonal: number,
  frames: StrokeContext['frames'],
): (stroke: Stroke) => boolean {
  const flats = backdrops.map(frameOfBackdrop);
  return (stroke) =>
    copiesOf('symmetry' in stroke ? stroke.symmetry : undefined).some((copy) => {
      const frame = frames.find((f) => f.id === stroke.frame)?.placing;
      const placing = frame ? compose(frame, copy) : copy;
      return stroke.runs.some((run) => {
        for (let o = 0; o + SAMPLE_STRIDE <= run.length; o += SAMPLE_STRIDE) {
          const at: Vec3 = placed([run[o]!, run[o + 1]!, run[o + 2]!], placing);
          if (flats.some((flat) => liesOn(flat, at, diagonal))) return true;
        }
        return false;
      });
    });
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
    if (!isSame) again ??= resampleChannel(from, to, tiles, null);
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
