import { useState } from 'react';
import { Dropdown, Form } from 'react-bootstrap';
import { cueKey } from '../../../core/cues';
import { isPaintedMask, JOINS, type Join, type Levels, type MaskStep } from '../../../core/layers';
import { nodesOf, type LayerNode } from '../../../core/document';
import { Chip } from '../../shared/Chip';
import { FixedMenu } from '../../shared/FixedMenu';
import { type Session, useProject } from '../../project';
import { ShareSlider, Slider } from '../../shared/Slider';
import { toggleShown, useUi, type CuePlace } from '../../shared/ui-store';
import { CueControls } from './CueControls';
import { addStep, paintOnMask } from '../tree/layer-actions';
import { PatternFields } from './PatternFields';
import { firstPattern } from './patterns';
import { useStepTrial } from './step-trial';
import { stepName, namesIn } from '../tree/layer-words';
import { NEW_STEPS, newStep } from '../tree/new-layers';

const JOIN_WORDS: Record<Join, string> = {
  multiply: 'times',
  lighten: 'or, the lighter of both',
  darken: 'and, the darker of both',
  add: 'plus',
  subtract: 'less',
};

interface Props {
  readonly session: Session;
  readonly node: LayerNode;
}

/** Through what a layer is laid, as a sentence step by step. */
export function MaskSection({ session, node }: Props) {
  const editMask = useUi((s) => s.target?.channel === 'mask');
  const isSeen = useUi((s) => s.shown.of === 'mask' && s.shown.layer === node.id);
  const [opened, setOpened] = useState<number | null>(node.kind === 'wash' ? 0 : null);
  const setMask = (mask: readonly MaskStep[], gesture: string | null = null): void =>
    void session.command({ do: 'patch-layer', layer: node.id, patch: { mask: [...mask] } }, gesture);
  const without = (index: number): void => {
    if (node.mask[index]?.from === 'painted')
      useUi.setState({ target: { layer: node.id, channel: 'pixels' } });
    setMask(node.mask.filter((_, i) => i !== index));
  };
  return (
    <div className="mask" role="group" aria-label="Mask">
      <h3>
        Mask <span>{node.mask.length === 0 ? 'none: it lies everywhere' : 'where it lies'}</span>
      </h3>
      <ol className="mask-steps">
        {node.mask.map((step, i) => (
          <StepRow
            key={i}
            step={step}
            session={session}
            layer={node.id}
            index={i}
            open={opened === i}
            onOpen={() => setOpened(opened === i ? null : i)}
            onChange={(next, g) => setMask(node.mask.with(i, next), g)}
            onRemove={() => without(i)}
          />
        ))}
      </ol>
      <div className="row">
        <AddStep session={session} node={node} />
        <Chip
          on={editMask}
          title="Strokes go onto the mask: they hide or reveal (Shift M)"
          onClick={() => void paintOnMask(session, node)}
        >
          Paint on it
        </Chip>
        <Chip
          on={isSeen}
          title="See only where it lies, as grey (M)"
          onClick={() => toggleShown('mask', node.id)}
        >
          See it alone
        </Chip>
      </div>
      {editMask && isPaintedMask(node.mask) && <HideOrReveal />}
    </div>
  );
}

/** What the brush does on a mask. */
function HideOrReveal() {
  const hides = useUi((s) => s.maskHides);
  return (
    <div className="row" role="group" aria-label="What the brush does on the mask">
      <Chip
        on={hides}
        title="The brush hides the layer; X changes over"
        onClick={() => useUi.setState({ maskHides: true })}
      >
        Hide
      </Chip>
      <Chip
        on={!hides}
        title="The brush brings it back; X changes over"
        onClick={() => useUi.setState({ maskHides: false })}
      >
        Reveal
      </Chip>
    </div>
  );
}

/** Parts that are offered by name; a model of more is masked by regions. */
const MOST_PARTS = 40;

