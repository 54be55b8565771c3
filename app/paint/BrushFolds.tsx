import { useState } from 'react';
import { DRIVEN, STRAIGHT, type BrushShape, type Drives } from '../../core/paint';
import { Chip } from '../shared/Chip';
import { CurveEditor } from '../shared/CurveEditor';
import { Fold } from '../shared/Fold';
import { ShareSlider, Slider } from '../shared/Slider';
import { changeShape } from '../shared/ui-store';
import { DRIVEN_WORDS, DRIVER_WORDS, setDrive, type Driver } from './drives';

const GRAINS = { value: 'clouds', ridged: 'veins', cellular: 'cells' } as const;

/** Held in model space, so that it doesn't swim. */
export function Grain({ shape: { grain } }: { readonly shape: BrushShape }) {
  const set = (patch: Partial<NonNullable<BrushShape['grain']>>): void =>
    changeShape({ grain: { kind: 'value', scale: 160, depth: 0.6, ...grain, ...patch } });
  return (
    <Fold title="Grain" note={grain ? GRAINS[grain.kind] : 'none'}>
      <div className="row" role="group" aria-label="Kind of grain">
        <Chip on={grain === null} onClick={() => changeShape({ grain: null })}>
          none
        </Chip>
        {(Object.keys(GRAINS) as (keyof typeof GRAINS)[]).map((kind) => (
          <Chip key={kind} on={grain?.kind === kind} onClick={() => set({ kind })}>
            {GRAINS[kind]}
          </Chip>
        ))}
      </div>
      {grain && (
        <>
          <Slider
            label="Grains"
            says="Grains along the model"
            value={grain.scale}
            min={1}
            max={800}
            step={1}
            curve={2}
            onChange={(scale) => set({ scale })}
          />
          <ShareSlider
            label="Depth"
            says="How much the grain takes away"
            value={grain.depth}
            onChange={(depth) => set({ depth })}
          />
        </>
      )}
    </Fold>
  );
}

/** The usual fall from the middle to the rim, or one that is drawn. */
export function Edge({ shape: { profile } }: { readonly shape: BrushShape }) {
  return (
    <Fold title="Edge as a curve" note={profile ? 'drawn' : 'by the slider'}>
      <Chip
        on={profile !== null}
        title="Coverage from the middle on the left to the rim on the right"
        onClick={() =>
          changeShape({
            profile: profile
              ? null
              : [
                  [0, 1],
                  [1, 0],
                ],
          })
        }
      >
        Draw it
      </Chip>
      {profile && <CurveEditor points={profile} onChange={(points) => changeShape({ profile: points })} />}
    </Fold>
  );
}

const DRIVERS = Object.keys(DRIVER_WORDS) as Driver[];

/** What pressure, tilt and speed drive, each by a curve. */
export function DriveTable({ shape }: { readonly shape: BrushShape }) {
  const [open, setOpen] = useState<readonly [Driver, keyof Drives] | null>(null);
  const curve = open && shape[open[0]][open[1]];
  const count = DRIVERS.reduce((n, d) => n + DRIVEN.filter((of) => shape[d][of]).length, 0);
  return (
    <Fold title="Driven by the pen" note={count ? `${count} driven` : 'nothing'}>
      <table className="drives">
        <thead>
          <tr>
            <th scope="col">
              <span className="visually-hidden">Driven by</span>
            </th>
            {DRIVEN.map((of) => (
              <th key={of} scope="col">
                {DRIVEN_WORDS[of]}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {DRIVERS.map((driver) => (
            <tr key={driver}>
              <th scope="row">{DRIVER_WORDS[driver]}</th>
              {DRIVEN.map((of) => (
                <td key={of}>
                  <Chip
                    on={shape[driver][of] !== null}
                    aria-label={`${DRIVER_WORDS[driver]} drives ${DRIVEN_WORDS[of]}`}
                    onClick={() => {
                      const isOn = shape[driver][of] !== null;
                      setDrive(driver, of, isOn ? null : STRAIGHT);
                      setOpen(isOn ? null : [driver, of]);
                    }}
                  >
                    {shape[driver][of] ? '●' : '○'}
                  </Chip>
                  {shape[driver][of] && (
                    <button
                      type="button"
                      className="drive-curve"
                      aria-label={`Curve of ${DRIVER_WORDS[driver]} onto ${DRIVEN_WORDS[of]}`}
                      aria-expanded={open?.[0] === driver && open[1] === of}
                      onClick={() => setOpen([driver, of])}
                    >
                      ∿
                    </button>
                  )}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {open && curve && (
        <>
          <small>
            {DRIVER_WORDS[open[0]]} onto {DRIVEN_WORDS[open[1]].toLowerCase()}
          </small>
          <CurveEditor points={curve} onChange={(points) => setDrive(...open, points)} />
        </>
      )}
    </Fold>
  );
}
