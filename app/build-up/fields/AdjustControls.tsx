import type { AdjustLayer, Change } from '../../../core/layers';
import type { NodePatch } from '../../../core/commands';
import { percent, ShareSlider, Slider } from '../../shared/Slider';
import { CurveEditor } from '../../shared/CurveEditor';
import { BalanceFields } from './BalanceFields';
import { RampEditor } from './RampEditor';

interface Props {
  readonly node: AdjustLayer;
  readonly change: (patch: NodePatch, gesture: string | null) => void;
}

/** What a change layer does to the colours below it. */
export function AdjustControls({ node, change }: Props) {
  const now = node.change;
  const set = (next: Change, gesture: string | null): void => change({ change: next }, gesture);
  switch (now.by) {
    case 'oklch':
      return (
        <>
          <Slider
            label="Hue"
            value={now.hue}
            min={-180}
            max={180}
            step={1}
            show={(v) => `${Math.round(v)}°`}
            onChange={(hue, g) => set({ ...now, hue }, g)}
          />
          <Slider
            label="Chroma"
            value={now.chroma}
            min={0}
            max={3}
            step={0.01}
            curve={1.6}
            show={(v) => `× ${v.toFixed(2)}`}
            read={(text) => Number.parseFloat(text.replace('×', ''))}
            onChange={(chroma, g) => set({ ...now, chroma }, g)}
          />
          <Slider
            label="Lightness"
            value={now.lightness}
            min={-0.5}
            max={0.5}
            step={0.01}
            {...percent}
            onChange={(lightness, g) => set({ ...now, lightness }, g)}
          />
        </>
      );
    case 'levels': {
      const slider = (label: string, key: 'low' | 'high' | 'outLow' | 'outHigh') => (
        <ShareSlider
          label={label}
          value={now[key]}
          onChange={(value, g) => set({ ...now, [key]: value }, g)}
        />
      );
      return (
        <>
          {slider('Black point', 'low')}
          {slider('White point', 'high')}
          <Slider
            label="Midtones"
            value={now.gamma}
            min={0.2}
            max={4}
            step={0.01}
            curve={2}
            onChange={(gamma, g) => set({ ...now, gamma }, g)}
          />
          {slider('Darkest', 'outLow')}
          {slider('Lightest', 'outHigh')}
        </>
      );
    }
    case 'curve':
      return <CurveEditor points={now.points} onChange={(points, g) => set({ ...now, points }, g)} />;
    case 'balance':
      return <BalanceFields stops={now.stops} onChange={(stops, g) => set({ ...now, stops }, g)} />;
    case 'ramp':
      return <RampEditor stops={now.stops} onChange={(stops, g) => set({ ...now, stops }, g)} />;
  }
}
