import { useEffect, useRef, useState, type KeyboardEvent } from 'react';
import { Eye } from '@phosphor-icons/react/Eye';
import { EyeSlash } from '@phosphor-icons/react/EyeSlash';
import { Dropdown } from 'react-bootstrap';
import { useProject } from '../project';
import { setsOf, type Brush } from '../shared/brush';
import { Chip } from '../shared/Chip';
import { useTip } from '../shared/commands';
import { FixedMenu } from '../shared/FixedMenu';
import { percent, Slider } from '../shared/Slider';
import { brushInHand, changeBrush, changeShape, takeBrush, useUi } from '../shared/ui-store';
import { BrushPanel } from './BrushPanel';
import { BrushStroke } from './BrushStroke';
import { USUAL_STEADY } from './commands';
import { togglePressure } from './drives';
import { takeBrushTool, usePaint } from './paint-store';
import { PathChips } from './ToolFields';

const edgeWords = {
  show: (v: number): string => (v < 0.15 ? 'hard' : v > 0.85 ? 'soft' : String(Math.round(v * 100))),
  read: (text: string): number => (text === 'hard' ? 0 : text === 'soft' ? 1 : Number.parseFloat(text) / 100),
} as const;

const SIZES: Readonly<Record<Brush['unit'], (size: number) => string>> = {
  pixels: (v) => `${Math.round(v)} px`,
  model: (v) => `${(v / 10).toFixed(1)} %`,
  texels: (v) => `${Math.round(v)} tx`,
};

/** Brushes and what they do, along the lower edge. */
export function Tray() {
  const tray = useUi((s) => s.tray);
  const inHand = useUi((s) => s.brush);
  const brush = useUi(brushInHand);
  const set = useShownSet();
  const [isOpen, setOpen] = useState(false);
  return (
    <footer className="tray" aria-label="Brushes">
      <div className="brush-shelf">
        <SetTabs />
        <div className="brushes" role="radiogroup" aria-label="Brush">
          {tray.map((b, i) =>
            set !== null && b.set !== set ? null : (
              // Two may be of one name.
              <BrushButton key={i} brush={b} on={i === inHand} onTake={() => take(i)} />
            ),
          )}
        </div>
      </div>
      <div className="brush-sliders">
        <Slider
          label="Size"
          value={brush.size}
          min={1}
          max={500}
          step={1}
          curve={2.2}
          show={SIZES[brush.unit]}
          read={(text) => Number.parseFloat(text) * (brush.unit === 'model' ? 10 : 1)}
          onChange={(size) => changeBrush({ size })}
        />
        <Slider
          label="Edge"
          value={brush.shape.edge}
          min={0}
          max={1}
          step={0.01}
          {...edgeWords}
          onChange={(edge) => changeShape({ edge })}
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
          value={brush.shape.spacing}
          min={0.02}
          max={2}
          step={0.01}
          curve={2}
          show={(v) => `${Math.round(v * 100)} %`}
          read={percent.read}
          onChange={(spacing) => changeShape({ spacing })}
        />
      </div>
      <Guards isOpen={isOpen} onOpen={() => setOpen(!isOpen)} />
      {isOpen && <BrushPanel onClose={() => setOpen(false)} />}
    </footer>
  );
}

/** Which set of brushes is shown; null: all. */
function useShownSet(): string | null {
  const tray = useUi((s) => s.tray);
  const set = useUi((s) => s.brushSet);
  return tray.some((b) => b.set === set) ? set : null;
}

/** The sets of the brushes in the tray. */
function SetTabs() {
  const tray = useUi((s) => s.tray);
  const shown = useShownSet();
  const sets = setsOf(tray);
  if (sets.length < 2) return null;
  return (
    <div className="brush-sets" role="group" aria-label="Set of brushes">
      <button type="button" aria-pressed={shown === null} onClick={() => useUi.setState({ brushSet: null })}>
        All
      </button>
      {sets.map((set) => (
        <button
          key={set}
          type="button"
          aria-pressed={shown === set}
          onClick={() => useUi.setState({ brushSet: set })}
        >
          {set || 'Others'}
        </button>
      ))}
    </div>
  );
}

function take(brush: number): void {
  takeBrush(brush);
  takeBrushTool();
}

