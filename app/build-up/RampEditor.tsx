import { Chip } from '../shared/Chip';
import { ColorField } from '../shared/ColorField';
import { newGesture } from '../shared/gesture';
import { percent, Slider } from '../shared/Slider';

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
        <div className="ramp-stop" key={i}>
          <ColorField
            label={`Colour ${i + 1}`}
            color={stop.color}
            onChange={(color, g) => change(i, { color }, g)}
          />
          <Slider
            label="At"
            value={stop.at}
            min={i > 0 ? stops[i - 1]!.at : 0}
            max={i < stops.length - 1 ? stops[i + 1]!.at : 1}
            step={0.01}
            {...percent}
            onChange={(at, g) => change(i, { at }, g)}
          />
          <button
            type="button"
            className="step-off"
            aria-label={`Remove colour ${i + 1}`}
            disabled={stops.length <= 2}
            onClick={() => onChange(stops.toSpliced(i, 1), newGesture())}
          >
            ×
          </button>
        </div>
      ))}
      <Chip disabled={stops.length >= MOST} onClick={add}>
        Add a colour
      </Chip>
    </div>
  );
}
