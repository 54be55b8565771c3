import { Form } from 'react-bootstrap';
import type { LightLayer } from '../../core/engine';
import { BearingSliders } from '../shared/BearingSliders';
import { Chip } from '../shared/Chip';
import { ColorField } from '../shared/ColorField';
import { type Session, useProject } from '../project';
import { percent, Slider } from '../shared/Slider';
import { useUi } from '../shared/ui-store';

const NEW = 'new';

/** The light plan that a light layer shows. */
export function LightControls({ session, node }: { readonly session: Session; readonly node: LightLayer }) {
  const lights = useProject((s) => s.document?.lights) ?? [];
  const aiming = useUi((s) => s.aiming === 'plan');
  const light = lights.find((l) => l.id === node.light);
  if (!light) return null;
  const { plan } = light;
  const patch = (part: Record<string, object>, gesture: string | null): void =>
    void session.command({ do: 'patch-light', light: light.id, patch: part }, gesture);
  const choose = async (value: string): Promise<void> => {
    let id = Number(value);
    if (value === NEW) {
      const name = `Light ${lights.length + 1}`;
      const done = await session.command({ do: 'add-light', name, plan });
      if (done?.ids[0] === undefined) return;
      id = done.ids[0];
    }
    await session.command({ do: 'patch-layer', layer: node.id, patch: { light: id } });
  };
  return (
    <>
      <div className="row">
        <Form.Select
          size="sm"
          aria-label="Light plan"
          value={light.id}
          onChange={(e) => void choose(e.target.value)}
        >
          {lights.map((l) => (
            <option key={l.id} value={l.id}>
              {l.name}
            </option>
          ))}
          <option value={NEW}>a new light…</option>
        </Form.Select>
        <Chip
          on={aiming}
          title="Drag on the model: the key light comes straight onto the place under the pointer"
          onClick={() => useUi.setState({ aiming: aiming ? null : 'plan' })}
        >
          Aim on the model
        </Chip>
      </div>
      <BearingSliders
        name="the key light"
        direction={plan.key.direction}
        onChange={(direction, g) => patch({ key: { direction } }, g)}
      />
      {(['key', 'sky', 'ground'] as const).map((name) => (
        <div className="light-row" key={name}>
          <ColorField
            label={{ key: 'Key', sky: 'Sky', ground: 'Ground' }[name]}
            color={plan[name].color}
            onChange={(color, g) => patch({ [name]: { color } }, g)}
          />
          <Slider
            label="Strength"
            value={plan[name].strength}
            min={0}
            max={1.5}
            step={0.01}
            {...percent}
            onChange={(strength, g) => patch({ [name]: { strength } }, g)}
          />
        </div>
      ))}
      <Slider
        label="Wrap"
        value={plan.key.wrap}
        min={0}
        max={1}
        step={0.01}
        {...percent}
        onChange={(wrap, g) => patch({ key: { wrap } }, g)}
      />
    </>
  );
}
