import { Form } from 'react-bootstrap';
import { AXES, CUE_KINDS, type CueName, type CueSpec } from '../../core/cues';
import { Chip } from '../shared/Chip';
import { percent, Slider } from '../shared/Slider';

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
        onChange={(e) => onChange(CUE_KINDS[e.target.value as CueName].usual as CueSpec, null)}
      >
        {Object.keys(CUE_KINDS).map((name) => (
          <option key={name} value={name}>
            {name}
          </option>
        ))}
      </Form.Select>
      <p className="hint-line">{CUE_KINDS[source.cue].says}</p>
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
    case 'ridge':
    case 'crease':
      return (
        <Slider
          label="Strength"
          says={`Strength of ${source.cue}`}
          value={source.scale}
          min={0.005}
          max={1}
          step={0.005}
          curve={2}
          {...percent}
          show={(v) => (v * 100).toFixed(1)}
          onChange={(scale, gesture) => onChange({ ...source, scale }, gesture)}
        />
      );
    case 'nearness':
      return (
        <>
          {(['Across', 'Up', 'Front'] as const).map((label, axis) => (
            <Slider
              key={label}
              label={label}
              says={`${label}, where the point lies`}
              value={source.point[axis]!}
              min={-0.7}
              max={0.7}
              step={0.01}
              {...percent}
              onChange={(value, gesture) => {
                const point: [number, number, number] = [...source.point];
                point[axis] = value;
                onChange({ ...source, point }, gesture);
              }}
            />
          ))}
          <Slider
            label="Radius"
            value={source.radius}
            min={0.02}
            max={2}
            step={0.01}
            curve={2}
            {...percent}
            onChange={(radius, gesture) => onChange({ ...source, radius }, gesture)}
          />
        </>
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
