import { Form } from 'react-bootstrap';
import { MODEL_AXES, type Axis } from '../../core/mesh';

const WORDS: Record<Axis, string> = {
  '+x': 'x, right',
  '-x': '−x, left',
  '+y': 'y, up',
  '-y': '−y, down',
  '+z': 'z, front',
  '-z': '−z, back',
};

interface Props {
  readonly label: string;
  readonly value: Axis;
  readonly onChange: (axis: Axis) => void;
}

/** One of the six directions of a model as it stands now. */
export function AxisChoice({ label, value, onChange }: Props) {
  return (
    <label className="axis-choice">
      {label}
      <Form.Select size="sm" value={value} onChange={(e) => onChange(e.target.value as Axis)}>
        {MODEL_AXES.map((axis) => (
          <option key={axis} value={axis}>
            {WORDS[axis]}
          </option>
        ))}
      </Form.Select>
    </label>
  );
}
