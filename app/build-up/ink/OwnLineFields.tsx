import type { InkLayer } from '../../../core/layers';
import type { OwnLines, OwnSource } from '../../../core/ink';
import type { Session } from '../../project';
import { Chip } from '../../shared/Chip';
import { Fold } from '../../shared/Fold';
import { percent, ShareSlider, Slider } from '../../shared/Slider';
import { useUi } from '../../shared/ui-store';
import { useView, type StageView } from '../../viewport';
import { nextInk, takeOver } from './ink-actions';
import { InkStyleFields } from './InkStyleFields';
import { usualCue } from '../tree/new-layers';
import { HATCHED, SourceFields, viewNow } from './OwnSourceFields';

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
