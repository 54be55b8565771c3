import { layersOf } from '../../../core/document';
import { useProject } from '../../project';
import type { StageName } from '../../shared/ui-store';
import { useEveryPicture, useView } from '../../viewport';

/** What to do first at a stage where nothing is done yet; null once something is. */
function nextStep(stage: StageName, project: ReturnType<typeof useProject.getState>): string | null {
  const { document, mesh, strokes, status } = project;
  if (!document || !mesh || status !== 'ready') return null;
  const layers = layersOf(document.layers);
  switch (stage) {
    case 'model':
      return strokes === 0 && document.references.length === 0
        ? 'Look at its parts and health, then colour them in Block in.'
        : null;
    case 'paint':
      return strokes === 0 && layers.every((l) => l.kind === 'local' || l.kind === 'paint')
        ? 'Press and drag on the model to paint.'
        : null;
    case 'deliver':
      return strokes === 0 &&
        layers.every((l) => l.kind === 'paint' || (l.kind === 'local' && l.colors.length === 0))
        ? 'What is delivered now is the bare local colour.'
        : null;
    // Block in, Form and Match tell it in a line of their own; Unwrap has been laid out already.
    case 'block-in':
    case 'form':
    case 'match':
    case 'unwrap':
      return null;
  }
}

/** What is to be known of the picture, and the next step of the stage, in one line. */
export function Notes({ stage }: { readonly stage: StageName }) {
  const view = useView();
  useEveryPicture(view);
  const next = useProject((s) => nextStep(stage, s));
  const isBare = useProject((s) => s.status === 'ready') && (view?.isBare ?? false);
  const words = [isBare && 'Nothing is painted yet: plain shading.', next].filter(Boolean).join(' ');
  return words && <p className="notes">{words}</p>;
}
