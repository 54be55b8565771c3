import { ShareSlider, Slider } from '../shared/Slider';
import { Chip } from '../shared/Chip';
import { Fold } from '../shared/Fold';
import type { PlanProps } from './plan-props';
import { RampFields } from './RampFields';

const USUAL = { count: 3, edge: 0.15, ramp: null, ramps: [] };
const RAMP = {
  stops: [
    { at: 0, color: '#4a3a5e' },
    { at: 0.5, color: '#b98a78' },
    { at: 1, color: '#fff0d2' },
  ],
  mixing: 'oklab' as const,
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
        </>
      )}
    </Fold>
  );
}
