import { layersOf } from '../../core/engine';
import { useProject } from '../project';

/** What the Form stage says of the underpainting while it is being measured. */
export function FormBar() {
  const missing = useProject((s) => s.missingCues.length);
  const tree = useProject((s) => s.document?.layers) ?? [];
  const derived = layersOf(tree).filter(
    (l) => l.kind === 'wash' || l.kind === 'light' || l.kind === 'tone',
  ).length;
  return (
    <p className="form-bar">
      {derived === 0
        ? 'No light is built up yet. Lay a recipe, or add a tone ramp, a wash or a light in the build-up.'
        : missing > 0
          ? 'The form is being measured; the washes grow finer as it goes.'
          : `${derived} ${derived === 1 ? 'layer follows' : 'layers follow'} the form. Paint over any of them by hand: the hand has the last word.`}
    </p>
  );
}
