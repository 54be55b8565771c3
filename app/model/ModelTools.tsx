import { useState } from 'react';
import { Chip } from '../shared/Chip';
import { useCommandBook } from '../shared/commands';
import { Slider } from '../shared/Slider';
import type { Session } from '../project';
import { mend, place } from './model-actions';

/** What can be put right about the model as a whole. */
export function ModelTools({ session }: { readonly session: Session }) {
  const { run } = useCommandBook();
  const [angle, setAngle] = useState(60);
  const [scale, setScale] = useState('100');
  return (
    <section aria-label="Put right" className="model-tools">
      <h2>Put right</h2>
      <Slider
        label="Hard over"
        value={angle}
        min={0}
        max={180}
        step={1}
        show={(v) => `${v}°`}
        onChange={setAngle}
      />
      <div className="row">
        <Chip
          title="Normals anew: smooth where neighbours turn by less than the angle"
          onClick={() =>
            void mend(session, 'Recompute normals', { do: 'normals', angle: (angle * Math.PI) / 180 })
          }
        >
          Normals anew
        </Chip>
        <Chip
          title="Turn a quarter about x: for models that lie on their back"
          onClick={() => void place(session, 'Turn the model', { quarters: 1 })}
        >
          Turn up
        </Chip>
      </div>
      <form
        className="row"
        onSubmit={(e) => {
          e.preventDefault();
          const factor = Number.parseFloat(scale) / 100;
          if (factor > 0 && Number.isFinite(factor))
            void place(session, 'Scale the model', { scale: factor });
          setScale('100');
        }}
      >
        <label className="inline-number">
          Scale
          <input
            value={scale}
            inputMode="decimal"
            aria-label="Scale, percent"
            onChange={(e) => setScale(e.target.value)}
            onFocus={(e) => e.target.select()}
          />
          %
        </label>
        <button type="submit" className="chip">
          Scale
        </button>
        <Chip title="Bring a newer version; build-up and paint stay" onClick={() => run('replace-model')}>
          Replace…
        </Chip>
      </form>
    </section>
  );
}
