import { sentenceOf } from '../../core/errors';
import { putOnSheet, requireUvs, sheetOfPart, type UvMesh } from '../../core/mesh';
import { chooseFiles } from '../shared/files';
import { notify } from '../shared/notify';
import { useProject } from '../shared/project-store';
import type { Session } from '../shared/session';
import { layOut, MODEL_FILES, readFiles } from './new-project';

/** Parts that were known before lie on the sheet that they lay on. */
function onFormerSheets(mesh: UvMesh): UvMesh {
  const former = useProject.getState().mesh;
  if (!former?.partSheets) return mesh;
  return former.parts.reduce((m, name, p) => {
    const part = mesh.parts.indexOf(name);
    return part < 0 ? m : putOnSheet(m, [part], sheetOfPart(former, p));
  }, mesh);
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
    const laidOut = requireUvs(
      opened.mesh.uvs ? opened.mesh : await layOut(opened.mesh, document.sheets[0]!.size),
    );
    const mesh = onFormerSheets(laidOut);
    const carried = await session.changeModel('Replace the model', () =>
      Promise.resolve({ mesh, byTriangle: false, patch: { seams: [], paintEdges: [], pins: [] } }),
    );
    if (!carried) return;
    notify(
      carried.unmatched.length
        ? `The model was replaced. No place was found on the former model for most of: ${carried.unmatched.join(', ')}.`
        : 'The model was replaced; all paint found its place.',
    );
  } catch (error) {
    notify(sentenceOf(error));
  }
}
