import { Form } from 'react-bootstrap';
import type { LightLayer } from '../../core/engine';
import { MAX_EXTRA_LIGHTS, type LightPatch, type LightPlan } from '../../core/light';
import type { PlanProps } from './plan-props';
import { type Session, useProject } from '../project';
import { BearingSliders } from '../shared/BearingSliders';
import { Chip } from '../shared/Chip';
import { ColorField } from '../shared/ColorField';
import { percent, Slider } from '../shared/Slider';
import { useUi } from '../shared/ui-store';
import { Fold } from './Fold';
import { StandInFields } from './StandInFields';
import { ToneStepFields } from './ToneStepFields';

const NEW = 'new';

/** The light plan that a light layer shows. */
export function LightControls({ session, node }: { readonly session: Session; readonly node: LightLayer }) {
  const lights = useProject((s) => s.document?.lights) ?? [];
  const overlapped = useProject((s) => s.surface?.overlappedTexels) ?? 0;
  const aiming = useUi((s) => s.aiming === 'plan');
  const light = lights.find((l) => l.id === node.light);
  if (!light) return null;
  const { plan } = light;
  const patch = (change: LightPatch, gesture: string | null): void =>
    void session.command({ do: 'patch-light', light: light.id, patch: change }, gesture);
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
      {overlapped > 0 && (
        <p className="hint-line" role="status">
          Stacked or mirrored islands share their paint: on {overlapped} texels the light is right for one of
          them only.
        </p>
      )}
      <BearingSliders
        name="the key light"
        direction={plan.key.direction}
        onChange={(direction, g) => patch({ key: { direction: [...direction] } }, g)}
      />
      {(['key', 'sky', 'ground'] as const).map((name) => (
        <Strength
          key={name}
          label={{ key: 'Key', sky: 'Sky', ground: 'Ground' }[name]}
          of={plan[name]}
          onChange={(change, g) => patch({ [name]: change }, g)}
        />
      ))}
      <Slider
        label="Bounce"
        says="How much of the ground’s light has the local colour of what lies below"
        value={plan.ground.bounce}
        min={0}
        max={1}
        step={0.01}
        {...percent}
        onChange={(bounce, g) => patch({ ground: { bounce } }, g)}
      />
      <Slider
        label="Wrap"
        says="How far the key reaches round the form"
        value={plan.key.wrap}
        min={0}
        max={1}
        step={0.01}
        {...percent}
        onChange={(wrap, g) => patch({ key: { wrap } }, g)}
      />
      <Fold
        title="Cast shadow"
        note={plan.key.shadow > 0 ? `${Math.round(plan.key.shadow * 100)} %` : 'none'}
      >
        <Slider
          label="Shadow"
          says="Strength of the cast shadow"
          value={plan.key.shadow}
          min={0}
          max={1}
          step={0.01}
          {...percent}
          onChange={(shadow, g) => patch({ key: { shadow } }, g)}
        />
        <Slider
          label="Size"
          says="Size of the key light"
          value={plan.key.size}
          min={0}
          max={60}
          step={0.5}
          curve={2}
          show={(v) => `${v}°`}
          onChange={(size, g) => patch({ key: { size } }, g)}
        />
        <ColorField
          label="Tint of the shadow"
          color={plan.key.tint}
          onChange={(tint, g) => patch({ key: { tint } }, g)}
        />
      </Fold>
      <Fold title="Horizon and rim" note={rimNote(plan)}>
        <Strength label="Horizon" of={plan.horizon} onChange={(horizon, g) => patch({ horizon }, g)} />
        <Strength label="Rim" of={plan.rim} onChange={(rim, g) => patch({ rim }, g)} />
        {plan.rim.strength > 0 && <RimFields plan={plan} patch={patch} />}
      </Fold>
      <Fold title="More lights" note={plan.lights.length ? String(plan.lights.length) : 'none'}>
        {plan.lights.map((extra, i) => {
          const set = (change: Partial<typeof extra>, g: string | null): void =>
            patch({ lights: plan.lights.with(i, { ...extra, ...change }) }, g);
          return (
            <Fold key={i} title={`Light ${i + 2}`}>
              <Strength label="Colour" of={extra} onChange={set} />
              <BearingSliders
                name={`light ${i + 2}`}
                direction={extra.direction}
                onChange={(direction, g) => set({ direction: [...direction] }, g)}
              />
              <Chip onClick={() => patch({ lights: plan.lights.filter((_, k) => k !== i) }, null)}>
                Remove
              </Chip>
            </Fold>
          );
        })}
        <Chip
          disabled={plan.lights.length >= MAX_EXTRA_LIGHTS}
          onClick={() =>
            patch(
              {
                lights: [
                  ...plan.lights,
                  { direction: [0.7, 0.2, 0.6], color: '#ffd9a8', strength: 0.3, wrap: 0.2 },
                ],
              },
              null,
            )
          }
        >
          Add a light
        </Chip>
      </Fold>
      <Fold
        title="Polish"
        note={plan.polish.amount > 0 ? `${Math.round(plan.polish.amount * 100)} %` : 'matte'}
      >
        {(
          [
            ['amount', 'Polish', 'From matte to metal', 1],
            ['highlight', 'Highlight', 'Strength of the highlight', 2],
            ['crispness', 'Crispness', 'From a soft to a crisp highlight', 1],
            ['edges', 'Edges', 'How much edges catch the light', 1],
          ] as const
        ).map(([key, label, says, max]) => (
          <Slider
            key={key}
            label={label}
            says={says}
            value={plan.polish[key]}
            min={0}
            max={max}
            step={0.01}
            {...percent}
            onChange={(value, g) => patch({ polish: { [key]: value } }, g)}
          />
        ))}
      </Fold>
      <ToneStepFields {...{ light: light.id, plan, patch }} />
      <StandInFields {...{ light: light.id, plan, patch }} />
      <PartStrengths plan={plan} patch={patch} />
    </>
  );
}

