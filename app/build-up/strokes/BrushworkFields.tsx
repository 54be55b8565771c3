import { USUAL_BRUSHWORK, type Brushwork } from '../../../core/brushwork';
import type { NodePatch } from '../../../core/commands';
import { useActiveLight } from '../../project';
import { Chip } from '../../shared/Chip';
import { percent, ShareSlider, Slider } from '../../shared/Slider';
import { DirectionChoice } from '../cues/DirectionChoice';
import { Fold } from '../../shared/Fold';

const ALONG: Readonly<Record<Brushwork['along'], readonly [title: string, says: string]>> = {
  form: ['the form', 'Along ridges and folds, around what is round'],
  axis: ['an axis', 'Around an axis, as on a turned bowl'],
  down: ['down', 'As water runs'],
  light: ['the light', 'Along the border of light and shade'],
};

interface Props {
  readonly strokes: Brushwork | null;
  /** A wash lies in its mask only: nothing smooth under its strokes. */
  readonly isWash: boolean;
  readonly change: (patch: NodePatch, gesture: string | null) => void;
}

/** A derived layer laid down in strokes instead of smoothly. */
export function BrushworkFields({ strokes, isWash, change }: Props) {
  const light = useActiveLight();
  const set = (patch: Partial<Brushwork>, g: string | null): void =>
    change({ strokes: { ...(strokes ?? USUAL_BRUSHWORK), ...patch } }, g);
  const slider = (
    key: 'amount' | 'overlap' | 'edge' | 'bristle' | 'small' | 'under',
    label: string,
    says: string,
  ) => (
    <ShareSlider
      label={label}
      says={says}
      value={strokes![key]}
      max={key === 'overlap' ? 0.9 : 1}
      onChange={(value, g) => set({ [key]: value }, g)}
    />
  );
  return (
    <Fold title="Strokes" note={strokes ? `along ${ALONG[strokes.along][0]}` : 'laid smoothly'}>
      <Chip
        on={strokes !== null}
        title="Laid down in strokes of a brush that take their colours from the smooth layer"
        onClick={() =>
          change({ strokes: strokes ? null : { ...USUAL_BRUSHWORK, under: isWash ? 0 : 1 } }, null)
        }
      >
        In strokes
      </Chip>
      {strokes && (
        <>
          <div className="row" role="group" aria-label="Along what strokes lie">
            {(Object.keys(ALONG) as Brushwork['along'][]).map((along) => (
              <Chip
                key={along}
                on={strokes.along === along}
                title={ALONG[along][1]}
                onClick={() =>
                  set(
                    along === 'light' && light ? { along, direction: light.plan.key.direction } : { along },
                    null,
                  )
                }
              >
                {ALONG[along][0]}
              </Chip>
            ))}
          </div>
          {strokes.along === 'axis' && (
            <DirectionChoice
              name="the axis"
              direction={strokes.direction}
              onChange={(direction, g) => set({ direction }, g)}
            />
          )}
          <Slider
            label="Size"
            says="Width of a stroke, in parts of the model"
            value={strokes.size}
            min={0.004}
            max={0.2}
            step={0.001}
            curve={2}
            show={(v) => (v * 100).toFixed(1)}
            read={(text) => Number.parseFloat(text) / 100}
            onChange={(size, g) => set({ size }, g)}
          />
          <Slider
            label="Length"
            says="Length of a stroke, in its widths"
            value={strokes.length}
            min={1}
            max={12}
            step={0.1}
            onChange={(length, g) => set({ length }, g)}
          />
          {slider('overlap', 'Overlap', 'How much strokes lie over one another')}
          {slider('small', 'Small ones', 'How many small strokes lie on top')}
          {slider('under', 'Underneath', 'How much of the smooth layer lies under the strokes')}
          <Fold title="Brush" note="edge, bristles, chance">
            {slider('amount', 'Amount', 'Which part of the strokes is laid')}
            {slider('edge', 'Edge', 'How soft the strokes’ borders are')}
            {slider('bristle', 'Bristles', 'How much strokes break up into hairs')}
            {(
              [
                ['hueJitter', 'Hue', 60, 1, '°'],
                ['angleJitter', 'Angle', 90, 1, '°'],
                ['lightJitter', 'Lightness', 0.3, 0.005, ''],
              ] as const
            ).map(([key, label, max, step, unit]) => (
              <Slider
                key={key}
                label={label}
                says={`${label}: how much strokes differ`}
                value={strokes[key]}
                min={0}
                max={max}
                step={step}
                {...(unit ? { show: (v: number) => `${v}${unit}` } : percent)}
                onChange={(value, g) => set({ [key]: value }, g)}
              />
            ))}
            <Slider
              label="Seed"
              says="Seed of the strokes"
              value={strokes.seed}
              min={0}
              max={99}
              step={1}
              onChange={(seed, g) => set({ seed }, g)}
            />
          </Fold>
        </>
      )}
    </Fold>
  );
}
