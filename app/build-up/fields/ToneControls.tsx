import { Dropdown, Form } from 'react-bootstrap';
import type { Ramp } from '../../../core/color';
import { CUE_KINDS, OFFERED_CUES, type CueSpec } from '../../../core/cues';
import { PLAIN_LEVELS, sameTarget, type Ingredient, type Target, type ToneLayer } from '../../../core/layers';
import type { NodePatch } from '../../../core/commands';
import { useActiveLight, useProject } from '../../project';
import { Chip } from '../../shared/Chip';
import { CUE_WORDS } from '../../shared/cue-words';
import { FixedMenu } from '../../shared/FixedMenu';
import { ShareSlider } from '../../shared/Slider';
import { useUi, type CuePlace } from '../../shared/ui-store';
import { CueControls } from './CueControls';
import { Fold } from '../../shared/Fold';
import { RampFields } from './RampFields';

interface Props {
  readonly node: ToneLayer;
  readonly change: (patch: NodePatch, gesture: string | null) => void;
}

/** A mix of cues as a tone, and the colours that it goes through. */
export function ToneControls({ node, change }: Props) {
  return (
    <>
      <Ramps node={node} change={change} />
      <Fold title="Made from" note={node.mix.map(ingredientName).join(', ')}>
        {node.mix.map((m, i) => (
          <IngredientFields
            key={i}
            of={m}
            place={{ layer: node.id, mix: i }}
            onChange={(next, g) => change({ mix: node.mix.with(i, next) }, g)}
            onRemove={
              node.mix.length > 1 ? () => change({ mix: node.mix.filter((_, k) => k !== i) }, null) : null
            }
          />
        ))}
        <AddIngredient node={node} change={change} />
        <ShareSlider
          label="Darkest"
          says="Tone that counts as darkest"
          value={node.levels.low}
          onChange={(low, g) => change({ levels: { ...node.levels, low } }, g)}
        />
        <ShareSlider
          label="Lightest"
          says="Tone that counts as lightest"
          value={node.levels.high}
          onChange={(high, g) => change({ levels: { ...node.levels, high } }, g)}
        />
      </Fold>
    </>
  );
}

const ingredientName = (m: Ingredient): string => (m.from === 'key' ? 'key light' : CUE_WORDS[m.cue.cue][1]);

/** The ramp of the whole model, or of the chosen part or a region. */
function Ramps({ node, change }: Props) {
  const mesh = useProject((s) => s.mesh);
  const regions = useProject((s) => s.document?.regions) ?? [];
  const part = useUi((s) => (s.selectedPart === null ? null : mesh?.parts[s.selectedPart])) ?? null;
  const seen = useUi((s) => s.rampOf);
  const targets: readonly (Target | null)[] = [
    null,
    ...node.ramps.map((r) => r.of),
    ...(part !== null && !node.ramps.some(({ of }) => 'part' in of && of.part === part) ? [{ part }] : []),
    ...regions
      .filter((r) => !node.ramps.some(({ of }) => 'region' in of && of.region === r.id))
      .map((r) => ({ region: r.id })),
  ];
  const nameOf = (t: Target | null): string =>
    t === null
      ? 'the whole model'
      : 'part' in t
        ? t.part
        : (regions.find((r) => r.id === t.region)?.name ?? 'a region');
  const keyOf = (t: Target | null): string =>
    t === null ? '' : 'part' in t ? `p ${t.part}` : `r ${t.region}`;
  const shown = targets.find((t) => keyOf(t) === seen) ?? null;
  const own = shown ? node.ramps.find(({ of }) => sameTarget(of, shown)) : undefined;
  const setRamp = (ramp: Ramp, g: string | null): void => {
    if (!shown) change({ ramp }, g);
    else
      change({ ramps: [...node.ramps.filter(({ of }) => !sameTarget(of, shown)), { of: shown, ramp }] }, g);
  };
  return (
    <>
      <label className="field">
        Colours of
        <Form.Select
          size="sm"
          value={keyOf(shown)}
          onChange={(e) => useUi.setState({ rampOf: e.target.value })}
        >
          {targets.map((t) => (
            <option key={keyOf(t)} value={keyOf(t)}>
              {nameOf(t)}
              {t && !node.ramps.some(({ of }) => sameTarget(of, t)) ? ' (as the whole)' : ''}
            </option>
          ))}
        </Form.Select>
      </label>
      {shown && !own ? (
        <Chip onClick={() => setRamp(node.ramp, null)}>Give it its own colours</Chip>
      ) : (
        <RampFields ramp={own?.ramp ?? node.ramp} name={nameOf(shown)} onChange={setRamp} />
      )}
      {own && (
        <Chip onClick={() => change({ ramps: node.ramps.filter((r) => r !== own) }, null)}>
          As the whole model again
        </Chip>
      )}
    </>
  );
}

function IngredientFields({
  of: m,
  place,
  onChange,
  onRemove,
}: {
  readonly of: Ingredient;
  readonly place: CuePlace;
  readonly onChange: (next: Ingredient, gesture: string | null) => void;
  readonly onRemove: (() => void) | null;
}) {
  return (
    <Fold
      title={m.from === 'key' ? 'Key light' : CUE_WORDS[m.cue.cue][0]}
      note={`${Math.round(m.weight * 100)} %`}
    >
      <ShareSlider
        label="Weight"
        says={`Weight of ${ingredientName(m)}`}
        value={m.weight}
        onChange={(weight, g) => onChange({ ...m, weight }, g)}
      />
      <div className="row" role="group" aria-label={`How ${ingredientName(m)} counts`}>
        <Chip
          on={m.join === 'mix'}
          title="One of those whose mean is taken"
          onClick={() => onChange({ ...m, join: 'mix' }, null)}
        >
          Mixed
        </Chip>
        <Chip
          on={m.join === 'multiply'}
          title="Darkens what the others come to"
          onClick={() => onChange({ ...m, join: 'multiply' }, null)}
        >
          Darkens
        </Chip>
        <Chip on={m.invert} onClick={() => onChange({ ...m, invert: !m.invert }, null)}>
          Invert
        </Chip>
        {onRemove && <Chip onClick={onRemove}>Remove</Chip>}
      </div>
      {m.from === 'cue' && (
        <CueControls place={place} source={m.cue} onChange={(cue, g) => onChange({ ...m, cue }, g)} />
      )}
    </Fold>
  );
}

function AddIngredient({ node, change }: Props) {
  const light = useActiveLight();
  const add = (m: Ingredient): void => change({ mix: [...node.mix, m] }, null);
  const shared = { levels: PLAIN_LEVELS, invert: false, weight: 0.5 } as const;
  return (
    <Dropdown>
      <Dropdown.Toggle as="button" type="button" className="chip" disabled={node.mix.length >= 8}>
        Add to the mix
      </Dropdown.Toggle>
      <FixedMenu>
        {light && (
          <Dropdown.Item
            as="button"
            onClick={() => add({ from: 'key', light: light.id, join: 'mix', ...shared })}
          >
            Key light
          </Dropdown.Item>
        )}
        {OFFERED_CUES.map((name) => (
          <Dropdown.Item
            key={name}
            as="button"
            onClick={() =>
              add({ from: 'cue', cue: CUE_KINDS[name].usual as CueSpec, join: 'mix', ...shared })
            }
          >
            {CUE_WORDS[name][0]}
          </Dropdown.Item>
        ))}
      </FixedMenu>
    </Dropdown>
  );
}
