import type { LightPlan } from '../../../core/light';
import { Chip } from '../../shared/Chip';
import { ColorField } from '../../shared/ColorField';
import { Fold } from '../../shared/Fold';
import { ShareSlider, Slider } from '../../shared/Slider';

type Steps = NonNullable<LightPlan['steps']>;

const USUAL_LINE: NonNullable<Steps['line']> = {
  waver: 0.2,
  scale: 0.08,
  width: 0.006,
  strength: 0.7,
  color: null,
  seed: 1,
};
const USUAL_SHADOW = '#6f6390';
const USUAL_EDGE = '#8a3b2a';

const ofModel = {
  show: (v: number) => `${(v * 100).toFixed(1)} %`,
  read: (text: string) => Number.parseFloat(text) / 100,
};

/** How borders between tones are drawn, and the tone of the cast shadow. */
export function ToneBorderFields({
  steps,
  onChange,
}: {
  readonly steps: Steps;
  readonly onChange: (steps: Steps, gesture: string | null) => void;
}) {
  const { line, shadow } = steps;
  const set = (patch: Partial<NonNullable<Steps['line']>>, g: string | null): void =>
    onChange({ ...steps, line: { ...(line ?? USUAL_LINE), ...patch } }, g);
  return (
    <>
      <Fold title="Borders" note={line ? 'drawn like a line' : 'plain'}>
        <Chip
          on={line !== null}
          title="Borders between tones waver like a hand’s, with a thin edge on their darker side"
          onClick={() => onChange({ ...steps, line: line ? null : USUAL_LINE }, null)}
        >
          Drawn like a line
        </Chip>
        {line && (
          <>
            <ShareSlider
              label="Waver"
              says="How far borders go to and fro"
              value={line.waver}
              onChange={(waver, g) => set({ waver }, g)}
            />
            <Slider
              label="Wave"
              says="Length of a border’s wave, in parts of the model"
              value={line.scale}
              min={0.005}
              max={0.5}
              step={0.005}
              curve={2}
              {...ofModel}
              onChange={(scale, g) => set({ scale }, g)}
            />
            <Slider
              label="Edge"
              says="Width of the edge at the turn, in parts of the model"
              value={line.width}
              min={0}
              max={0.05}
              step={0.0005}
              curve={2}
              {...ofModel}
              onChange={(width, g) => set({ width }, g)}
            />
            <ShareSlider
              label="Strength"
              says="How strongly the edge at the turn shows"
              value={line.strength}
              onChange={(strength, g) => set({ strength }, g)}
            />
            <div className="row">
              <Chip
                on={line.color === null}
                title="Darker and more saturated than the tone that it lies on"
                onClick={() => set({ color: line.color === null ? USUAL_EDGE : null }, null)}
              >
                Edge from the tone
              </Chip>
              {line.color !== null && (
                <ColorField
                  label="Colour of the edge"
                  color={line.color}
                  onChange={(color, g) => set({ color }, g)}
                />
              )}
              <Chip title="Another hand" onClick={() => set({ seed: (line.seed + 1) % 10_000 }, null)}>
                Draw again
              </Chip>
            </div>
          </>
        )}
      </Fold>
      <Fold title="Shadow’s tone" note={shadow ?? 'as the light'}>
        <div className="row">
          <Chip
            on={shadow !== null}
            title="What stands in the cast shadow has one flat tone"
            onClick={() => onChange({ ...steps, shadow: shadow === null ? USUAL_SHADOW : null }, null)}
          >
            A tone of its own
          </Chip>
          {shadow !== null && (
            <ColorField
              label="Tone of the cast shadow"
              color={shadow}
              onChange={(next, g) => onChange({ ...steps, shadow: next }, g)}
            />
          )}
        </div>
      </Fold>
    </>
  );
}
