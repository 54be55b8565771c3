import './brush-panel.css';
import { useEffect } from 'react';
import { PICTURE_TIP, TIPS, type BrushShape, type TipName } from '../../core/paint';
import { setsOf, type Brush } from '../shared/brush';
import { Chip } from '../shared/Chip';
import { Fold } from '../shared/Fold';
import { degrees, ShareSlider, Slider } from '../shared/Slider';
import { brushInHand, changeBrush, changeShape, MOST_STEADY, useUi } from '../shared/ui-store';
import {
  addBrush,
  chooseTip,
  downloadBrush,
  downloadSet,
  removeBrush,
  resetBrush,
  takeBrushFile,
} from './brush-actions';
import { ScratchPatch } from './ScratchPatch';
import { DriveTable, Edge, Grain } from './BrushFolds';
import { TextField } from '../shared/TextField';

const TIP_WORDS: Readonly<Record<TipName, string>> = {
  round: 'Round',
  'flat-bristle': 'Flat bristle',
  'dry-bristle': 'Dry bristle',
  chalk: 'Chalk',
  sponge: 'Sponge',
  leaf: 'Leaf',
  spatter: 'Spatter',
  hatch: 'Hatch',
  hair: 'Hair',
  cloud: 'Cloud',
  nib: 'Nib',
  square: 'Square',
};

const LIES: Readonly<Record<BrushShape['lies'], readonly [title: string, says: string]>> = {
  surface: [
    'On the surface',
    'Follows the form; its distance runs along it, so that nothing beside or behind is met',
  ],
  against: [
    'Against it',
    'Lies flat against the form and fades with depth: also what only comes near is met',
  ],
  eye: ['From the eye', 'As it is seen from here, whatever stands behind what'],
  sheet: ['On the sheet', 'Flat on the sheet, over whatever lies beside it there'],
};

const FOLLOWS: Readonly<Record<BrushShape['follows'], readonly [title: string, says: string]>> = {
  fixed: ['upright', 'Its long side lies across the picture'],
  stroke: ['the stroke', 'Its long side runs along the stroke'],
  tilt: ['the pen', 'Its long side lies where the pen leans to'],
};

const UNITS: Readonly<Record<Brush['unit'], readonly [title: string, says: string]>> = {
  pixels: ['Pixels', 'As large as it is seen: nearer, it paints finer'],
  model: ['Model', 'In thousandths of the model: the same on it, however near'],
  texels: ['Texels', 'In texels of the sheet'],
};

const JITTERS = [
  ['size', 'Size', 'size'],
  ['opacity', 'Opacity', 'opacity'],
  ['turn', 'Turn', 'turn'],
  ['hue', 'Hue', 'hue'],
  ['light', 'Value', 'value'],
] as const satisfies readonly (readonly [keyof BrushShape['jitter'], string, string])[];