function Guards({ isOpen, onOpen }: { readonly isOpen: boolean; readonly onOpen: () => void }) {
  const guardPart = useUi((s) => s.guardPart);
  const guardNear = useUi((s) => s.guardNear);
  const guardPainted = useUi((s) => s.guardPainted);
  const guardSeen = useUi((s) => s.guardSeen);
  const guardLike = useUi((s) => s.guardLike);
  const showsReach = usePaint((s) => s.showsReach);
  const tip = useTip();
  const picking = useUi((s) => s.picking);
  const glazing = useUi((s) => s.glazing);
  const steady = useUi((s) => s.steady);
  const { pressure } = useUi(brushInHand).shape;
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
        <Chip
          on={guardPainted}
          title="Strokes change what the layer has, and leave alone where it has nothing"
          onClick={() => useUi.setState({ guardPainted: !guardPainted })}
        >
          Painted
        </Chip>
        <Chip
          on={guardSeen}
          title={tip('Strokes change what is seen, and leave alone what something else hides', 'guard-seen')}
          onClick={() => useUi.setState({ guardSeen: !guardSeen })}
        >
          Seen
        </Chip>
        <Chip
          on={guardLike}
          title={tip('Strokes change what has much the colour of the layer where they begin', 'guard-like')}
          onClick={() => useUi.setState({ guardLike: !guardLike })}
        >
          Alike
        </Chip>
        <RegionGuard />
        <Chip
          on={showsReach}
          aria-label="Show what strokes can reach"
          title={tip('Rest the pointer: what a stroke from there can’t reach is hatched', 'show-reach')}
          onClick={() => usePaint.setState({ showsReach: !showsReach })}
        >
          {showsReach ? <Eye size={14} aria-hidden /> : <EyeSlash size={14} aria-hidden />}
        </Chip>
      </div>
      <small aria-hidden>Pen</small>
      <div className="row" role="group" aria-label="Pen">
        <Chip
          on={pressure.size !== null}
          title="Pressing harder makes the brush larger"
          onClick={() => togglePressure('size')}
        >
          Size
        </Chip>
        <Chip
          on={pressure.opacity !== null}
          title="Pressing harder covers more"
          onClick={() => togglePressure('opacity')}
        >
          Opacity
        </Chip>
        <Chip
          on={steady > 0}
          title="The pen follows the pointer on a string, which takes the tremble out (S)"
          onClick={() => useUi.setState({ steady: steady > 0 ? 0 : USUAL_STEADY })}
        >
          Steady
        </Chip>
        <PathChips />
      </div>
      <small>Colour</small>
      <div className="row">
        <Chip
          on={picking}
          title="The next click picks a colour from the picture (hold Alt)"
          onClick={() => useUi.setState({ picking: !picking })}
        >
          Pick
        </Chip>
        <Chip
          on={glazing}
          title="Strokes lay the local colour of where they begin, thinly: it calms a spot (O)"
          onClick={() => useUi.setState({ glazing: !glazing })}
        >
          Glaze back
        </Chip>
        <Chip
          aria-expanded={isOpen}
          title="Tip, grain, chance, what the pen drives; duplicate and files"
          onClick={onOpen}
        >
          Brush…
        </Chip>
      </div>
    </div>
  );
}

/** Which region strokes stay within. Not there while the project has none. */
function RegionGuard() {
  const regions = useProject((s) => s.document?.regions);
  const within = useUi((s) => s.guardRegion);
  if (!regions?.length) return null;
  const chosen = regions.find((r) => r.id === within);
  return (
    <Dropdown onSelect={(id) => useUi.setState({ guardRegion: id === 'none' ? null : Number(id) })}>
      <Dropdown.Toggle
        as="button"
        type="button"
        className={chosen ? 'chip on' : 'chip'}
        title="Strokes stay within the region that is chosen here"
      >
        {chosen?.name ?? 'Region'}
      </Dropdown.Toggle>
      <FixedMenu>
        {regions.map(({ id, name }) => (
          <Dropdown.Item as="button" type="button" key={id} eventKey={id} active={id === within}>
            {name}
          </Dropdown.Item>
        ))}
        <Dropdown.Divider />
        <Dropdown.Item as="button" type="button" eventKey="none" disabled={!chosen}>
          No region
        </Dropdown.Item>
      </FixedMenu>
    </Dropdown>
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
  const own = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (on) own.current?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  }, [on]);
  return (
    <button
      ref={own}
      type="button"
      role="radio"
      aria-checked={on}
      tabIndex={on ? 0 : -1}
      title={brush.name}
      className={on ? 'brush on' : 'brush'}
      onClick={onTake}
      onKeyDown={goOn}
    >
      <BrushStroke brush={brush} />
      <small>{brush.name}</small>
    </button>
  );
}

/** Arrows go from brush to brush, as in any group of which one is chosen. */
function goOn(e: KeyboardEvent<HTMLButtonElement>): void {
  const step = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[e.key];
  if (!step) return;
  e.preventDefault();
  const buttons = [...(e.currentTarget.parentElement?.children ?? [])] as HTMLElement[];
  const next = (buttons.indexOf(e.currentTarget) + step + buttons.length) % buttons.length;
  buttons[next]?.focus();
  buttons[next]?.click();
}
