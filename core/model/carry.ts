import { cutOver, movedCuts, type Cut, type Region } from '../region';
import { type MeshPlace, type UvMesh } from '../mesh';
import { IDENTITY, inverse, type Placing, type StrokeKernels } from '../paint';
import { sizesKey, type SurfaceMap } from '../surface';
import { carryBackdrops, groundStates, haveSameForm, regionsWithin, statesOf } from './carry-backdrops';
import type { CarriedPlane, PlanePaint } from './plane-paint';
import { collectDifferences, summarise, type CarryLoss } from './loss';
import { ModelLinks } from './model-links';
import { StrokeReplayer, type StrokeContext } from './replay';
import { resamplePlane } from './resample-plane';

export interface CarryInput {
  readonly from: SurfaceMap;
  readonly to: SurfaceMap;
  readonly planes: readonly PlanePaint[];
  /** Triangles of the same number are the same place, wherever they lie now. Otherwise places are found by name and nearness. */
  readonly byTriangle: boolean;
  /** How the model was placed anew, if that is all that happened to its shape. */
  readonly placing: Placing | null;
  /** Takes another model to where the old one stands. */
  readonly align: Placing | null;
  /** Frames as they hold on the new model, after `placing`; guards as they were. */
  readonly context: StrokeContext;
  /** Selections of faces, carried along. */
  readonly regions: readonly Region[];
  readonly kernels: StrokeKernels;
  readonly onProgress?: (done: number) => void;
}

export interface Carried {
  readonly planes: readonly CarriedPlane[];
  /** Planes that were painted again stroke by stroke, and those whose pixels were resampled. */
  readonly repainted: readonly number[];
  readonly resampled: readonly number[];
  /** Null where another model has no place to compare with. */
  readonly loss: CarryLoss | null;
  /** Parts of the new model for which no place within reach was found on the old one. */
  readonly unmatched: readonly string[];
  readonly regions: readonly Region[];
  /** Whether triangles kept their numbers: guards and seams still name the same ones. */
  readonly sameFaces: boolean;
}

/**
 * Carries planes to another layout, size or model by their place on the surface. Strokes are made again where the triangles are the
 * same, on what lies under them; that, and everything where triangles are others, is resampled once.
 */
export function carryPaint(input: CarryInput): Carried {
  const { from, to, planes, kernels, onProgress, placing } = input;
  if (input.byTriangle && !placing && haveSameForm(from, to)) {
    onProgress?.(1);
    return {
      ...carryBackdrops(from, to, planes),
      repainted: [],
      loss: summarise([]),
      unmatched: [],
      regions: regionsWithin(input.regions, from.mesh, to.mesh),
      sameFaces: true,
    };
  }
  const context = { ...input.context, guards: placedCuts(input.context.guards, placing) };
  const sameShape = sameTriangles(from.mesh, to.mesh, input.placing ?? IDENTITY);
  const sameFaces = sameShape || (input.byTriangle && from.mesh.indices.length === to.mesh.indices.length);
  const untouched = sameFaces && sameTexels(from, to);
  const links = sameFaces ? null : new ModelLinks(from.mesh, to.mesh, input.align ?? IDENTITY);
  const replayer = sameShape && !untouched ? new StrokeReplayer(to, kernels, context) : null;
  const repainted: number[] = [];
  const resampled: number[] = [];
  const worst: number[] = [];
  const carried = planes.map((paint, i): CarriedPlane => {
    const { plane, tiles, base, strokes } = paint;
    onProgress?.(i / planes.length);
    if (untouched) return unchanged(paint);
    if (replayer && (strokes.length > 0 || tiles.size === 0)) {
      const ground = base ? resamplePlane(from, to, base, null) : new Map<number, Uint8Array>();
      const next = new Map(ground);
      replayer.replay(strokes, next);
      collectDifferences(from, to, tiles, next, worst);
      if (tiles.size > 0) repainted.push(plane);
      if (base?.size) resampled.push(plane);
      return {
        plane,
        pixels: [...statesOf(plane, next), ...(base ? groundStates(plane, ground, next) : [])],
        baseStrokes: base ? paint.allStrokes - strokes.length : null,
      };
    }
    const next = resamplePlane(from, to, tiles, links);
    if (sameFaces) collectDifferences(from, to, tiles, next, worst);
    if (tiles.size > 0) resampled.push(plane);
    return { plane, pixels: statesOf(plane, next), baseStrokes: paint.allStrokes };
  });
  onProgress?.(1);
  return {
    planes: carried,
    repainted,
    resampled,
    loss: sameFaces ? summarise(worst) : null,
    unmatched: links?.unmatched() ?? [],
    regions: sameFaces
      ? placedCuts(input.regions, placing)
      : carryRegions(from.mesh, to.mesh, input.regions, input.align),
    sameFaces,
  };
}

