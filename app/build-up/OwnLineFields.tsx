import { Vector3 } from 'three';
import type { InkLayer, OwnLines, OwnSource } from '../../core/engine';
import { useProject, type Session } from '../project';
import { Chip } from '../shared/Chip';
import { Fold } from '../shared/Fold';
import { percent, ShareSlider, Slider } from '../shared/Slider';
import { useUi } from '../shared/ui-store';
import { useView, type StageView } from '../viewport';
import { nextInk, takeOver } from './ink-actions';
import { InkStyleFields } from './InkStyleFields';
import { usualCue } from './layer-words';

type Along = OwnSource['along'];

const ALONG_WORDS: Readonly<Record<Along, readonly [title: string, says: string]>> = {
  borders: ['Borders', 'Where parts, islands or regions meet'],
  creases: ['Creases', 'Along edges that turn sharply'],
  contours: ['Contours', 'Where the form turns away from a view'],
  folds: ['Folds', 'Along the ridges and valleys of the form'],
  hatching: ['Hatching', 'Strokes that are closer where it is darker'],
};

/** Why there may be none. */
const NONE_WORDS: Readonly<Record<Along, string>> = {
  borders: 'Nothing of what is chosen here meets on this model.',
  creases: 'No edge of this model turns so sharply. A smaller angle finds more.',
  contours: 'From these views nothing is seen of the model: they may lie within it.',
  folds: 'Nothing on this model bends so sharply. Let it be less sharp, or finer.',
  hatching: 'Nothing is so dark, or that isn’t measured yet.',
};

const ownNote = (along: Along, count: number | null): string =>
  `${ALONG_WORDS[along][0].toLowerCase()}${count === null ? '' : `, ${count}`}`;

const BEND_WORDS = { both: 'Both', ridges: 'Ridges', valleys: 'Valleys' } as const;
const WAY_WORDS = {
  form: ['Along the form', 'Where it bends least'],
  around: ['Around', 'Round the upright axis'],
  down: ['Down', 'From above to below'],
} as const;

/** As each is begun with; null: it has to be looked at first. */
function usualSource(along: Along, view: StageView | null): OwnSource | null {
  switch (along) {
    case 'borders':
      return { along, of: ['parts'], regions: [] };
    case 'creases':
      return { along, angle: 40, which: 'both' };
    case 'contours': {
      const from = view && viewNow(view, 'This view');
      return from && { along, views: [from], inner: true };
    }
    case 'folds':
      return { along, which: 'both', scale: 0.012, least: 0.35 };
    case 'hatching':
      return {
        along,
        tone: usualCue('occlusion'),
        low: 0.2,
        high: 0.85,
        invert: false,
        way: 'around',
        directions: 1,
        spacing: 0.014,
        length: 0.09,
      };
  }
}

/** Where the model is looked at from now. */
function viewNow(
  view: StageView,
  name: string,
): { name: string; eye: [number, number, number]; flat: boolean } {
  const { turn, target, distance, flat } = view.rig;
  const out = new Vector3(0, 0, 1).applyQuaternion(turn);
  const eye = flat ? out : out.multiplyScalar(distance).add(target);
  const [x, y, z] = eye.toArray().map((v) => Number(v.toPrecision(6))) as [number, number, number];
  return { name, eye: [x, y, z], flat };
}

