import { Form } from 'react-bootstrap';
import type { LightLayer } from '../../../core/layers';
import { MAX_EXTRA_LIGHTS, type LightPatch, type LightPlan } from '../../../core/light';
import { type Commander, type Session, useProject } from '../../project';
import { BearingSliders } from '../../shared/BearingSliders';
import { Chip } from '../../shared/Chip';
import { ColorField } from '../../shared/ColorField';
import { ShareSlider, Slider } from '../../shared/Slider';
import { useUi } from '../../shared/ui-store';
import { Fold } from '../../shared/Fold';
import { PoseChoice } from '../cues/PoseChoice';
import { PartStrengths } from './PartStrengths';
import { RimFields } from './RimFields';
import { StandInFields } from './StandInFields';
import { ToneStepFields } from './ToneStepFields';

const NEW = 'new';

/** The light plan that a light layer shows. */
export function LightControls({ session, node }: { readonly session: Session; readonly node: LightLayer }) {
  const lights = useProject((s) => s.document?.lights) ?? [];
  const aiming = useUi((s) => s.aiming === 'plan');
  const light = lights.find((l) => l.id === node.light);
  if (!light) return null;
  const { plan } = light;
  const patch = (change: LightPatch, gesture: string | null): void =>
    void session.command({ do: 'patch-light', light: light.id, patch: change }, gesture);
  const choose = async (value: string): Promise<void> => {
    const lightBy = (as: Commander, light: number) =>
      as.command({ do: 'patch-layer', layer: node.id, patch: { light } });
    if (value !== NEW) await lightBy(session, Number(value));
    else
      await session.deed('Add a light', async (as) => {
        const name = `Light ${lights.length + 1}`;
        const done = await as.command({ do: 'add-light', name, plan });
        if (done?.ids[0] !== undefined) await lightBy(as, done.ids[0]);
      });
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
      <ShareSlider
        label="Bounce"
        says="How much of the ground’s light has the local colour of what lies below"
        value={plan.ground.bounce}
        onChange={(bounce, g) => patch({ ground: { bounce } }, g)}
      />
      <ShareSlider
        label="Wrap"
        says="How far the key reaches round the form"
        value={plan.key.wrap}
        onChange={(wrap, g) => patch({ key: { wrap } }, g)}
      />
      <Fold
        title="Cast shadow"
        note={plan.key.shadow > 0 ? `${Math.round(plan.key.shadow * 100)} %` : 'none'}
      >
        <ShareSlider
          label="Shadow"
          says="Strength of the cast shadow"
          value={plan.key.shadow}
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
        <PoseChoice
          of="cast"
          poses={plan.key.poses ?? null}
          onChange={(poses) => patch({ key: { poses } }, null)}
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
          <ShareSlider
            key={key}
            label={label}
            says={says}
            value={plan.polish[key]}
            max={max}
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
      <ShareSlider
        label="Strength"
        says={`Strength of ${label.toLowerCase()}`}
        value={of.strength}
        max={1.5}
        onChange={(strength, g) => onChange({ strength }, g)}
      />
    </div>
  );
}