/** All that can be set on the brush in hand. */
export function BrushPanel({ onClose }: { readonly onClose: () => void }) {
  const brush = useUi(brushInHand);
  const steady = useUi((s) => s.steady);
  const fingerLooks = useUi((s) => s.fingerLooks);
  const { shape } = brush;
  useEffect(() => {
    const leave = (e: KeyboardEvent): void => {
      if (e.key === 'Escape') onClose();
    };
    window.addEventListener('keydown', leave);
    return () => window.removeEventListener('keydown', leave);
  }, [onClose]);
  return (
    <section className="brush-panel" aria-label={`Settings of the brush ${brush.name}`}>
      <div className="brush-head">
        <TextField
          className="form-control form-control-sm"
          aria-label="Name of the brush"
          value={brush.name}
          maxLength={60}
          onText={(name) => changeBrush({ name })}
        />
        <button type="button" className="step-off" aria-label="Close the brush’s settings" onClick={onClose}>
          ×
        </button>
      </div>
      <ScratchPatch brush={brush} />
      <div className="tip-grid" role="radiogroup" aria-label="Tip">
        {TIPS.map((tip) => (
          <button
            key={tip}
            type="button"
            role="radio"
            aria-checked={shape.tip === tip}
            onClick={() => changeShape({ tip })}
          >
            {TIP_WORDS[tip]}
          </button>
        ))}
        <button
          type="button"
          role="radio"
          aria-checked={shape.tip === PICTURE_TIP}
          title="A picture of your own: it paints where it is dark, or, if some of it is transparent, where it isn’t"
          onClick={() => void chooseTip(brush)}
        >
          Picture…
        </button>
      </div>
      <SetField brush={brush} />
      <Choice
        label="How it lies"
        words={LIES}
        value={shape.lies}
        onChange={(lies) => changeShape({ lies })}
      />
      <Choice
        label="What its size is measured in"
        words={UNITS}
        value={brush.unit}
        onChange={(unit) => changeBrush({ unit })}
      />
      <div className="row">
        <Chip
          on={shape.builds}
          title="Where a stroke goes over itself it covers more; without, its opacity is that of the whole stroke"
          onClick={() => changeShape({ builds: !shape.builds })}
        >
          Builds up
        </Chip>
      </div>
      <Slider
        label="Steady"
        says="Length of the string on which the pen follows the pointer"
        value={steady}
        min={0}
        max={MOST_STEADY}
        step={1}
        show={(v) => (v > 0 ? `${v} px` : 'off')}
        read={(text) => (text === 'off' ? 0 : Number.parseFloat(text))}
        onChange={(v) => useUi.setState({ steady: v })}
      />
      <div className="row">
        <Chip
          on={fingerLooks}
          title="On a touch screen a finger turns and moves the view; a pen or a mouse paints"
          onClick={() => useUi.setState({ fingerLooks: !fingerLooks })}
        >
          A finger only looks
        </Chip>
      </div>
      <Fold title="Turn and shape" note={FOLLOWS[shape.follows][0]} begins>
        <Choice
          label="What its long side follows"
          words={FOLLOWS}
          value={shape.follows}
          onChange={(follows) => changeShape({ follows })}
        />
        <Slider
          label="Turn"
          says="How far the tip is turned"
          value={shape.turn}
          min={-Math.PI}
          max={Math.PI}
          step={Math.PI / 180}
          {...degrees}
          onChange={(turn) => changeShape({ turn })}
        />
        <ShareSlider
          label="Round"
          says="Its narrow side, in parts of the long one"
          value={shape.roundness}
          onChange={(v) => changeShape({ roundness: Math.max(0.05, v) })}
        />
      </Fold>
      <Fold title="Chance" note={shape.scatter > 0 || shape.count > 1 ? 'scattered' : ''}>
        <ShareSlider
          label="Scatter"
          says="How far dabs are thrown to the side"
          value={shape.scatter}
          max={4}
          curve={2}
          onChange={(scatter) => changeShape({ scatter })}
        />
        <Slider
          label="Count"
          says="Dabs at each place"
          value={shape.count}
          min={1}
          max={12}
          step={1}
          onChange={(count) => changeShape({ count })}
        />
        {JITTERS.map(([of, label, says]) => (
          <ShareSlider
            key={of}
            label={label}
            says={`By how much dabs differ in ${says}`}
            value={shape.jitter[of]}
            onChange={(v) => changeShape({ jitter: { ...shape.jitter, [of]: v } })}
          />
        ))}
      </Fold>
      <Grain shape={shape} />
      <Edge shape={shape} />
      <DriveTable shape={shape} />
      <div className="row">
        <Chip title="Put a copy of it into the tray" onClick={addBrush}>
          Duplicate
        </Chip>
        <Chip title="As it came" disabled={!resetBrush.isThere(brush)} onClick={() => resetBrush(brush)}>
          Reset
        </Chip>
        <Chip title="Keep it as a file" onClick={() => downloadBrush(brush)}>
          To file
        </Chip>
        <Chip title="Keep all brushes of its set as one file" onClick={() => downloadSet(brush)}>
          Set to file
        </Chip>
        <Chip title="Add brushes from a file that was kept here" onClick={() => void takeBrushFile()}>
          From file…
        </Chip>
        <Chip title="Remove it from the tray" onClick={removeBrush}>
          Remove
        </Chip>
      </div>
    </section>
  );
}

/** The set in which the brush lies: one that is there, or a new one. */
function SetField({ brush }: { readonly brush: Brush }) {
  const tray = useUi((s) => s.tray);
  return (
    <label className="set-field">
      <small>Set</small>
      <TextField
        key={`${brush.name} ${brush.set}`}
        className="form-control form-control-sm"
        list="brush-sets"
        value={brush.set}
        maxLength={40}
        placeholder="none"
        mayBeEmpty
        onText={(set) => changeBrush({ set })}
      />
      <datalist id="brush-sets">
        {setsOf(tray)
          .filter(Boolean)
          .map((set) => (
            <option key={set} value={set} />
          ))}
      </datalist>
    </label>
  );
}

function Choice<K extends string>({
  label,
  words,
  value,
  onChange,
}: {
  readonly label: string;
  readonly words: Readonly<Record<K, readonly [title: string, says: string]>>;
  readonly value: K;
  readonly onChange: (value: K) => void;
}) {
  return (
    <div className="row" role="group" aria-label={label}>
      {(Object.keys(words) as K[]).map((key) => (
        <Chip key={key} on={value === key} title={words[key][1]} onClick={() => onChange(key)}>
          {words[key][0]}
        </Chip>
      ))}
    </div>
  );
}