function AddStep({ session, node }: Props) {
  const layers = useProject((s) => s.document?.layers) ?? [];
  const regions = useProject((s) => s.document?.regions) ?? [];
  const parts = useProject((s) => s.mesh?.parts) ?? [];
  const others = [...nodesOf(layers)].map((n) => n.node).filter((n) => n.id !== node.id);
  const masked = others.filter((n) => n.mask.length > 0);
  const add = (step: MaskStep): void => addStep(session, node, step);
  const addPattern = async (): Promise<void> => {
    await session.deed('Add to the mask', async (as) => {
      const pattern = await firstPattern(as);
      if (pattern !== null) as.also(() => add(newStep({ pattern })));
    });
  };
  const trial = useStepTrial(session, node);
  return (
    <Dropdown onToggle={(isOpen) => !isOpen && trial.end()}>
      <Dropdown.Toggle as="button" type="button" className="chip">
        Add a step
      </Dropdown.Toggle>
      <FixedMenu onMouseLeave={trial.end}>
        {NEW_STEPS.map(({ title, says, step }) => (
          <Dropdown.Item
            key={title}
            as="button"
            title={says}
            onMouseEnter={() => trial.begin(step)}
            onFocus={() => trial.begin(step)}
            onClick={() => add(step)}
          >
            {title}
          </Dropdown.Item>
        ))}
        <Dropdown.Item as="button" onClick={() => void addPattern()}>
          Pattern
        </Dropdown.Item>
        {regions.length > 0 && <Dropdown.Header role="presentation">Regions</Dropdown.Header>}
        {regions.map((r) => (
          <Dropdown.Item key={`r${r.id}`} as="button" onClick={() => add(newStep({ region: r.id }))}>
            {r.name}
          </Dropdown.Item>
        ))}
        {parts.length > 0 && <Dropdown.Header role="presentation">Parts</Dropdown.Header>}
        {parts.slice(0, MOST_PARTS).map((part) => (
          <Dropdown.Item key={`p${part}`} as="button" onClick={() => add(newStep({ part }))}>
            {part}
          </Dropdown.Item>
        ))}
        {masked.length > 0 && <Dropdown.Header role="presentation">Masks of other layers</Dropdown.Header>}
        {masked.map((n) => (
          <Dropdown.Item key={`l${n.id}`} as="button" onClick={() => add(newStep({ layer: n.id }))}>
            {n.name}
          </Dropdown.Item>
        ))}
      </FixedMenu>
    </Dropdown>
  );
}

interface StepProps {
  readonly session: Session;
  readonly layer: number;
  readonly step: MaskStep;
  readonly index: number;
  readonly open: boolean;
  readonly onOpen: () => void;
  readonly onChange: (next: MaskStep, gesture: string | null) => void;
  readonly onRemove: () => void;
}

const levelWords = ({ low, high, gamma }: Levels): string =>
  low === 0 && high === 1 && gamma === 1 ? '' : `${low.toFixed(2)} – ${high.toFixed(2)}`;

function StepRow({ session, layer, step, index, open, onOpen, onChange, onRemove }: StepProps) {
  const stopped = useProject((s) => step.from === 'cue' && s.stoppedCues.has(cueKey(step.cue)));
  const name = useProject((s) => stepName(step, namesIn(s.document)));
  const lead =
    step.from === 'painted' ? (index > 0 ? 'then ' : '') : index > 0 ? `${JOIN_WORDS[step.join]} ` : '';
  const remove = (
    <button
      type="button"
      className="step-off"
      aria-label={`Remove ${name}`}
      title="Remove this step"
      onClick={onRemove}
    >
      ×
    </button>
  );
  return (
    <li className="mask-step">
      <button type="button" className="step-line" aria-expanded={open} onClick={onOpen}>
        {lead}
        <b>{step.from === 'painted' && index > 0 ? 'painted by hand' : name}</b>
        {step.invert ? ', inverted' : ''}
        <small>{stopped ? 'not measured' : levelWords(step.levels)}</small>
      </button>
      {remove}
      {open && (
        <StepControls
          session={session}
          place={{ layer, mask: index }}
          step={step}
          first={index === 0}
          onChange={onChange}
        />
      )}
    </li>
  );
}

function StepControls({
  session,
  place,
  step,
  first,
  onChange,
}: {
  readonly session: Session;
  readonly place: CuePlace;
  readonly step: MaskStep;
  readonly first: boolean;
  readonly onChange: (next: MaskStep, gesture: string | null) => void;
}) {
  const { levels } = step;
  const setLevels = (patch: Partial<Levels>, g: string): void =>
    onChange({ ...step, levels: { ...levels, ...patch } }, g);
  return (
    <div className="step-controls">
      <div className="row">
        {!first && step.from !== 'painted' && (
          <Form.Select
            size="sm"
            aria-label="How it is joined"
            value={step.join}
            onChange={(e) => onChange({ ...step, join: e.target.value as Join }, null)}
          >
            {JOINS.map((join) => (
              <option key={join} value={join}>
                {JOIN_WORDS[join]}
              </option>
            ))}
          </Form.Select>
        )}
        <Chip
          on={step.invert}
          title={
            step.from === 'painted'
              ? 'White hides and black reveals'
              : 'The layer lies where it is low instead'
          }
          onClick={() => onChange({ ...step, invert: !step.invert }, null)}
        >
          Invert
        </Chip>
      </div>
      {step.from === 'cue' && (
        <CueControls place={place} source={step.cue} onChange={(cue, g) => onChange({ ...step, cue }, g)} />
      )}
      {step.from === 'pattern' && (
        <PatternFields
          session={session}
          tiled={step.tiled}
          onChange={(tiled, g) => onChange({ ...step, tiled }, g)}
        />
      )}
      {step.from !== 'region' && step.from !== 'parts' && (
        <>
          <ShareSlider label="Black point" value={levels.low} onChange={(low, g) => setLevels({ low }, g)} />
          <ShareSlider
            label="White point"
            value={levels.high}
            onChange={(high, g) => setLevels({ high }, g)}
          />
          <Slider
            label="Midtones"
            value={levels.gamma}
            min={0.2}
            max={4}
            step={0.05}
            curve={2}
            onChange={(gamma, g) => setLevels({ gamma }, g)}
          />
        </>
      )}
    </div>
  );
}
