import type { ProjectDocument } from '../../document';
import { CoreError } from '../../errors';
import { readFileMotion } from '../../formats';
import { inverse, placed } from '../../math';
import type { Motion } from '../../motion';
import {
  backdropsOf,
  subjectOf,
  meshHash,
  movedBackdrop,
  withBackdrops,
  type Backdrop,
  type UvMesh,
} from '../../mesh';
import { carryPaint, type Carried, type CarryInput, type ModelHow, type ChannelPaint } from '../../model';
import { picturesOf, type StrokeKernels } from '../../paint';
import { measureSurface, sizesKey, type SurfaceMap } from '../../surface';
import type { Engine } from '../engine';
import type { ModelChange, ModelChanged, ModelFileWish, ModelPatch } from './model-change';
import type { ModelState } from './models';

/** How far the progress of a change of model is when the mesh has been made, and when it has been measured. */
const MADE = 0.6;
const MEASURED = 0.75;

/** A change of model that meets another one is begun again so often. */
const MOST_BEGINS = 3;

/** What comes instead of the present mesh. */
export interface MadeModel extends Partial<ModelHow> {
  readonly mesh: UvMesh;
  readonly patch?: ModelPatch;
  /** The file that it was read from, where it is another model; null: none is kept of it. */
  readonly file?: ModelFileWish | null;
  /** Makes the backdrops that there are from now on of those that stand now; left out: they stay, moved along with the model. */
  readonly backdrops?: (stood: readonly Backdrop[]) => readonly Backdrop[];
}

/** Ends work that isn't wanted any more, by throwing; an AbortSignal is one. */
export interface Stop {
  throwIfAborted(): void;
}

/** For work that nobody stops. */
export const NEVER_STOPS: Stop = { throwIfAborted: () => undefined };

/** Makes another model. @param mesh without its backdrops, which are put back behind what is made */
export type MakeModel<S extends Stop> = (
  mesh: UvMesh,
  document: ProjectDocument,
  signal: S,
  progress: (done: number) => void,
) => MadeModel | Promise<MadeModel>;

/** Where a project is changed: its engine, here or in a worker, and who does the long work. */
export interface ModelHost<S extends Stop> {
  /** The model in hand now. */
  readonly model: () => ModelState;
  begin(): Promise<{ readonly from: number; readonly document: ProjectDocument }>;
  paint(): Promise<{ readonly paintedAt: number; readonly planes: readonly ChannelPaint[] }>;
  /** What came as a file; null if there is none of that id. */
  file(id: number): Promise<Uint8Array | null>;
  hash(mesh: UvMesh, signal: S): Promise<string>;
  measure(
    model: {
      readonly mesh: UvMesh;
      readonly hash: string;
      readonly sheets: readonly { readonly size: number }[];
    },
    signal: S,
  ): Promise<SurfaceMap>;
  carry(
    input: Omit<CarryInput, 'kernels' | 'onProgress'>,
    signal: S,
    progress: (done: number) => void,
  ): Promise<Carried>;
  change(change: ModelChange): Promise<ModelChanged>;
  /** A stroke is being made: resolves when it is worth another try. */
  rest(): Promise<void>;
}

interface Wish<S extends Stop> {
  readonly label: string;
  readonly make: MakeModel<S>;
  readonly signal: S;
  readonly progress?: (done: number) => void;
  /** Told what becomes of the paint before it is taken; throws where it isn't wanted so. */
  readonly accept?: (carried: Carried) => Promise<void>;
}

/**
 * Changes the model, its layout or its sheets together with all paint, as one step. What is painted meanwhile is carried too; a
 * change that meets another one is begun again.
 *
 * @returns what became of the paint; null if nothing changed
 * @throws CoreError `bad-argument` if it meets other changes again and again; as its host does
 */
export async function changeModel<S extends Stop>(
  host: ModelHost<S>,
  wish: Wish<S>,
): Promise<Carried | null> {
  const { label, make, signal, progress = () => undefined, accept = accepted } = wish;
  for (let begin = 0; begin < MOST_BEGINS; begin++) {
    const carried = await tryChange(host, { label, make, signal, progress, accept });
    if (carried !== 'again') return carried;
  }
  throw new CoreError(
    'bad-argument',
    `“${label}” met other changes of the model again and again and was given up. Nothing was changed; try it once more.`,
  );
}

const accepted = (): Promise<void> => Promise.resolve();

