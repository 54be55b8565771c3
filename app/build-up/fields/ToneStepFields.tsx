import type { Ramp } from '../../../core/color';
import { useProject } from '../../project';
import { Chip } from '../../shared/Chip';
import { Fold } from '../../shared/Fold';
import { ShareSlider, Slider } from '../../shared/Slider';
import { useUi } from '../../shared/ui-store';
import type { PlanProps } from './plan-props';
import { RampFields } from './RampFields';
import { ToneBorderFields } from './ToneBorderFields';

const USUAL = { count: 3, edge: 0.15, ramp: null, ramps: [], line: null, shadow: null };
const RAMP: Ramp = {
  stops: [
    { at: 0, color: '#4a3a5e' },
    { at: 0.5, color: '#b98a78' },
    { at: 1, color: '#fff0d2' },
  ],
  mixing: 'oklab',
  hardness: 0,
};

/** Light in a few tones. */
export function ToneStepFields({ plan, patch }: PlanProps) {
  const { steps } = plan;
  return (
    <Fold title="Tones" note={steps ? `${steps.count} tones` : 'smooth'}>
      <div className="row" role="group" aria-label="How light falls off">
        <Chip on={steps === null} onClick={() => patch({ steps: null }, null)}>
          Smooth
        </Chip>
        <Chip on={steps !== null} onClick={() => patch({ steps: steps ?? USUAL }, null)}>
          In steps
        </Chip>
      </div>
      {steps && (
        <>
          <Slider
            label="Tones"
            value={steps.count}
            min={2}
            max={6}
            step={1}
            onChange={(count, g) => patch({ steps: { ...steps, count } }, g)}
          />
          <ShareSlider
            label="Edge"
            says="Width of a border between tones"
            value={steps.edge}
            onChange={(edge, g) => patch({ steps: { ...steps, edge } }, g)}
          />
          <Chip
            on={steps.ramp !== null}
            title="Each tone takes its colour from a ramp instead of the light"
            onClick={() => patch({ steps: { ...steps, ramp: steps.ramp ? null : RAMP } }, null)}
          >
            Colours of their own
          </Chip>
          {steps.ramp && (
            <RampFields
              ramp={steps.ramp}
              name="the tones"
              onChange={(ramp, g) => patch({ steps: { ...steps, ramp } }, g)}
            />
          )}
          <PartTones steps={steps} onChange={(ramps, g) => patch({ steps: { ...steps, ramps } }, g)} />
          <ToneBorderFields steps={steps} onChange={(next, g) => patch({ steps: next }, g)} />
        </>
      )}
    </Fold>
  );
}

type Steps = NonNullable<PlanProps['plan']['steps']>;

/** The tones of the chosen part, and which others have their own. */
function PartTones({
  steps,
  onChange,
}: {
  readonly steps: Steps;
  readonly onChange: (ramps: Steps['ramps'], gesture: string | null) => void;
}) {
  const mesh = useProject((s) => s.mesh);
  const part = useUi((s) => (s.selectedPart === null ? null : mesh?.parts[s.selectedPart])) ?? null;
  const own = steps.ramps.find(([name]) => name === part)?.[1];
  const set = (ramp: Ramp, g: string | null): void => {
    if (part === null) return;
    const at = steps.ramps.findIndex(([name]) => name === part);
    onChange(at < 0 ? [...steps.ramps, [part, ramp]] : steps.ramps.with(at, [part, ramp]), g);
  };
  return (
    <Fold
      title="A part’s tones"
      note={steps.ramps.length ? `${steps.ramps.length} of their own` : 'all alike'}
    >
      {steps.ramps.length > 0 && (
        <p className="hint-line">Tones of their own: {steps.ramps.map(([name]) => name).join(', ')}.</p>
      )}
      {part === null ? (
        <p className="hint-line">Choose a part in Block in to give it tones of its own.</p>
      ) : own ? (
        <>
          <RampFields ramp={own} name={part} onChange={set} />
          <Chip
            onClick={() =>
              onChange(
                steps.ramps.filter(([name]) => name !== part),
                null,
              )
            }
          >
            {part} as the others again
          </Chip>
        </>
      ) : (
        <Chip onClick={() => set(steps.ramp ?? RAMP, null)}>Give {part} its own tones</Chip>
      )}
    </Fold>
  );
}
