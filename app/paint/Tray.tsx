import { useShallow } from 'zustand/shallow';
import { Chip } from '../shared/Chip';
import { percent, Slider } from '../shared/Slider';
import { brushInHand, changeBrush, useUi, type Brush } from '../shared/ui-store';
import { BrushStroke } from './BrushStroke';

const edgeWords = {
  show: (v: number): string => (v < 0.15 ? 'hard' : v > 0.85 ? 'soft' : String(Math.round(v * 100))),
  read: (text: string): number => (text === 'hard' ? 0 : text === 'soft' ? 1 : Number.parseFloat(text) / 100),
} as const;

/** Brushes and what they do, along the lower edge. */
export function Tray() {
  const brushes = useUi((s) => s.brushes);
  const inHand = useUi((s) => s.brush);
  const brush = useUi(brushInHand);
  return (
    <footer className="tray" aria-label="Brushes">
      <div className="brushes" role="radiogroup" aria-label="Brush">
        {brushes.map((b, i) => (
          <BrushButton key={b.name} brush={b} on={i === inHand} onTake={() => useUi.setState({ brush: i })} />
        ))}
      </div>
      <div className="brush-sliders">
        <Slider
          label="Size"
          value={brush.size}
          min={1}
          max={500}
          step={1}
          curve={2.2}
          show={(v) => `${Math.round(v)} px`}
          onChange={(size) => changeBrush({ size })}
        />
        <Slider
          label="Edge"
          value={brush.edge}
          min={0}
          max={1}
          step={0.01}
          {...edgeWords}
          onChange={(edge) => changeBrush({ edge })}
        />
        <Slider
          label="Opacity"
          value={brush.opacity}
          min={0.01}
          max={1}
          step={0.01}
          {...percent}
          onChange={(opacity) => changeBrush({ opacity })}
        />
        <Slider
          label="Spacing"
          value={brush.spacing}
          min={0.02}
          max={1}
          step={0.01}
          curve={2}
          show={(v) => `${Math.round(v * 100)} %`}
          read={percent.read}
          onChange={(spacing) => changeBrush({ spacing })}
        />
      </div>
      <Guards />
    </footer>
  );
}

function Guards() {
  const { guardPart, guardNear, pressureSize, pressureOpacity, picking } = useUi(
    useShallow(({ guardPart, guardNear, pressureSize, pressureOpacity, picking }) => ({
      guardPart,
      guardNear,
      pressureSize,
      pressureOpacity,
      picking,
    })),
  );
  return (
    <div className="guards">
      <small aria-hidden>Stay within</small>
      <div className="row" role="group" aria-label="Stay within">
        <Chip
          on={guardPart}
          title="Strokes stay on the part where they begin"
          onClick={() => useUi.setState({ guardPart: !guardPart })}
        >
          Part
        </Chip>
        <Chip
          on={guardNear}
          title="Strokes leave alone what faces away"
          onClick={() => useUi.setState({ guardNear: !guardNear })}
        >
          Near side
        </Chip>
      </div>
      <small aria-hidden>Pen changes</small>
      <div className="row" role="group" aria-label="Pen changes">
        <Chip
          on={pressureSize}
          title="Pressing harder makes the brush larger"
          onClick={() => useUi.setState({ pressureSize: !pressureSize })}
        >
          Size
        </Chip>
        <Chip
          on={pressureOpacity}
          title="Pressing harder covers more"
          onClick={() => useUi.setState({ pressureOpacity: !pressureOpacity })}
        >
          Opacity
        </Chip>
      </div>
      <small>Colour</small>
      <div className="row">
        <Chip
          on={picking}
          title="The next click picks a colour from the picture (hold Alt)"
          onClick={() => useUi.setState({ picking: !picking })}
        >
          Pick from the picture
        </Chip>
      </div>
    </div>
  );
}

function BrushButton({
  brush,
  on,
  onTake,
}: {
  readonly brush: Brush;
  readonly on: boolean;
  readonly onTake: () => void;
}) {
  return (
    <button
      type="button"
      role="radio"
      aria-checked={on}
      className={on ? 'brush on' : 'brush'}
      onClick={onTake}
    >
      <BrushStroke brush={brush} />
      <small>{brush.name}</small>
    </button>
  );
}
