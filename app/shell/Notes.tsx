import { layersOf } from '../../core/engine';
import { useProject } from '../project';
import type { StageName } from '../shared/ui-store';
import { useEveryPicture, useView } from '../viewport';

/** What to do first at a stage where nothing is done yet; null once something is. */
function nextStep(stage: StageName, project: ReturnType<typeof useProject.getState>): string | null {
  const { document, mesh, strokes, status } = project;
  if (!document || !mesh || status !== 'ready') return null;
  const layers = layersOf(document.layers);
  switch (stage) {
    case 'model':
      return strokes === 0 && document.references.length === 0
        ? 'Look at the model from all sides and at its health; then give each part a colour in Block in.'
        : null;
    case 'paint':
      return strokes === 0 && layers.every((l) => l.kind === 'local' || l.kind === 'paint')
        ? 'Press and drag on the model to paint. The right button turns it, Space moves it.'
        : null;
    case 'match':
      return document.references.length === 0
        ? 'Add a reference picture at the left first: it stands beside the model here.'
        : null;
    case 'deliver':
      return strokes === 0 && layers.every((l) => l.kind !== 'local' || l.colors.length === 0)
        ? 'Nothing is painted yet. What is delivered now is the bare local colour.'
        : null;
    // Block in and Form tell it in a line of their own; Unwrap has been laid out already.
    case 'block-in':
    case 'form':
    case 'unwrap':
      return null;
  }
}

/** What is to be known of the picture, and the next step of the stage, in a line each. */
export function Notes({ stage }: { readonly stage: StageName }) {
  const view = useView();
  useEveryPicture(view);
  const next = useProject((s) => nextStep(stage, s));
  const isBare = useProject((s) => s.status === 'ready') && (view?.isBare ?? false);
  return (
    <div className="notes">
      {isBare && <p>Nothing is painted yet: the bare model in plain shading.</p>}
      {next && <p>{next}</p>}
    </div>
  );
}
