import { useState } from 'react';
import type { Change } from '../../../core/layers';
import { Chip } from '../../shared/Chip';
import { Slider } from '../../shared/Slider';

type Stops = Extract<Change, { by: 'balance' }>['stops'];

/** What a tone of three is called; others are told by their lightness. */
const NAMES = ['Shadow', 'Middle', 'Light'] as const;

/** Tones that are moved each by its own: lighter, toward red, toward yellow. */
export function BalanceFields({
  stops,
  onChange,
}: {
  readonly stops: Stops;
  readonly onChange: (stops: Stops, gesture: string | null) => void;
}) {
  const [chosen, setChosen] = useState(0);
  const index = Math.min(chosen, stops.length - 1);
  const stop = stops[index]!;
  const field = (label: string, key: 'lightness' | 'red' | 'yellow', most: number) => (
    <Slider
      label={label}
      value={stop[key]}
      min={-most}
      max={most}
      step={0.005}
      show={(v) => `${v > 0 ? '+' : v < 0 ? '−' : ''}${Math.abs(Math.round(v * 1000) / 10)}`}
      read={(text) => Number.parseFloat(text.replace('−', '-')) / 100}
      onChange={(value, g) => onChange(stops.with(index, { ...stop, [key]: value }), g)}
    />
  );
  return (
    <>
      <div className="row" role="group" aria-label="Tone">
        {stops.map(({ at }, i) => (
          <Chip
            key={i}
            on={i === index}
            title={`Around lightness ${Math.round(at * 100)}`}
            onClick={() => setChosen(i)}
          >
            {stops.length === 3 ? NAMES[i] : Math.round(at * 100)}
          </Chip>
        ))}
      </div>
      {field('Lighter', 'lightness', 0.5)}
      {field('Redder', 'red', 0.2)}
      {field('Yellower', 'yellow', 0.2)}
    </>
  );
}
