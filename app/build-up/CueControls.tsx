import type { ReactNode } from 'react';
import { Form } from 'react-bootstrap';
import { CUE_KINDS, type CueName, type CueSpec } from '../../core/cues';
import { CUE_WORDS } from '../shared/cue-words';
import { CUE_FIELDS } from './cues/cue-fields';

interface Props {
  readonly source: CueSpec;
  readonly onChange: (next: CueSpec, gesture: string | null) => void;
}

type AnyFields = (
  spec: CueSpec,
  change: (patch: Partial<CueSpec>, gesture: string | null) => void,
) => ReactNode;

/** How a cue is measured. */
export function CueControls({ source, onChange }: Props) {
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
        {(Object.keys(CUE_KINDS) as CueName[]).map((name) => (
          <option key={name} value={name}>
            {CUE_WORDS[name][0]}
          </option>
        ))}
      </Form.Select>
      <p className="hint-line">{CUE_KINDS[source.cue].says}</p>
      {fields(source, (patch, gesture) => onChange({ ...source, ...patch } as CueSpec, gesture))}
    </>
  );
}
