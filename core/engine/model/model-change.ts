import { checkAgainstModel, checkDocument, followModel, type ProjectDocument } from '../../document';
import { CoreError } from '../../errors';
import { Follower } from '../../follow';
import { carryPaint, type Carried, type ModelHow, type ChannelPaint } from '../../model';
import type { Placing } from '../../math';
import type { Motion } from '../../motion';
import type { StrokeKernels } from '../../paint';
import type { TileState } from '../../pixels';
import { sizesKey, type SurfaceMap } from '../../surface';
import type { ModelState } from './models';

/** Fields of the document that a change of the model may set as a whole. */
export type ModelPatch = Partial<
  Pick<
    ProjectDocument,
    'seams' | 'paintEdges' | 'foundSeams' | 'seamPoints' | 'seamWishes' | 'pins' | 'sheets' | 'weights'
  >
>;

/** A file that a model is read from, before it has its number in the project. */
export interface ModelFileWish {
  readonly name: string;
  readonly bytes: Uint8Array;
  readonly placing: Placing | null;
}

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
  /** The file that the model was read from, where it is another one: null if none is kept of it. */
  readonly file?: ModelFileWish | null;
  /** What becomes of the model. */
  readonly how: ModelHow;
  readonly carried: Carried;
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
  readonly paintOf: (plane: number) => ChannelPaint;
  readonly planes: readonly number[];
  readonly kernels: StrokeKernels;
  readonly files: ReadonlyMap<number, Uint8Array>;
  readonly motions: ReadonlyMap<number, Motion | null>;
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
  const { carried, how, model } = change;
  const to = model.surface;
  const late = present.planes.filter(
    (plane) => present.changedAt(plane) > change.paintedAt || !carried.planes.some((p) => p.plane === plane),
  );
  const planes = new Map(carried.planes.map((p) => [p.plane, p]));
  const caughtUp = carryPaint({
    from: surface,
    to,
    how,
    faces: carried.faces,
    planes: late.map(present.paintOf),
    context: {
      guards: document.guards,
      frames: document.frames,
      files: present.files,
      modelFile: change.file === undefined ? document.modelFile : null,
      motions: present.motions,
    },
    kernels: present.kernels,
  });
  for (const plane of caughtUp.planes) planes.set(plane.plane, plane);
  // Planes of layers that are gone by now.
  for (const plane of planes.keys()) if (!present.planes.includes(plane)) planes.delete(plane);
  const followed = followModel(
    document,
    new Follower({ from: surface.mesh, to: to.mesh, ...how }, carried.faces),
  );
  const there = new Set(planes.keys());
  const after: ProjectDocument = {
    ...followed,
    ...change.patch,
    ...fileOf(change, followed.nextId),
    model: model.hash,
    bases: [
      // What is said of planes that hold nothing now holds on: strokes that are under it stay under it.
      ...document.bases.filter(({ plane }) => !there.has(plane)),
      ...[...planes.values()].flatMap(({ plane, baseStrokes }) =>
        baseStrokes === null ? [] : [{ plane, strokes: baseStrokes }],
      ),
    ],
  };
  if (sizesKey(after.sheets) !== sizesKey(to.sheets)) {
    throw new CoreError('bad-argument', 'The sheets were measured at other sizes than they have.');
  }
  checkAgainstModel(checkDocument(after, document), to.mesh.faceParts.length);
  return { document: after, pixels: [...planes.values()].flatMap((p) => p.pixels) };
}

/** The file of the model from now on. @param nextId the number that a new one gets */
function fileOf(
  { file }: ModelChange,
  nextId: number,
): Partial<Pick<ProjectDocument, 'modelFile' | 'nextId'>> {
  if (file === undefined) return {};
  if (file === null) return { modelFile: null };
  const { name, placing } = file;
  return { modelFile: { id: nextId, name, placing: placing && [...placing] }, nextId: nextId + 1 };
}
