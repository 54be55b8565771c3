import { useState } from 'react';
import { layersOf } from '../../core/document';
import { type Session, useProject } from '../project';
import { Chip } from '../shared/Chip';
import { useCommandBook, useTip } from '../shared/commands';
import { useUi } from '../shared/ui-store';
import { DensePanel } from './DensePanel';

const AIMING = {
  plan: 'Drag over the model: the key light comes straight onto the place under the pointer.',
  ramp: 'Drag a line over a part: it gets a ramp of colours along it. Shift snaps to front, side and top.',
} as const;

/** What the Form stage says of the underpainting, and of what a press on the model does. */
export function FormBar({ session }: { readonly session: Session }) {
  const [open, setOpen] = useState(false);
  const dense = useProject((s) => s.document?.dense) ?? null;
  const missing = useProject((s) => s.missingCues.length);
  const tree = useProject((s) => s.document?.layers) ?? [];
  const aiming = useUi((s) => s.aiming);
  const placing = useUi((s) => s.placing);
  const alongForm = useUi((s) => s.rampAlongForm);
  const { run } = useCommandBook();
  const tip = useTip();
  const derived = layersOf(tree).filter(
    (l) => l.kind === 'wash' || l.kind === 'light' || l.kind === 'tone',
  ).length;
  const says =
    placing !== null
      ? 'Press or drag on the model to place it. Escape ends that.'
      : aiming === 'plan' || aiming === 'ramp'
        ? AIMING[aiming]
        : derived === 0
          ? 'No light is built up yet. Lay a recipe, or add a tone ramp, a wash or a light in the build-up.'
          : missing > 0
            ? 'The form is being measured; the layers grow finer as it goes.'
            : `${derived} ${derived === 1 ? 'layer follows' : 'layers follow'} the form. Paint over any of them by hand: the hand has the last word.`;
  return (
    <div className="form-bar">
      <span>{says}</span>
      <Chip
        on={aiming === 'ramp'}
        title={tip('Drag a line over a part: a ramp of colours along it', 'ramp-line')}
        onClick={() => run('ramp-line')}
      >
        Ramp along a line
      </Chip>
      {aiming === 'ramp' && (
        <Chip
          on={alongForm}
          title="Over the surface from where the line begins, as far as it goes, instead of straight: hands darker toward the fingertips"
          onClick={() => useUi.setState({ rampAlongForm: !alongForm })}
        >
          Along the form
        </Chip>
      )}
      <Chip
        on={open || dense !== null}
        title={tip('Measure form on a denser model of the same shape', 'dense-model')}
        onClick={() => setOpen(!open)}
      >
        {dense ? `On ${dense.name}` : 'Denser model'}
      </Chip>
      {open && <DensePanel session={session} onClose={() => setOpen(false)} />}
    </div>
  );
}