async function tryChange<S extends Stop>(
  host: ModelHost<S>,
  { label, make, signal, progress, accept }: Required<Wish<S>>,
): Promise<Carried | null | 'again'> {
  const { from, document } = await host.begin();
  const { surface, hash: modelHash } = host.model();
  if (modelHash !== document.model) return 'again';
  const made = await make(subjectOf(surface.mesh), document, signal, (done) => progress(done * MADE));
  const { patch = {}, byTriangle = true, placing = null, align = null, keepsSheets = false } = made;
  const { mesh, renamed } = withItsBackdrops(surface.mesh, made);
  const how: ModelHow = { byTriangle, placing, align, renamed, keepsSheets };
  const sheets = patch.sheets ?? document.sheets;
  const hash = await host.hash(mesh, signal);
  if (hash === modelHash && sizesKey(sheets) === sizesKey(surface.sheets)) return null;
  const to = await host.measure({ mesh, hash, sheets }, signal);
  progress(MEASURED);
  const { paintedAt, planes } = await host.paint();
  // What strokes were painted with and through.
  const files = new Map<number, Uint8Array>();
  for (const id of new Set(planes.flatMap((p) => p.strokes.flatMap(picturesOf)))) {
    const bytes = await host.file(id);
    if (bytes) files.set(id, bytes);
  }
  const { guards, frames, modelFile } = document;
  const motions = await motionsFor(host, document, planes);
  const carried = await host.carry(
    {
      from: surface,
      to,
      how,
      planes,
      context: { guards, frames, files, modelFile: made.file === undefined ? modelFile : null, motions },
    },
    signal,
    (done) => progress(MEASURED + (1 - MEASURED) * done),
  );
  await accept(carried);
  const change: ModelChange = {
    label,
    from,
    paintedAt,
    model: { hash, surface: to },
    patch,
    ...(made.file !== undefined && { file: made.file }),
    how,
    carried,
  };
  for (;;) {
    signal.throwIfAborted();
    const changed = await host.change(change);
    if (changed.done) return carried;
    if (changed.again === 'model') return 'again';
    await host.rest();
  }
}

/** How the model's file moves, where strokes were made in poses of it. */
async function motionsFor<S extends Stop>(
  host: ModelHost<S>,
  { modelFile }: ProjectDocument,
  planes: readonly ChannelPaint[],
): Promise<ReadonlyMap<number, Motion>> {
  const isPosed = planes.some(({ strokes }) => strokes.some(({ pose }) => pose?.file === modelFile?.id));
  const bytes = modelFile && isPosed ? await host.file(modelFile.id) : null;
  const motion = bytes && (await readFileMotion(bytes));
  return modelFile && motion ? new Map([[modelFile.id, motion]]) : new Map();
}

/** What was made, with the backdrops that stood with the model or that are wanted instead. */
function withItsBackdrops(
  before: UvMesh,
  { mesh, backdrops, placing, align, renamed = [] }: MadeModel,
): { readonly mesh: UvMesh; readonly renamed: ModelHow['renamed'] } {
  // Another model is looked for where the old one stands; the backdrops go to where it came from.
  const move = placing ?? (align ? inverse(align) : null);
  const stood = backdropsOf(before).map((b) => (move ? movedBackdrop(b, (point) => placed(point, move)) : b));
  const names = new Set(subjectOf(mesh).parts);
  const wanted = (backdrops ? backdrops(stood) : stood).map((backdrop) => {
    const name = freeName(backdrop.name, names);
    names.add(name);
    return { ...backdrop, name };
  });
  const also = backdrops ? [] : stood.map(({ name }, i) => [name, wanted[i]!.name] as const);
  return {
    mesh: withBackdrops(subjectOf(mesh), wanted),
    renamed: [...renamed, ...also.filter(([was, is]) => was !== is)],
  };
}

/** A part of the model may be called like a backdrop from now on. */
function freeName(name: string, taken: ReadonlySet<string>): string {
  let free = name;
  for (let n = 2; taken.has(free); n++) free = `${name} ${n}`;
  return free;
}

/** An engine that is here, with nobody else to do the work. */
export function hostHere(engine: Engine, kernels: StrokeKernels): ModelHost<Stop> {
  return {
    model: () => ({ hash: engine.document.model, surface: engine.surface }),
    begin: () => Promise.resolve(engine.beginChange()),
    paint: () => Promise.resolve(engine.paintPlanes()),
    file: (id) => Promise.resolve(engine.file(id)),
    hash: (mesh) => Promise.resolve(meshHash(mesh)),
    measure: ({ mesh, sheets }) =>
      Promise.resolve(
        measureSurface(
          mesh,
          sheets.map((s) => s.size),
        ),
      ),
    carry: (input, _signal, onProgress) => Promise.resolve(carryPaint({ ...input, kernels, onProgress })),
    change: (change) => Promise.resolve(engine.changeModel(change)),
    rest: () => Promise.reject(new CoreError('bad-argument', 'A stroke is being made. Finish it first.')),
  };
}