/** Lines that the form draws by itself, until they are taken over. */
export function OwnLineFields({
  session,
  layer,
  count,
}: {
  readonly session: Session;
  readonly layer: InkLayer;
  /** How many there are; null while that isn't known. */
  readonly count: number | null;
}) {
  const view = useView();
  const color = useUi((s) => s.color);
  const { own } = layer;
  const set = (next: OwnLines | null, gesture: string | null = null): void =>
    void session.command({ do: 'patch-layer', layer: layer.id, patch: { own: next } }, gesture);
  const begin = (along: Along): void => {
    const from = usualSource(along, view);
    if (!from) return;
    const usual = nextInk();
    // Hatching is finer than a drawn line.
    const width = along === 'hatching' ? usual.width * 0.5 : usual.width;
    const style = own?.style ?? { ...usual, width, taper: [0.2, 0.2] as [number, number] };
    set({ shortest: 0.02, smooth: 0.3, width: null, ...own, style, from });
  };
  return (
    <Fold title="By itself" note={own ? ownNote(own.from.along, count) : 'nothing'}>
      <div className="row" role="group" aria-label="Lines by themselves">
        <Chip on={!own} onClick={() => set(null)}>
          None
        </Chip>
        {(Object.keys(ALONG_WORDS) as Along[]).map((along) => (
          <Chip
            key={along}
            on={own?.from.along === along}
            title={ALONG_WORDS[along][1]}
            onClick={() => begin(along)}
          >
            {ALONG_WORDS[along][0]}
          </Chip>
        ))}
      </div>
      {own && (
        <>
          {count === 0 && <p className="hint-line">{NONE_WORDS[own.from.along]}</p>}
          <SourceFields from={own.from} onChange={(from, g) => set({ ...own, from }, g)} view={view} />
          <Slider
            label="Shortest"
            says="Shorter lines are left out, in parts of the model"
            value={own.shortest}
            min={0}
            max={0.5}
            step={0.005}
            curve={2}
            {...percent}
            onChange={(shortest, g) => set({ ...own, shortest }, g)}
          />
          <ShareSlider
            label="Smooth"
            says="How far lines may leave the edges of the mesh"
            value={own.smooth}
            onChange={(smooth, g) => set({ ...own, smooth }, g)}
          />
          <WidthFields own={own} onChange={(width, g) => set({ ...own, width }, g)} />
          <InkStyleFields
            style={own.style}
            color={color}
            isClosed={false}
            set={(patch, g = null) => set({ ...own, style: { ...own.style, ...patch } }, g)}
          />
          <Chip
            title="They become lines of this layer, each to be changed"
            onClick={() => void takeOver(session)}
          >
            Into lines
          </Chip>
        </>
      )}
    </Fold>
  );
}

interface SourceProps<S extends OwnSource = OwnSource> {
  readonly from: S;
  readonly onChange: (from: OwnSource, gesture: string | null) => void;
}

function SourceFields({ from, onChange, view }: SourceProps & { readonly view: StageView | null }) {
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
            views.length < 6 &&
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
const HATCHED = [
  ['Hidden', 'Where little sky is seen', 'occlusion', false],
  ['Below', 'Toward the ground', 'height', false],
  ['Away', 'What looks down, away from the sky', 'facing', false],
  ['Folds', 'In folds and joints', 'crease', true],
] as const;

function WidthFields({
  own: { width },
  onChange,
}: {
  readonly own: OwnLines;
  readonly onChange: (width: OwnLines['width'], gesture: string | null) => void;
}) {
  return (
    <Fold
      title="Thicker where…"
      note={
        width ? (HATCHED.find((h) => h[2] === width.cue.cue)?.[0].toLowerCase() ?? width.cue.cue) : 'even'
      }
    >
      <div className="row" role="group" aria-label="Thicker where">
        <Chip on={!width} onClick={() => onChange(null, null)}>
          Even
        </Chip>
        {HATCHED.map(([title, says, cue, invert]) => (
          <Chip
            key={title}
            on={width?.cue.cue === cue}
            title={says}
            onClick={() => onChange({ cue: usualCue(cue), least: width?.least ?? 0.25, invert }, null)}
          >
            {title}
          </Chip>
        ))}
      </div>
      {width && (
        <ShareSlider
          label="Thinnest"
          says="The width where it is thinnest, in parts of the whole"
          value={width.least}
          onChange={(least, g) => onChange({ ...width, least }, g)}
        />
      )}
    </Fold>
  );
}