const rimNote = ({ rim, horizon }: LightPlan): string =>
  [horizon.strength > 0 && 'horizon', rim.strength > 0 && 'rim'].filter(Boolean).join(', ') || 'none';

/** A light's colour and how strong it is. */
function Strength({
  label,
  of,
  onChange,
}: {
  readonly label: string;
  readonly of: { readonly color: string; readonly strength: number };
  readonly onChange: (change: { color?: string; strength?: number }, gesture: string) => void;
}) {
  return (
    <div className="light-row">
      <ColorField label={label} color={of.color} onChange={(color, g) => onChange({ color }, g)} />
      <Slider
        label="Strength"
        says={`Strength of ${label.toLowerCase()}`}
        value={of.strength}
        min={0}
        max={1.5}
        step={0.01}
        {...percent}
        onChange={(strength, g) => onChange({ strength }, g)}
      />
    </div>
  );
}

function RimFields({ plan: { rim }, patch }: Omit<PlanProps, 'light'>) {
  return (
    <>
      <div className="row" role="group" aria-label="Where the rim lies">
        <Chip
          on={!rim.ofView}
          title="Where the form turns toward a light behind it"
          onClick={() => patch({ rim: { ofView: false } }, null)}
        >
          from a side
        </Chip>
        <Chip
          on={rim.ofView}
          title="Where the form turns away from an eye"
          onClick={() => patch({ rim: { ofView: true } }, null)}
        >
          of a view
        </Chip>
      </div>
      <BearingSliders
        name="the rim"
        direction={rim.direction}
        onChange={(direction, g) => patch({ rim: { direction: [...direction] } }, g)}
      />
      {(['width', 'edge'] as const).map((key) => (
        <Slider
          key={key}
          label={key === 'width' ? 'Width' : 'Edge'}
          says={key === 'width' ? 'Width of the rim' : 'How soft the rim’s border is'}
          value={rim[key]}
          min={0}
          max={1}
          step={0.01}
          {...percent}
          onChange={(value, g) => patch({ rim: { [key]: value } }, g)}
        />
      ))}
    </>
  );
}

/** How strongly each part is lit. */
function PartStrengths({ plan, patch }: Omit<PlanProps, 'light'>) {
  const mesh = useProject((s) => s.mesh);
  const part = useUi((s) => (s.selectedPart === null ? null : mesh?.parts[s.selectedPart])) ?? null;
  const regions = useProject((s) => s.document?.regions) ?? [];
  const count = plan.parts.length + plan.regions.length;
  const names = [...new Set([...plan.parts.map(([name]) => name), ...(part === null ? [] : [part])])];
  return (
    <Fold title="Parts and regions" note={count ? `${count} of their own` : 'all alike'}>
      {names.length === 0 && (
        <p className="hint-line">Choose a part in Block in to light it more, less or not at all.</p>
      )}
      {names.map((name) => (
        <Slider
          key={name}
          label={name}
          says={`Light on ${name}`}
          value={plan.parts.find(([n]) => n === name)?.[1] ?? 1}
          min={0}
          max={2}
          step={0.01}
          {...percent}
          onChange={(value, g) =>
            patch(
              { parts: [...plan.parts.filter(([n]) => n !== name), [name, value] as [string, number]] },
              g,
            )
          }
        />
      ))}
      {regions.map(({ id, name }) => (
        <Slider
          key={`r${id}`}
          label={name}
          says={`Light on the region ${name}`}
          value={plan.regions.find(([r]) => r === id)?.[1] ?? 1}
          min={0}
          max={2}
          step={0.01}
          {...percent}
          onChange={(value, g) =>
            patch(
              { regions: [...plan.regions.filter(([r]) => r !== id), [id, value] as [number, number]] },
              g,
            )
          }
        />
      ))}
    </Fold>
  );
}
