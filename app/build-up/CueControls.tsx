import { Form } from 'react-bootstrap';
import { AXES, DEFAULT_CUES, type CueSpec } from '../../core/cues';
import { Chip } from '../shared/Chip';

interface Props {
  readonly source: CueSpec;
  readonly onChange: (next: CueSpec, gesture: string | null) => void;
}

/** How a cue is measured. */
export function CueControls({ source, onChange }: Props) {
  return (
    <>
      <Form.Select
        size="sm"
        aria-label="Cue"
        value={source.cue}
        onChange={(e) => onChange(DEFAULT_CUES[e.target.value as CueSpec['cue']] as CueSpec, null)}
      >
        <option value="occlusion">occlusion</option>
        <option value="height">height</option>
        <option value="facing">facing</option>
      </Form.Select>
      <Measured source={source} onChange={onChange} />
    </>
  );
}

function Measured({ source, onChange }: Props) {
  switch (source.cue) {
    case 'height':
      return (
        <div className="row" role="group" aria-label="Axis">
          {AXES.map((axis) => (
            <Chip key={axis} on={source.axis === axis} onClick={() => onChange({ ...source, axis }, null)}>
              along {axis}
            </Chip>
          ))}
        </div>
      );
    case 'occlusion':
      return (
        <div className="row cue-row">
          <Form.Select
            size="sm"
            aria-label="How far rays look"
            value={String(source.reach)}
            onChange={(e) =>
              onChange({ ...source, reach: e.target.value === 'null' ? null : Number(e.target.value) }, null)
            }
          >
            {[0.05, 0.1, 0.25, 0.5].map((reach) => (
              <option key={reach} value={reach}>
                looks {Math.round(reach * 100)} % of the model
              </option>
            ))}
            <option value="null">looks without end</option>
          </Form.Select>
          <Form.Select
            size="sm"
            aria-label="Rays a texel"
            value={source.rays}
            onChange={(e) => onChange({ ...source, rays: Number(e.target.value) }, null)}
          >
            {[16, 64, 256].map((rays) => (
              <option key={rays} value={rays}>
                {rays} rays
              </option>
            ))}
          </Form.Select>
        </div>
      );
    case 'facing':
      return (
        <div className="row" role="group" aria-label="Direction">
          {(
            [
              ['up', [0, 1, 0]],
              ['down', [0, -1, 0]],
              ['front', [0, 0, 1]],
              ['left', [-1, 0, 0]],
              ['right', [1, 0, 0]],
            ] as const
          ).map(([name, direction]) => (
            <Chip
              key={name}
              on={source.direction.join() === direction.join()}
              onClick={() => onChange({ ...source, direction: [...direction] }, null)}
            >
              {name}
            </Chip>
          ))}
        </div>
      );
  }
}
