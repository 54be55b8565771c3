import type { InkStyle } from '../../../core/ink';
import { Chip } from '../../shared/Chip';
import { CurveEditor } from '../../shared/CurveEditor';
import { Fold } from '../../shared/Fold';
import { degrees, percent, ShareSlider, Slider } from '../../shared/Slider';
import { modelDiagonal } from './ink-actions';

const NIB_WORDS: Readonly<Record<InkStyle['nib'], readonly [title: string, says: string]>> = {
  round: ['Round', 'As wide in every direction'],
  flat: ['Flat', 'Broad in one direction, thin in the other, like a cut pen'],
  broken: ['Broken', 'With gaps, as a hand leaves them'],
};

interface StyleProps {
  readonly style: InkStyle;
  /** The colour in hand. */
  readonly color: string;
  readonly isClosed: boolean;
  readonly set: (patch: Partial<InkStyle>, gesture?: string | null) => void;
}

/** What a line looks like. */
export function InkStyleFields({ style, color, set, isClosed }: StyleProps) {
  const diagonal = modelDiagonal();
  return (
    <>
      <Slider
        label="Width"
        says="Width of the line, in parts of the model"
        value={style.width / diagonal}
        min={0.0002}
        max={0.06}
        step={0.0001}
        curve={2.5}
        show={(v) => `${(v * 100).toFixed(2)} %`}
        read={(text) => Number.parseFloat(text) / 100}
        onChange={(width, g) => set({ width: width * diagonal }, g)}
      />
      <ShareSlider
        label="Opacity"
        says="Opacity of the line"
        value={style.opacity}
        onChange={(opacity, g) => set({ opacity }, g)}
      />
      <div className="row" role="group" aria-label="Nib">
        {(Object.keys(NIB_WORDS) as InkStyle['nib'][]).map((nib) => (
          <Chip key={nib} on={style.nib === nib} title={NIB_WORDS[nib][1]} onClick={() => set({ nib })}>
            {NIB_WORDS[nib][0]}
          </Chip>
        ))}
        <Chip title="Drawn in the colour in hand" onClick={() => set({ color })}>
          <i className="swatch-dot" style={{ background: style.color }} aria-hidden /> Colour
        </Chip>
      </div>
      {style.nib === 'flat' && (
        <Slider
          label="Turn"
          says="The direction in which the nib is broad"
          value={style.nibTurn}
          min={0}
          max={Math.PI}
          step={Math.PI / 36}
          {...degrees}
          onChange={(nibTurn, g) => set({ nibTurn }, g)}
        />
      )}
      {style.nib === 'broken' && (
        <ShareSlider
          label="Gaps"
          says="Which part of it is missing"
          value={style.breaks}
          onChange={(breaks, g) => set({ breaks }, g)}
        />
      )}
      {isClosed && (
        <div className="row" role="group" aria-label="What lies within">
          <Chip on={style.fill === null} onClick={() => set({ fill: null })}>
            Line only
          </Chip>
          <Chip
            on={style.fill !== null}
            title="Filled with the colour in hand"
            onClick={() => set({ fill: color })}
          >
            <i className="swatch-dot" style={{ background: style.fill ?? color }} aria-hidden /> Filled
          </Chip>
        </div>
      )}
      <Fold title="Ends and width along it" note={style.profile ? 'drawn' : 'tapered'}>
        <ShareSlider
          label="Begins"
          says="Over which part of its length it grows from nothing"
          value={style.taper[0]}
          onChange={(taper, g) => set({ taper: [taper, style.taper[1]] }, g)}
        />
        <ShareSlider
          label="Ends"
          says="Over which part of its length it shrinks to nothing"
          value={style.taper[1]}
          onChange={(taper, g) => set({ taper: [style.taper[0], taper] }, g)}
        />
        <Chip
          on={style.profile !== null}
          title="Width from its beginning on the left to its end on the right"
          onClick={() =>
            set({
              profile: style.profile
                ? null
                : [
                    [0, 0.4],
                    [0.5, 1],
                    [1, 0.4],
                  ],
            })
          }
        >
          Draw it
        </Chip>
        {style.profile && (
          <CurveEditor points={style.profile} onChange={(profile, g) => set({ profile }, g)} />
        )}
      </Fold>
      <Fold title="A hand’s way" note={style.wobble > 0 || style.overshoot > 0 ? 'strays' : 'sure'}>
        <Slider
          label="Wobble"
          says="How far the hand strays, in widths"
          value={style.wobble}
          min={0}
          max={4}
          step={0.05}
          curve={2}
          {...percent}
          onChange={(wobble, g) => set({ wobble }, g)}
        />
        <Slider
          label="Overshoot"
          says="How far it runs on at its ends, in widths"
          value={style.overshoot}
          min={0}
          max={20}
          step={0.5}
          onChange={(overshoot, g) => set({ overshoot }, g)}
        />
        <Chip title="The same, strayed otherwise" onClick={() => set({ seed: (style.seed + 1) % 2 ** 31 })}>
          Another hand
        </Chip>
      </Fold>
    </>
  );
}
