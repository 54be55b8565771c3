import { Vector3 } from 'three';
import { MOST_VIEWS, type OwnSource } from '../../../core/ink';
import { useProject } from '../../project';
import { Chip } from '../../shared/Chip';
import { percent, ShareSlider, Slider } from '../../shared/Slider';
import type { StageView } from '../../viewport';
import { usualCue } from '../tree/new-layers';

const BEND_WORDS = { both: 'Both', ridges: 'Ridges', valleys: 'Valleys' } as const;
const WAY_WORDS = {
  form: ['Along the form', 'Where it bends least'],
  around: ['Around', 'Round the upright axis'],
  down: ['Down', 'From above to below'],
} as const;

/** Where the model is looked at from now. */
export function viewNow(
  view: StageView,
  name: string,
): { name: string; eye: [number, number, number]; flat: boolean } {
  const { turn, target, distance, flat } = view.rig;
  const out = new Vector3(0, 0, 1).applyQuaternion(turn);
  const eye = flat ? out : out.multiplyScalar(distance).add(target);
  const [x, y, z] = eye.toArray().map((v) => Number(v.toPrecision(6))) as [number, number, number];
  return { name, eye: [x, y, z], flat };
}

interface SourceProps<S extends OwnSource = OwnSource> {
  readonly from: S;
  readonly onChange: (from: OwnSource, gesture: string | null) => void;
}

export function SourceFields({ from, onChange, view }: SourceProps & { readonly view: StageView | null }) {
  switch (from.along) {
    case 'borders':
      return <BorderFields from={from} onChange={onChange} />;
    case 'contours':
      return <ContourFields from={from} onChange={onChange} view={view} />;
    case 'hatching':
      return <HatchFields from={from} onChange={onChange} />;
    case 'creases':
      return (
        <>
          <Bends which={from.which} onChange={(which) => onChange({ ...from, which }, null)} />
          <Slider
            label="Angle"
            says="How much an edge must turn, degrees"
            value={from.angle}
            min={5}
            max={150}
            step={1}
            show={(v) => `${Math.round(v)}°`}
            onChange={(angle, g) => onChange({ ...from, angle }, g)}
          />
        </>
      );
    case 'folds':
      return (
        <>
          <Bends which={from.which} onChange={(which) => onChange({ ...from, which }, null)} />
          <Slider
            label="Scale"
            says="What is finer is passed over, in parts of the model"
            value={from.scale}
            min={0}
            max={0.08}
            step={0.001}
            curve={2}
            {...percent}
            onChange={(scale, g) => onChange({ ...from, scale }, g)}
          />
          <ShareSlider
            label="Sharp"
            says="How sharply it must bend"
            value={from.least}
            onChange={(least, g) => onChange({ ...from, least }, g)}
          />
        </>
      );
  }
}

function Bends({
  which,
  onChange,
}: {
  readonly which: keyof typeof BEND_WORDS;
  readonly onChange: (which: keyof typeof BEND_WORDS) => void;
}) {
  return (
    <div className="row" role="group" aria-label="Which of them">
      {(Object.keys(BEND_WORDS) as (keyof typeof BEND_WORDS)[]).map((one) => (
        <Chip key={one} on={which === one} onClick={() => onChange(one)}>
          {BEND_WORDS[one]}
        </Chip>
      ))}
    </div>
  );
}

function BorderFields({ from, onChange }: SourceProps<Extract<OwnSource, { along: 'borders' }>>) {
  const regions = useProject((s) => s.document?.regions) ?? [];
  const toggled = <T,>(list: readonly T[], item: T): T[] =>
    list.includes(item) ? list.filter((other) => other !== item) : [...list, item];
  return (
    <div className="row" role="group" aria-label="What meets">
      {(['parts', 'islands'] as const).map((of) => (
        <Chip
          key={of}
          on={from.of.includes(of)}
          onClick={() => onChange({ ...from, of: toggled(from.of, of) }, null)}
        >
          {of === 'parts' ? 'Parts' : 'Islands'}
        </Chip>
      ))}
      {regions.map(({ id, name }) => (
        <Chip
          key={id}
          on={from.regions.includes(id)}
          title={`Along the border of the region ${name}`}
          onClick={() => onChange({ ...from, regions: toggled(from.regions, id) }, null)}
        >
          {name}
        </Chip>
      ))}
    </div>
  );
}

