import { Eyedropper } from '@phosphor-icons/react/Eyedropper';
import { Chip } from '../../shared/Chip';
import { ColorField } from '../../shared/ColorField';
import { useTakesColor } from '../../shared/color-taker';
import { newGesture } from '../../shared/gesture';
import { percent, Slider } from '../../shared/Slider';

interface Stop {
  readonly at: number;
  readonly color: string;
}

interface Props {
  readonly stops: readonly Stop[];
  readonly onChange: (stops: Stop[], gesture: string) => void;
}

const MOST = 16;

/** Colours from dark to light. */
export function RampEditor({ stops, onChange }: Props) {
  const change = (index: number, patch: Partial<Stop>, gesture: string): void => {
    const next = [...stops].with(index, { ...stops[index]!, ...patch });
    onChange(
      next.sort((a, b) => a.at - b.at),
      gesture,
    );
  };
  const add = (): void => {
    // In the widest gap, in the colour of its darker end.
    const gaps = stops.slice(1).map((s, i) => s.at - stops[i]!.at);
    const widest = gaps.indexOf(Math.max(...gaps));
    const [a, b] = [stops[widest]!, stops[widest + 1]!];
    onChange(stops.toSpliced(widest + 1, 0, { at: (a.at + b.at) / 2, color: a.color }), newGesture());
  };
  const picture = `linear-gradient(90deg in oklab, ${stops.map((s) => `${s.color} ${s.at * 100}%`).join(', ')})`;
  return (
    <div className="ramp-editor">
      <i className="ramp-picture" style={{ background: picture }} aria-hidden />
      {stops.map((stop, i) => (
        <StopRow
          key={i}
          stop={stop}
          number={i + 1}
          low={i > 0 ? stops[i - 1]!.at : 0}
          high={i < stops.length - 1 ? stops[i + 1]!.at : 1}
          onChange={(patch, g) => change(i, patch, g)}
          onRemove={stops.length > 2 ? () => onChange(stops.toSpliced(i, 1), newGesture()) : null}
        />
      ))}
      <Chip disabled={stops.length >= MOST} onClick={add}>
        Add a colour
      </Chip>
    </div>
  );
}

function StopRow({
  stop,
  number,
  low,
  high,
  onChange,
  onRemove,
}: {
  readonly stop: Stop;
  readonly number: number;
  readonly low: number;
  readonly high: number;
  readonly onChange: (patch: Partial<Stop>, gesture: string) => void;
  readonly onRemove: (() => void) | null;
}) {
  const { takes, toggle } = useTakesColor((color) => onChange({ color }, newGesture()));
  return (
    <div className="ramp-stop">
      <ColorField
        label={`Colour ${number}`}
        color={stop.color}
        onChange={(color, g) => onChange({ color }, g)}
      />
      <Slider
        label="At"
        says={`Where colour ${number} stands`}
        value={stop.at}
        min={low}
        max={high}
        step={0.01}
        {...percent}
        onChange={(at, g) => onChange({ at }, g)}
      />
      <button
        type="button"
        className={takes ? 'step-off on' : 'step-off'}
        aria-pressed={takes}
        aria-label={`Pick colour ${number} from the easel`}
        title="The next colours picked from the reference or the palette go here"
        onClick={toggle}
      >
        <Eyedropper size={14} aria-hidden />
      </button>
      <button
        type="button"
        className="step-off"
        aria-label={`Remove colour ${number}`}
        disabled={!onRemove}
        onClick={() => onRemove?.()}
      >
        ×
      </button>
    </div>
  );
}