function unchanged({ plane, tiles, base, strokes, allStrokes }: PlanePaint): CarriedPlane {
  return {
    plane,
    pixels: [...statesOf(plane, tiles), ...(base ? groundStates(plane, base, tiles) : [])],
    baseStrokes: base ? allStrokes - strokes.length : null,
  };
}

/** Whether two meshes have the same triangles in the same places, whatever their layouts are, after `placing` the first. */
export function sameTriangles(a: UvMesh, b: UvMesh, placing: Placing = IDENTITY): boolean {
  if (a.indices.length !== b.indices.length) return false;
  // Placed positions are rounded to 32 bit again: they agree to a few units in the last place of the model's extent.
  const exact = placing === IDENTITY;
  const extent = b.positions.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
  for (let c = 0; c < a.indices.length; c++) {
    const i = a.indices[c]! * 3;
    const j = b.indices[c]! * 3;
    for (let k = 0; k < 3; k++) {
      const row = placing.slice(k * 4, k * 4 + 4);
      const x = exact
        ? a.positions[i + k]!
        : row[0]! * a.positions[i]! + row[1]! * a.positions[i + 1]! + row[2]! * a.positions[i + 2]! + row[3]!;
      if (exact ? x !== b.positions[j + k] : Math.abs(x - b.positions[j + k]!) > extent * 1e-6) return false;
    }
  }
  return true;
}

/** Whether every texel belongs to the same triangle in the same way. */
function sameTexels(a: SurfaceMap, b: SurfaceMap): boolean {
  const same = (x: Int32Array, y: Int32Array): boolean =>
    x.length === y.length && x.every((v, i) => v === y[i]);
  return (
    sizesKey(a.sheets) === sizesKey(b.sheets) &&
    same(a.slotOfTile, b.slotOfTile) &&
    same(a.codes, b.codes) &&
    sameUvs(a.mesh, b.mesh)
  );
}

function sameUvs(a: UvMesh, b: UvMesh): boolean {
  return a.indices.every((v, c) => {
    const w = b.indices[c]!;
    return a.uvs[v * 2] === b.uvs[w * 2] && a.uvs[v * 2 + 1] === b.uvs[w * 2 + 1];
  });
}

/** Regions or guards of a model that was placed anew: what was cut through triangles goes with it. */
export function placedCuts<T extends { readonly cuts: readonly Cut[] }>(
  list: readonly T[],
  placing: Placing | null,
): T[] {
  if (!placing || !list.some((item) => item.cuts.length)) return [...list];
  const back = inverse(placing);
  return list.map((item) => (item.cuts.length ? { ...item, cuts: movedCuts(item.cuts, back) } : item));
}

/** A triangle of another model belongs to the regions of the place that lies nearest to its middle. */
export function carryRegions(
  from: UvMesh,
  to: UvMesh,
  regions: readonly Region[],
  align: Placing | null,
): Region[] {
  if (regions.length === 0) return [];
  const links = new ModelLinks(from, to, align ?? IDENTITY);
  const place: MeshPlace = { face: -1, w0: 1, w1: 0, w2: 0, distance: 0 };
  const { indices, positions, faceParts } = to;
  const source = new Int32Array(faceParts.length).fill(-1);
  const middle = (f: number, axis: number): number =>
    [0, 1, 2].reduce((sum, k) => sum + positions[indices[f * 3 + k]! * 3 + axis]!, 0) / 3;
  for (let f = 0; f < source.length; f++) {
    if (links.find(faceParts[f]!, middle(f, 0), middle(f, 1), middle(f, 2), place)) source[f] = place.face;
  }
  return regions.map((region) => {
    const inside = new Set(region.faces);
    const faces: number[] = [];
    source.forEach((old, f) => {
      if (inside.has(old)) faces.push(f);
    });
    const cuts = region.cuts.map((cut) =>
      cutOver(cut, from.faceParts.length, source.length, (f) => source[f]!),
    );
    return { ...region, faces, cuts: align ? movedCuts(cuts, align) : cuts };
  });
}
