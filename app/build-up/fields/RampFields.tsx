import type { Ramp } from '../../../core/color';
import { Chip } from '../../shared/Chip';
import { ShareSlider } from '../../shared/Slider';
import { RampEditor } from './RampEditor';

/** A ramp of colours: its stops, how they are mixed, how hard they meet. */
export function RampFields({
  ramp,
  name,
  onChange,
}: {
  readonly ramp: Ramp;
  /** Whose ramp it is. */
  readonly name: string;
  readonly onChange: (ramp: Ramp, gesture: string | null) => void;
}) {
  return (
    <>
      <RampEditor stops={ramp.stops} onChange={(stops, g) => onChange({ ...ramp, stops }, g)} />
      <ShareSlider
        label="Hardness"
        says={`Hardness of the ramp of ${name}`}
        value={ramp.hardness}
        onChange={(hardness, g) => onChange({ ...ramp, hardness }, g)}
      />
      <div className="row" role="group" aria-label={`How colours of ${name} are mixed`}>
        <Chip
          on={ramp.mixing === 'oklab'}
          title="Straight from colour to colour"
          onClick={() => onChange({ ...ramp, mixing: 'oklab' }, null)}
        >
          Straight
        </Chip>
        <Chip
          on={ramp.mixing === 'oklch'}
          title="Round by the hue: as vivid between as at the ends"
          onClick={() => onChange({ ...ramp, mixing: 'oklch' }, null)}
        >
          Round by hue
        </Chip>
      </div>
    </>
  );
}
