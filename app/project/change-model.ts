import {
  backdropsOf,
  formOf,
  movedBackdrop,
  withBackdrops,
  type Backdrop,
  type UvMesh,
} from '../../core/mesh';
import type { Carried, ModelPatch, ModelState, ProjectDocument } from '../../core/engine';
import { CoreError } from '../../core/errors';
import { compose, inverse, picturesOf, placed, type Placing } from '../../core/paint';
import { sizesKey } from '../../core/surface';
import { jobPool } from '../shared/platform';
import { measureModel } from './measure-model';
import type { PaintLink } from './paint-link';

/** How far the progress of a change of model is when the mesh has been made, and when it has been measured. */
const MADE = 0.6;
const MEASURED = 0.75;

/** A change of model that meets another one is begun again so often. */
const MOST_BEGINS = 3;

/** How long is waited for a stroke in hand before a change of model is tried again. */
const STROKE_WAIT_MS = 150;

/** What comes instead of the present mesh. */
export interface MadeModel {
  readonly mesh: UvMesh;
  readonly patch?: ModelPatch;
  /** Triangles of the same number are the same place; so they are where this is left out. */
  readonly byTriangle?: boolean;
  /** Parts that are called otherwise: what they were called, and are. */
  readonly renamed?: readonly (readonly [was: string, is: string])[];
  /** How the model was placed anew, if that is all that happened to its shape. */
  readonly placing?: Placing;
  /** Takes another model to where the old one stands. */
  readonly align?: Placing;
  /** Makes the backdrops that there are from now on of those that stand now; left out: they stay, moved along with the model. */
  readonly backdrops?: (stood: readonly Backdrop[]) => readonly Backdrop[];
}

/** Makes another model. @param mesh without its backdrops, which are put back behind what is made */
export type MakeModel = (
  mesh: UvMesh,
  document: ProjectDocument,
  signal: AbortSignal,
  progress: (done: number) => void,
) => Promise<MadeModel>;

interface Open {
  readonly link: PaintLink;
  /** The one in hand now. */
  readonly model: () => ModelState;
}

interface Wish {
  readonly label: string;
  readonly make: MakeModel;
  readonly signal: AbortSignal;
  readonly progress: (done: number) => void;
}

/**
 * Changes the model, its layout or its sheets together with all paint, as one step. What is painted meanwhile is carried too; a
 * change that meets another one is begun again.
 *
 * @returns what became of the paint; null if nothing changed
 * @throws CoreError `bad-argument` if it meets other changes again and again; as the jobs and the paint worker do
 */
export async function changeModel(open: Open, wish: Wish): Promise<Carried | null> {
  for (let begin = 0; begin < MOST_BEGINS; begin++) {
    const carried = await tryChange(open, wish);
    if (carried !== 'again') return carried;
  }
  throw new CoreError(
    'bad-argument',
    `“${wish.label}” met other changes of the model again and again and was given up. Nothing was changed; try it once more.`,
  );
}

async function tryChange(
  { link, model: inHand }: Open,
  { label, make, signal, progress }: Wish,
): Promise<Carried | null | 'again'> {
  const { from, document } = await link.ask('beginChange', null);
  const { surface, hash: modelHash } = inHand();
  if (modelHash !== document.model) return 'again';
  const made = await make(formOf(surface.mesh), document, signal, (done) => progress(done * MADE));
  const { patch = {}, byTriangle = true, placing = null, align = null } = made;
  const { mesh, renamed } = withItsBackdrops(surface.mesh, made);
  const sheets = patch.sheets ?? document.sheets;
  const hash = await jobPool.run('meshHash', { mesh }, { signal });
  if (hash === modelHash && sizesKey(sheets) === sizesKey(surface.sheets)) return null;
  const to = await measureModel({ mesh, hash, sheets }, { signal });
  progress(MEASURED);
  const { paintedAt, planes } = await link.ask('paintPlanes', null);
  const frames = placing
    ? document.frames.map((f) => ({ ...f, placing: compose(placing, f.placing) }))
    : document.frames;
  const { guards, regions } = document;
  // What strokes were painted with and through.
  const files = new Map<number, Uint8Array>();
  for (const id of new Set(planes.flatMap((p) => p.strokes.flatMap(picturesOf)))) {
    const bytes = await link.ask('file', { id });
    if (bytes) files.set(id, bytes);
  }
  const carried = await jobPool.run(
    'carryPaint',
    { from: surface, to, planes, byTriangle, placing, align, context: { guards, frames, files }, regions },
    { signal, onProgress: (done) => progress(MEASURED + (1 - MEASURED) * done) },
  );
  const model = { hash, surface: to };
  const change = { label, from, paintedAt, model, patch, renamed, carried, byTriangle, placing, align };
  for (;;) {
    signal.throwIfAborted();
    const changed = await link.change('changeModel', { change });
    if (changed.done) return carried;
    if (changed.again === 'model') return 'again';
    await new Promise((resolve) => setTimeout(resolve, STROKE_WAIT_MS));
  }
}

/** What was made, with the backdrops that stood with the model or that are wanted instead. */
function withItsBackdrops(
  before: UvMesh,
  { mesh, backdrops, placing, align, renamed = [] }: MadeModel,
): { readonly mesh: UvMesh; readonly renamed: NonNullable<MadeModel['renamed']> } {
  // Another model is looked for where the old one stands; the backdrops go to where it came from.
  const move = placing ?? (align ? inverse(align) : null);
  const stood = backdropsOf(before).map((b) => (move ? movedBackdrop(b, (point) => placed(point, move)) : b));
  const names = new Set(formOf(mesh).parts);
  const wanted = (backdrops ? backdrops(stood) : stood).map((backdrop) => {
    const name = freeName(backdrop.name, names);
    names.add(name);
    return { ...backdrop, name };
  });
  const also = backdrops ? [] : stood.map(({ name }, i) => [name, wanted[i]!.name] as const);
  return {
    mesh: withBackdrops(formOf(mesh), wanted),
    renamed: [...renamed, ...also.filter(([was, is]) => was !== is)],
  };
}

/** A part of the model may be called like a backdrop from now on. */
function freeName(name: string, taken: ReadonlySet<string>): string {
  let free = name;
  for (let n = 2; taken.has(free); n++) free = `${name} ${n}`;
  return free;
}
