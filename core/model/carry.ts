import { faceMapOf, Follower, ModelLinks, sameTriangles, type FaceMap, type ModelMove } from '../follow';
import { IDENTITY, inverse } from '../math';
import type { UvMesh } from '../mesh';
import type { StrokeKernels } from '../paint';
import { followGuards } from '../region';
import { placeLayers, sizesKey, type SurfaceMap } from '../surface';
import { carryBackdrops, groundStates, haveSameForm, statesOf } from './carry-backdrops';
import type { CarriedChannel, ChannelPaint } from './plane-paint';
import { facesOnSheets, keptParts } from './kept-parts';
import { collectDifferences, noDifferences, summarise, type CarryLoss } from './loss';
import { StrokeReplayer, type StrokeContext } from './replay';
import { resampleChannel } from './resample-plane';

export interface CarryInput {
  readonly from: SurfaceMap;
  readonly to: SurfaceMap;
  /** What became of the model. */
  readonly how: ModelHow;
  /** Which triangles became which, where that is known already. */
  readonly faces?: FaceMap;
  readonly planes: readonly ChannelPaint[];
  /** Frames, guards and files of the project as it is before. */
  readonly context: StrokeContext;
  readonly kernels: StrokeKernels;
  readonly onProgress?: (done: number) => void;
}

/** What becomes of a model, beside the model itself. */
export type ModelHow = Omit<ModelMove, 'from' | 'to'>;

export interface Carried {
  readonly planes: readonly CarriedChannel[];
  /** Planes that were painted again stroke by stroke, and those whose pixels were resampled. */
  readonly repainted: readonly number[];
  readonly resampled: readonly number[];
  readonly loss: CarryLoss;
  /** Parts of the new model for which no place within reach was found on the old one. */
  readonly unmatched: readonly string[];
  /** Parts of the new model of which every texel is where it was. */
  readonly kept: readonly string[];
  /** Which triangles became which: all that refers to the model follows by it. */
  readonly faces: FaceMap;
}

/**
 * Carries planes to another layout, size or model by their place on the surface. Strokes are made again where the triangles are the
 * same, on what lies under them; that, and everything where triangles are others, is resampled once.
 */
export function carryPaint(input: CarryInput): Carried {
  const { from, to, planes, kernels, onProgress, how } = input;
  const move = { from: from.mesh, to: to.mesh, ...how };
  const model = new Follower(move, input.faces ?? facesOf(from, to, move));
  const { faces } = model;
  if (faces.exact && !model.placing && haveSameForm(from, to)) {
    onProgress?.(1);
    return {
      ...carryBackdrops(from, to, planes, model, input.context),
      repainted: [],
      loss: summarise(noDifferences()),
      unmatched: [],
      kept: to.mesh.parts,
      faces,
    };
  }
  const sameFaces = faces.identical;
  const sameShape = sameFaces && sameTriangles(from.mesh, to.mesh, how.placing ?? IDENTITY);
  // What was only welded counts as where it was.
  const isReshaped = !sameShape && !sameTriangles(from.mesh, to.mesh, [...(how.placing ?? IDENTITY)]);
  const untouched = sameFaces && sameTexels(from, to);
  const links = sameFaces ? null : new ModelLinks(from.mesh, to.mesh, how.align ?? IDENTITY);
  const kept =
    faces.kept.length > 0 ? { now: new Set(faces.kept), was: formerParts(move, faces.kept) } : null;
  // The way back: where what was painted is now.
  const back = sameFaces ? null : new ModelLinks(to.mesh, from.mesh, inverse(how.align ?? IDENTITY));
  // Where several places share texels, a stroke showed in all of them: on another layout what was shown is carried, not what was done.
  const isShared = placeLayers(from) > 1 || placeLayers(to) > 1;
  const isSameLayout = sameFaces && (!isShared || sameUvs(from.mesh, to.mesh));
  const replayer =
    sameShape && isSameLayout && !untouched
      ? new StrokeReplayer(to, kernels, followed(input.context, model))
      : null;
  const repainted: number[] = [];
  const resampled: number[] = [];
  const differences = noDifferences();
  const carried = planes.map((paint, i): CarriedChannel => {
    const { plane, tiles, base, strokes } = paint;
    onProgress?.(i / planes.length);
    // Strokes were made on another shape: what they left stays, and they are made again no more.
    if (untouched) return isReshaped ? asPixels(paint) : unchanged(paint);
    if (replayer?.knows(strokes) && (strokes.length > 0 || tiles.size === 0)) {
      const ground = base ? resampleChannel(from, to, base, null) : new Map<number, Uint8Array>();
      const next = new Map(ground);
      replayer.replay(strokes, next);
      collectDifferences(from, to, tiles, next, null, differences);
      if (tiles.size > 0) repainted.push(plane);
      if (base?.size) resampled.push(plane);
      return {
        plane,
        pixels: [...statesOf(plane, next), ...(base ? groundStates(plane, ground, next) : [])],
        baseStrokes: base ? paint.allStrokes - strokes.length : null,
      };
    }
    const next = resampleChannel(from, to, tiles, links, kept);
    collectDifferences(from, to, tiles, next, back, differences, kept?.was);
    if (tiles.size > 0) resampled.push(plane);
    return { plane, pixels: statesOf(plane, next), baseStrokes: paint.allStrokes };
  });
  onProgress?.(1);
  return {
    planes: carried,
    repainted,
    resampled,
    loss: summarise(differences),
    unmatched: (links?.unmatched() ?? []).filter((name) => !kept?.now.has(to.mesh.parts.indexOf(name))),
    kept: untouched ? to.mesh.parts : faces.kept.map((part) => to.mesh.parts[part]!),
    faces,
  };
}

/** Which triangles became which. On parts that keep their layout they go by where they lie on the sheet. */
function facesOf(from: SurfaceMap, to: SurfaceMap, move: ModelMove): FaceMap {
  const faces = faceMapOf(move);
  if (faces.exact || !move.keepsSheets) return faces;
  return facesOnSheets(faces, from, to, move.renamed, keptParts(from, to, move.renamed));
}

/** What parts were before, by their numbers there. */
function formerParts({ from, to, renamed }: ModelMove, parts: readonly number[]): ReadonlySet<number> {
  const was = new Map(renamed.map(([before, is]) => [is, before]));
  return new Set(parts.map((part) => from.parts.indexOf(was.get(to.parts[part]!) ?? to.parts[part]!)));
}

/** What strokes refer to, as it is on the model that comes. */
const followed = (
  { guards, frames, files, motions, modelFile }: StrokeContext,
  model: Follower,
): StrokeContext => ({
  guards: followGuards(guards, model),
  frames: model.frames(frames),
  ...(files && { files }),
  ...(motions && { motions }),
  ...(modelFile && {
    modelFile: { ...modelFile, placing: model.filePlacing(modelFile.placing) },
  }),
});

function unchanged({ plane, tiles, base, strokes, allStrokes }: ChannelPaint): CarriedChannel {
  return {
    plane,
    pixels: [...statesOf(plane, tiles), ...(base ? groundStates(plane, base, tiles) : [])],
    baseStrokes: base ? allStrokes - strokes.length : null,
  };
}

/** The same pixels, without the strokes that made them. */
const asPixels = (paint: ChannelPaint): CarriedChannel => ({
  plane: paint.plane,
  pixels: statesOf(paint.plane, paint.tiles),
  baseStrokes: paint.allStrokes,
});

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
