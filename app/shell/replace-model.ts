import type { ProjectDocument } from '../../core/document';
import type { MadeModel, ModelFileWish } from '../../core/engine';
import { sentenceOf } from '../../core/errors';
import type { Placing } from '../../core/math';
import { mayShareLayout, putOnSheet, requireUvs, reshaped, sheetOfPart, type UvMesh } from '../../core/mesh';
import { alignBoxes, type CarryLoss } from '../../core/model';
import { chooseFiles } from '../shared/files';
import { lostWords } from '../shared/lost-words';
import { notify } from '../shared/notify';
import { jobPool } from '../shared/platform';
import { subjectNow, type Session, useProject } from '../project';
import { ask, type Question } from '../shared/question';
import {
  canBePainted,
  layOut,
  MODEL_FILES,
  readFiles,
  seamsOfLayout,
  type Opened,
} from './start/new-project';

/** Parts that were known before lie on the sheet that they lay on. */
function onFormerSheets(mesh: UvMesh): UvMesh {
  const former = subjectNow();
  if (!former?.partSheets) return mesh;
  return former.parts.reduce((m, name, p) => {
    const part = mesh.parts.indexOf(name);
    return part < 0 ? m : putOnSheet(m, [part], sheetOfPart(former, p));
  }, mesh);
}

/** What is asked where it isn't plain that one model is the other at another size. */
function doubt(times: number): Question {
  const size = times >= 1 ? `${times.toFixed(1)} times as large` : `${(1 / times).toFixed(1)} times smaller`;
  return {
    title: 'Where does the paint go?',
    text: `The new model is ${size}, stands elsewhere and has other proportions. If it is the same thing in other units, lay it over the old one, so that paint finds its place. If it was only reshaped, paint is looked for where the new model stands. The change can be undone either way.`,
    yes: 'Lay it over the old one',
    no: 'Leave it where it stands',
  };
}

type OpenedModel = Extract<Opened, { readonly kind: 'model' }>;

const fileOf = ({ file, name }: OpenedModel, placing: Placing | null): ModelFileWish | null =>
  file ? { name, bytes: file, placing } : null;

/** The model as the other version of its file has it, where only vertices have moved; null: it is another model. */
async function onSameTriangles(
  session: Session,
  { modelFile }: ProjectDocument,
  former: UvMesh,
  opened: OpenedModel,
): Promise<UvMesh | null> {
  const bytes = modelFile && (await session.file(modelFile.id));
  const read =
    bytes && (await jobPool.run('readModel', { name: 'former.glb', bytes, companions: new Map() }));
  return reshaped(former, read?.mesh ?? null, opened.mesh, modelFile?.placing ?? null);
}

/** What comes where the model is another; null: the artist has thought better of it. */
async function elsewhere(
  document: ProjectDocument,
  former: UvMesh,
  opened: OpenedModel,
): Promise<MadeModel | null> {
  const isReady = canBePainted(opened.mesh);
  const mesh = onFormerSheets(
    requireUvs(isReady ? opened.mesh : await layOut(opened.mesh, document.sheets[0]!.size)),
  );
  const { placing, certain, times } = alignBoxes(former, mesh);
  // Only the artist can tell whether a model of another shape is meant to lie over the old one.
  const overOld = certain || (await ask(doubt(times)));
  const mayKeep = isReady && overOld !== null && mayShareLayout(former, mesh);
  const keepsSheets = mayKeep ? await ask(SAME_UVS) : false;
  if (overOld === null || keepsSheets === null) return null;
  return {
    mesh,
    byTriangle: false,
    keepsSheets,
    file: fileOf(opened, null),
    ...(overOld && { align: placing }),
    ...(!isReady && { patch: seamsOfLayout(mesh) }),
  };
}

const SAME_TRIANGLES: Question = {
  title: 'Keep the sheets?',
  text: 'The new model has the same triangles on the same UVs; only vertices have moved. Every sheet can stay as it is, texel for texel, and go with the surface. Or paint is looked for where the new model stands. The change can be undone either way.',
  yes: 'Keep sheets',
  no: 'Find by place',
};

const SAME_UVS: Question = {
  title: 'How does paint find its place?',
  text: 'Parts whose UVs are as they were can keep every texel; the others are looked for by their place on the former model. Or all of it is looked for by place. The change can be undone either way.',
  yes: 'Keep same UVs',
  no: 'Find by place',
};

const paintWords = (loss: CarryLoss): string => {
  if (loss.places === 0) return 'Nothing was painted by hand.';
  return loss.lost > 0 ? lostWords(loss) : 'All that was painted looks as it did.';
};

/** Which parts keep their texels, in a sentence, where there are any. */
function keptWords(kept: readonly string[], parts: number): string[] {
  if (kept.length === 0) return [];
  if (kept.length === parts) return ['Every sheet stays as it was, texel for texel.'];
  const names = kept.length <= 4 ? kept.join(', ') : `${kept.length} of ${parts} parts`;
  return [`Texel for texel as it was: ${names}.`];
}

/** Brings a newer version of the model: build-up and paint stay, by part name and place on the surface. */
export async function replaceModel(session: Session): Promise<void> {
  const files = await chooseFiles(MODEL_FILES, true);
  const { document } = useProject.getState();
  if (files.length === 0 || !document) return;
  try {
    const opened = await readFiles(files);
    if (opened.kind !== 'model') {
      notify('That is a project file. Open it from the start page; here a model is expected.');
      return;
    }
    const former = subjectNow();
    if (!former) return;
    const same = await onSameTriangles(session, document, former, opened);
    const keeps = same !== null && (await ask(SAME_TRIANGLES));
    if (keeps === null) return;
    const made =
      same && keeps
        ? { mesh: same, file: fileOf(opened, document.modelFile?.placing ?? null) }
        : await elsewhere(document, former, opened);
    if (!made) return;
    const carried = await session.changeModel('Replace the model', () => Promise.resolve(made));
    if (!carried) return;
    const { unmatched, loss, kept } = carried;
    notify(
      [
        'The model was replaced.',
        ...keptWords(kept, made.mesh.parts.length),
        ...(unmatched.length
          ? [`No place was found on the former model for most of: ${unmatched.join(', ')}.`]
          : []),
        ...(kept.length < made.mesh.parts.length ? [paintWords(loss)] : []),
      ].join(' '),
    );
  } catch (error) {
    notify(sentenceOf(error));
  }
}
