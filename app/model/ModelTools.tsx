import { useState } from 'react';
import type { Axis } from '../../core/mesh';
import { Chip } from '../shared/Chip';
import { useCommandBook } from '../shared/commands';
import { Slider } from '../shared/Slider';
import { notify } from '../shared/notify';
import { AxisChoice } from '../shared/AxisChoice';
import type { Session } from '../project';
import { mend, place } from './model-actions';

/** What can be put right about the model as a whole. */
export function ModelTools({ session }: { readonly session: Session }) {
  const { run } = useCommandBook();
  const [angle, setAngle] = useState(60);
  const [scale, setScale] = useState('100');
  return (
    <section aria-label="Mend" className="model-tools">
      <h2>Mend</h2>
      <Slider
        label="Hard angle"
        says="Angle from which an edge is hard"
        value={angle}
        min={0}
        max={180}
        step={1}
        show={(v) => `${v}°`}
        onChange={setAngle}
      />
      <div className="row">
        <Chip
          title="Edges that turn by more than the angle become hard, the others smooth"
          onClick={() =>
            void mend(session, 'Recompute normals', { do: 'normals', angle: (angle * Math.PI) / 180 })
          }
        >
          Recompute normals
        </Chip>
      </div>
      <Turn session={session} />
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
        <Chip type="submit">Scale</Chip>
        <Chip
          title="Choose a newer version of the model; build-up and paint stay"
          onClick={() => run('replace-model')}
        >
          Replace…
        </Chip>
      </form>
    </section>
  );
}

/** Which of the present axes shall look up, and which to the front. */
function Turn({ session }: { readonly session: Session }) {
  const [axes, setAxes] = useState<{ readonly up: Axis; readonly front: Axis }>({ up: '+y', front: '+z' });
  return (
    <form
      className="row"
      onSubmit={(e) => {
        e.preventDefault();
        if (axes.up[1] === axes.front[1]) {
          notify('Up and front lie along one axis. Choose two different ones.');
          return;
        }
        void place(session, 'Turn the model', axes);
        setAxes({ up: '+y', front: '+z' });
      }}
    >
      <AxisChoice label="Up" value={axes.up} onChange={(up) => setAxes({ ...axes, up })} />
      <AxisChoice label="Front" value={axes.front} onChange={(front) => setAxes({ ...axes, front })} />
      <Chip type="submit" disabled={axes.up === '+y' && axes.front === '+z'}>
        Turn
      </Chip>
    </form>
  );
}
