import { layersOf } from '../../core/engine';
import { useProject } from '../project';

/** What the Form stage says of the underpainting while it is being measured. */
export function FormBar() {
  const missing = useProject((s) => s.missingCues.length);
  const tree = useProject((s) => s.document?.layers) ?? [];
  const derived = layersOf(tree).filter((l) => l.kind === 'wash' || l.kind === 'light').length;
  return (
    <p className="form-bar">
      {derived === 0
        ? 'No light is built up yet. Add an occlusion wash or a light from the build-up.'
        : missing > 0
          ? 'The form is being measured; the washes grow finer as it goes.'
          : `${derived} ${derived === 1 ? 'layer follows' : 'layers follow'} the form. Paint over any of them by hand: the hand has the last word.`}
    </p>
  );
}
