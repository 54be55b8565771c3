import type { ReactNode } from 'react';
import { Form } from 'react-bootstrap';
import { CUE_KINDS, OFFERED_CUES, type CueName, type CueSpec } from '../../../core/cues';
import { Chip } from '../../shared/Chip';
import { CUE_WORDS } from '../../shared/cue-words';
import { useUi, type CuePlace } from '../../shared/ui-store';
import { CUE_FIELDS } from '../cues/cue-fields';

interface Props {
  /** Where the cue stands, so that it can be placed on the model. */
  readonly place: CuePlace;
  readonly source: CueSpec;
  readonly onChange: (next: CueSpec, gesture: string | null) => void;
}

/** Cues that have a point or a side. */
const PLACED: ReadonlySet<CueName> = new Set(['nearness', 'along', 'facing', 'cast', 'height']);

type AnyFields = (
  spec: CueSpec,
  change: (patch: Partial<CueSpec>, gesture: string | null) => void,
) => ReactNode;

/** How a cue is measured. */
export function CueControls({ place, source, onChange }: Props) {
  const placing = useUi((s) => s.placing);
  const isPlaced = placing?.layer === place.layer && placing.mask === place.mask && placing.mix === place.mix;
  // A spec's own fields take specs like that one.
  const fields = CUE_FIELDS[source.cue] as AnyFields;
  return (
    <>
      <Form.Select
        size="sm"
        aria-label="Cue"
        value={source.cue}
        onChange={(e) => onChange(CUE_KINDS[e.target.value as CueName].usual as CueSpec, null)}
      >
        {OFFERED_CUES.map((name) => (
          <option key={name} value={name}>
            {CUE_WORDS[name][0]}
          </option>
        ))}
      </Form.Select>
      <p className="hint-line">{CUE_KINDS[source.cue].says}</p>
      {PLACED.has(source.cue) && (
        <Chip
          on={isPlaced}
          title="Press or drag on the model, at the Form stage"
          onClick={() => useUi.setState({ placing: isPlaced ? null : place, aiming: null })}
        >
          Place on the model
        </Chip>
      )}
      {fields(source, (patch, gesture) => onChange({ ...source, ...patch } as CueSpec, gesture))}
    </>
  );
}
