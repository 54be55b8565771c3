import { alignBoxes } from '../../core/model';
import { sentenceOf } from '../../core/errors';
import { putOnSheet, requireUvs, sheetOfPart, type UvMesh } from '../../core/mesh';
import { chooseFiles } from '../shared/files';
import { lostWords } from '../shared/lost-words';
import { notify } from '../shared/notify';
import { subjectNow, type Session, useProject } from '../project';
import { ask, type Question } from '../shared/question';
import { canBePainted, layOut, MODEL_FILES, readFiles, seamsOfLayout } from './start/new-project';

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
    const isReady = canBePainted(opened.mesh);
    const laidOut = requireUvs(isReady ? opened.mesh : await layOut(opened.mesh, document.sheets[0]!.size));
    const mesh = onFormerSheets(laidOut);
    const former = subjectNow();
    if (!former) return;
    const { placing, certain, times } = alignBoxes(former, mesh);
    // Only the artist can tell whether a model of another shape is meant to lie over the old one.
    const overOld = certain || (await ask(doubt(times)));
    if (overOld === null) return;
    const align = overOld ? { align: placing } : {};
    const { file, name } = opened;
    const carried = await session.changeModel('Replace the model', () =>
      Promise.resolve({
        mesh,
        byTriangle: false,
        file: file ? { name, bytes: file, placing: null } : null,
        ...align,
        ...(isReady ? {} : { patch: seamsOfLayout(mesh) }),
      }),
    );
    if (!carried) return;
    const { unmatched, loss } = carried;
    notify(
      [
        'The model was replaced.',
        ...(unmatched.length
          ? [`No place was found on the former model for most of: ${unmatched.join(', ')}.`]
          : []),
        loss.places === 0
          ? 'Nothing was painted by hand.'
          : loss.lost > 0
            ? lostWords(loss)
            : 'All that was painted looks as it did.',
      ].join(' '),
    );
  } catch (error) {
    notify(sentenceOf(error));
  }
}
