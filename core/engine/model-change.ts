import {
  checkAgainstModel,
  checkDocument,
  withMovedLayers,
  withRenamedParts,
  type ProjectDocument,
} from '../document';
import { CoreError } from '../errors';
import { compose, IDENTITY, type Placing, type StrokeKernels } from '../paint';
import {
  carryPaint,
  carryRegions,
  guardsWithin,
  placedCuts,
  regionsWithin,
  type Carried,
  type PlanePaint,
} from '../model';
import { faceMask, faceRuns, type FaceRuns, type UvMesh } from '../mesh';
import type { TileState } from '../pixels';
import { sizesKey, type SurfaceMap } from '../surface';
import type { ModelState } from './models';

/** Fields of the document that a change of the model may set as a whole. */
export type ModelPatch = Partial<
  Pick<
    ProjectDocument,
    'seams' | 'paintEdges' | 'foundSeams' | 'seamPoints' | 'seamWishes' | 'pins' | 'sheets' | 'weights'
  >
>;

/** A change of the model, its layout or the sheets' sizes, with the paint as it is carried over. */
export interface ModelChange {
  /** What the step is called. */
  readonly label: string;
  /** The revision that it began from, as `Engine.beginChange` told it. */
  readonly from: number;
  /** The revision at which the paint was fetched that has been carried. */
  readonly paintedAt: number;
  readonly model: ModelState;
  readonly patch: ModelPatch;
  /** Parts that are called otherwise from now on: what they were called, and are. */
  readonly renamed: readonly (readonly [was: string, is: string])[];
  readonly carried: Carried;
  readonly byTriangle: boolean;
  readonly placing: Placing | null;
  readonly align: Placing | null;
}

/** `again`: nothing was done; it has to be begun anew, or tried again when the stroke in hand is finished. */
export type ModelChanged =
  | { readonly done: true; readonly step: number }
  | { readonly done: false; readonly again: 'model' | 'stroke' };

interface Present {
  /** The document when the change began; undefined if that isn't known any more. */
  readonly begun: ProjectDocument | undefined;
  readonly document: ProjectDocument;
  readonly surface: SurfaceMap;
  readonly changedAt: (plane: number) => number;
  readonly paintOf: (plane: number) => PlanePaint;
  readonly planes: readonly number[];
  readonly kernels: StrokeKernels;
  readonly files: ReadonlyMap<number, Uint8Array>;
}

/** Wishes lie where they lay on the former model. */
function carriedWishes(
  from: UvMesh,
  to: UvMesh,
  wishes: ProjectDocument['seamWishes'],
  align: Placing | null,
): ProjectDocument['seamWishes'] {
  const count = from.faceParts.length;
  const facesOf = (runs: FaceRuns): number[] => {
    const mask = faceMask(count, runs);
    return [...mask.keys()].filter((f) => mask[f]);
  };
  const said = [wishes.never, wishes.gladly];
  if (said.every((runs) => runs.length === 0)) return wishes;
  const regions = said.map((runs, id) => ({ id, name: '', faces: facesOf(runs), cuts: [] }));
  const [never, gladly] = carryRegions(from, to, regions, align).map(({ faces }) => {
    const inside = new Set(faces);
    return faceRuns(to.faceParts.length, (f) => inside.has(f));
  });
  return { never: never!, gladly: gladly! };
}

/**
 * What a change of model comes to on the project as it is now. Planes that were painted since they were carried are carried here.
 *
 * @returns null if what it began from no longer holds
 * @throws CoreError `bad-argument`, `document-invalid`
 */
export function planModelChange(
  change: ModelChange,
  present: Present,
): { readonly document: ProjectDocument; readonly pixels: readonly TileState[] } | null {
  const { document, surface, begun } = present;
  if (!begun || begun.model !== document.model || sizesKey(begun.sheets) !== sizesKey(document.sheets))
    return null;
  const set = Object.keys(change.patch) as (keyof ModelPatch)[];
  if (set.some((key) => begun[key] !== document[key])) return null;
  const { carried, placing, align, byTriangle, model } = change;
  const { sameFaces } = carried;
  const frames = !sameFaces
    ? [{ id: 0, placing: IDENTITY }]
    : placing
      ? document.frames.map((f) => ({ ...f, placing: compose(placing, f.placing) }))
      : document.frames;
  const [was, is] = [surface.mesh, model.surface.mesh];
  const guards = sameFaces ? guardsWithin(placedCuts(document.guards, placing), was, is) : [];
  const late = present.planes.filter(
    (plane) => present.changedAt(plane) > change.paintedAt || !carried.planes.some((p) => p.plane === plane),
  );
  const planes = new Map(carried.planes.map((p) => [p.plane, p]));
  const { kernels } = present;
  const caughtUp = carryPaint({
    from: surface,
    to: model.surface,
    planes: late.map(present.paintOf),
    byTriangle,
    placing,
    align,
    context: { guards: document.guards, frames, files: present.files },
    regions: [],
    kernels,
  });
  for (const plane of caughtUp.planes) planes.set(plane.plane, plane);
  // Planes of layers that are gone by now.
  for (const plane of planes.keys()) if (!present.planes.includes(plane)) planes.delete(plane);
  const regions =
    begun.regions === document.regions
      ? carried.regions
      : sameFaces
        ? regionsWithin(placedCuts(document.regions, placing), was, is)
        : carryRegions(surface.mesh, model.surface.mesh, document.regions, align);
  const after: ProjectDocument = {
    ...withMovedLayers(withRenamedParts(document, change.renamed), placing ?? align),
    ...(sameFaces
      ? {}
      : {
          seams: [],
          paintEdges: [],
          foundSeams: [],
          seamPoints: [],
          seamWishes: carriedWishes(surface.mesh, model.surface.mesh, document.seamWishes, align),
          pins: [],
        }),
    ...change.patch,
    model: model.hash,
    regions: [...regions],
    frames,
    guards,
    bases: [...planes.values()].flatMap(({ plane, baseStrokes }) =>
      baseStrokes === null ? [] : [{ plane, strokes: baseStrokes }],
    ),
  };
  if (sizesKey(after.sheets) !== sizesKey(model.surface.sheets)) {
    throw new CoreError('bad-argument', 'The sheets were measured at other sizes than they have.');
  }
  checkAgainstModel(checkDocument(after), model.surface.mesh.faceParts.length);
  return { document: after, pixels: [...planes.values()].flatMap((p) => p.pixels) };
}
