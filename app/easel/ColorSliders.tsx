import { useEffect, useRef, useState } from 'react';
import { hexToRgb, oklchToRgb, rgbToHex, rgbToOklch, type Oklch } from '../../core/color';
import { colorClipboard } from '../shared/color-clipboard';
import { useColorSource } from '../shared/color-drag';
import { Slider } from '../shared/Slider';
import { useUi } from '../shared/ui-store';
import { TextField } from '../shared/TextField';

const gradient = (stops: readonly Oklch[]): string =>
  `linear-gradient(90deg, ${stops.map((s) => rgbToHex(oklchToRgb(s))).join(', ')})`;

const steps = (n: number, make: (t: number) => Oklch): Oklch[] =>
  Array.from({ length: n }, (_, i) => make(i / (n - 1)));

/** The colour in hand, mixed by lightness, chroma and hue (OKLCH), so that turning one leaves the others as they look. */
export function ColorSliders() {
  const color = useUi((s) => s.color);
  // Hue is lost in greys and chroma at the gamut's edge: the sliders remember what was asked for.
  const [lch, setLch] = useState(() => rgbToOklch(hexToRgb(color)));
  const source = useColorSource(color);
  const own = useRef(color);
  useEffect(() => {
    if (own.current === color) return;
    own.current = color;
    setLch((previous) => {
      const next = rgbToOklch(hexToRgb(color));
      return next.C < 1e-3 ? { ...next, h: previous.h } : next;
    });
  }, [color]);
  const mix = (patch: Partial<Oklch>): void => {
    const next = { ...lch, ...patch };
    const hex = rgbToHex(oklchToRgb(next));
    own.current = hex;
    setLch(next);
    useUi.setState({ color: hex });
  };
  return (
    <div className="color-in-hand">
      <div className="in-hand">
        <div
          className="in-hand-color"
          style={{ background: color }}
          tabIndex={0}
          role="img"
          aria-label={`Colour in hand ${color}`}
          title="Drag it onto a part; Ctrl C copies it, Ctrl V puts another one here"
          {...source}
          {...colorClipboard(color, (pasted) => useUi.setState({ color: pasted }))}
        />
        <TextField
          aria-label="Colour in hand, as #rrggbb"
          value={color}
          onText={(typed) => {
            const full = `#${typed.toLowerCase().replace(/^#/, '')}`;
            if (!/^#[0-9a-f]{6}$/.test(full)) return false;
            useUi.setState({ color: full });
          }}
        />
      </div>
      <div className="color-sliders">
        <Slider
          label="Lightness"
          value={lch.L}
          min={0}
          max={1}
          step={0.01}
          show={(v) => v.toFixed(2)}
          track={gradient(steps(7, (t) => ({ ...lch, L: t })))}
          onChange={(L) => mix({ L })}
        />
        <Slider
          label="Chroma"
          value={lch.C}
          min={0}
          max={0.32}
          step={0.005}
          show={(v) => v.toFixed(3)}
          track={gradient(steps(7, (t) => ({ ...lch, C: t * 0.32 })))}
          onChange={(C) => mix({ C })}
        />
        <Slider
          label="Hue"
          value={lch.h}
          min={0}
          max={360}
          step={1}
          show={(v) => `${Math.round(v)}°`}
          track={gradient(steps(13, (t) => ({ L: lch.L, C: Math.max(lch.C, 0.06), h: t * 360 })))}
          onChange={(h) => mix({ h })}
        />
      </div>
    </div>
  );
}
