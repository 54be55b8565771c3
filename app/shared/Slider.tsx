import { useId, useRef } from 'react';
import { newGesture, useKeyRun } from './gesture';

interface Props {
  readonly label: string;
  /** Its name where the label alone doesn’t tell. */
  readonly says?: string;
  readonly value: number;
  readonly min: number;
  readonly max: number;
  readonly step: number;
  readonly onChange: (value: number, gesture: string) => unknown;
  /** How the value is written; by default as it is. */
  readonly show?: (value: number) => string;
  /** Reads what was typed; by default a plain number. */
  readonly read?: (text: string) => number;
  /** The track's picture, for colour sliders. */
  readonly track?: string;
  /** Small values get more room. */
  readonly curve?: number;
}

/** A value that is dragged, stepped with the arrow keys, or typed. */
export function Slider({
  label,
  says,
  value,
  min,
  max,
  step,
  onChange,
  show,
  read,
  track,
  curve = 1,
}: Props) {
  const id = useId();
  const gesture = useRef('');
  const keyRun = useKeyRun(value);
  const toSlider = (v: number): number => ((v - min) / (max - min)) ** (1 / curve) * 1000;
  const fromSlider = (s: number): number => min + (s / 1000) ** curve * (max - min);
  const settle = (v: number): number => Math.min(max, Math.max(min, Math.round(v / step) * step));
  const begin = (): void => void (gesture.current = newGesture());
  const text = show ? show(value) : String(Number(value.toFixed(3)));
  return (
    <label className="slider" htmlFor={id}>
      <span className="slider-label">{label}</span>
      <input
        id={id}
        type="range"
        min={0}
        max={1000}
        step="any"
        value={toSlider(value)}
        {...(says ? { 'aria-label': says } : {})}
        aria-valuetext={text}
        style={track ? { backgroundImage: track } : undefined}
        className={track ? 'has-track' : undefined}
        onPointerDown={begin}
        onKeyDown={(e) => {
          const turn = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1, PageUp: 10, PageDown: -10 }[
            e.key
          ];
          if (!turn) return;
          e.preventDefault();
          keyRun(e.timeStamp, (from) => settle(from + turn * step), onChange);
        }}
        onChange={(e) => onChange(settle(fromSlider(Number(e.target.value))), gesture.current)}
      />
      <input
        className="slider-value"
        aria-label={`${says ?? label}, as a number`}
        key={text}
        defaultValue={text}
        onFocus={(e) => e.target.select()}
        onKeyDown={(e) => {
          if (e.key === 'Enter') e.currentTarget.blur();
          if (e.key === 'Escape') {
            e.currentTarget.value = text;
            e.currentTarget.blur();
          }
        }}
        onBlur={(e) => {
          if (e.target.value === text) return;
          const typed = read ? read(e.target.value) : Number.parseFloat(e.target.value);
          begin();
          if (Number.isFinite(typed)) onChange(settle(typed), gesture.current);
          else e.target.value = text;
        }}
      />
    </label>
  );
}

/** For angles kept in radians and shown in degrees. */
export const degrees = {
  show: (v: number): string => `${Math.round((v * 180) / Math.PI)}°`,
  read: (text: string): number => (Number.parseFloat(text) * Math.PI) / 180,
} as const;

/** For values kept as 0..1 and shown as 0..100. */
export const percent = {
  show: (v: number): string => String(Math.round(v * 100)),
  read: (text: string): number => Number.parseFloat(text) / 100,
} as const;

/** A share of a whole, kept as 0..1 (or up to `max`) and shown as 0..100. */
export const ShareSlider = ({
  max = 1,
  ...rest
}: Pick<Props, 'label' | 'says' | 'value' | 'onChange' | 'curve'> & { readonly max?: number }) => (
  <Slider min={0} max={max} step={0.01} {...percent} {...rest} />
);