function ContourFields({
  from,
  onChange,
  view,
}: SourceProps<Extract<OwnSource, { along: 'contours' }>> & { readonly view: StageView | null }) {
  const { views, inner } = from;
  return (
    <>
      <div className="row" role="group" aria-label="Views">
        {views.map((one, i) => (
          <Chip
            key={`${one.name} ${i}`}
            on
            title={views.length > 1 ? 'Leave this view out' : 'The only view'}
            onClick={() => views.length > 1 && onChange({ ...from, views: views.toSpliced(i, 1) }, null)}
          >
            {one.name}
          </Chip>
        ))}
        <Chip
          title="As the model is looked at now"
          onClick={() =>
            view &&
            views.length < MOST_VIEWS &&
            onChange({ ...from, views: [...views, viewNow(view, `View ${views.length + 1}`)] }, null)
          }
        >
          Add this view
        </Chip>
      </div>
      <Chip
        on={inner}
        title="Also before other parts of the model, not only before the background"
        onClick={() => onChange({ ...from, inner: !inner }, null)}
      >
        Inner ones too
      </Chip>
    </>
  );
}

function HatchFields({ from, onChange }: SourceProps<Extract<OwnSource, { along: 'hatching' }>>) {
  return (
    <>
      <div className="row" role="group" aria-label="What is dark">
        {HATCHED.map(([title, says, cue, invert]) => (
          <Chip
            key={title}
            on={from.tone.cue === cue && from.invert === invert}
            title={says}
            onClick={() => onChange({ ...from, tone: usualCue(cue), invert }, null)}
          >
            {title}
          </Chip>
        ))}
      </div>
      <div className="row" role="group" aria-label="Which way">
        {(Object.keys(WAY_WORDS) as (keyof typeof WAY_WORDS)[]).map((way) => (
          <Chip
            key={way}
            on={from.way === way}
            title={WAY_WORDS[way][1]}
            onClick={() => onChange({ ...from, way }, null)}
          >
            {WAY_WORDS[way][0]}
          </Chip>
        ))}
        {[1, 2, 3].map((directions) => (
          <Chip
            key={directions}
            on={from.directions === directions}
            title={
              directions === 1
                ? 'One direction'
                : `${directions} directions, the further ones where it is darkest`
            }
            onClick={() => onChange({ ...from, directions }, null)}
          >
            {directions}
          </Chip>
        ))}
      </div>
      <ShareSlider
        label="Black"
        says="The tone that is black"
        value={from.low}
        onChange={(low, g) => onChange({ ...from, low: Math.min(low, from.high - 0.01) }, g)}
      />
      <ShareSlider
        label="Light"
        says="The tone from which on nothing is drawn"
        value={from.high}
        onChange={(high, g) => onChange({ ...from, high: Math.max(high, from.low + 0.01) }, g)}
      />
      <Slider
        label="Spacing"
        says="Between strokes where it is darkest, in parts of the model"
        value={from.spacing}
        min={0.004}
        max={0.08}
        step={0.001}
        curve={2}
        {...percent}
        onChange={(spacing, g) => onChange({ ...from, spacing }, g)}
      />
      <Slider
        label="Length"
        says="Length of strokes, in parts of the model"
        value={from.length}
        min={0.01}
        max={0.4}
        step={0.005}
        curve={2}
        {...percent}
        onChange={(length, g) => onChange({ ...from, length }, g)}
      />
    </>
  );
}

/** What hatching, and the width of lines, can go by: dark where the cue is low, or high. */
export const HATCHED = [
  ['Hidden', 'Where little sky is seen', 'occlusion', false],
  ['Below', 'Toward the ground', 'height', false],
  ['Away', 'What looks down, away from the sky', 'facing', false],
  ['Folds', 'In folds and joints', 'crease', true],
] as const;
