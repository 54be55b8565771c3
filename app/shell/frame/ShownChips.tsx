import { HEATS } from '../../../core/unwrap';
import { findNode } from '../../../core/document';
import { useProject, useChosenDetail, useShownDetail } from '../../project';
import { Chip } from '../../shared/Chip';
import { useCommandBook, useTip } from '../../shared/commands';
import { DETAIL_WORDS } from '../../shared/detail-words';
import { PAINT, shownLayer, type PaintLight } from '../../shared/shown';
import { useUi } from '../../shared/ui-store';
import { LampControls } from './LampControls';
import { ToonControls } from './ToonControls';

const LIGHTS: readonly (readonly [PaintLight, name: string, says: string])[] = [
  ['unlit', 'Unlit', 'The colours exactly as they are stored'],
  ['lit', 'Lit check', 'The paint under a plain lamp: does it follow the form?'],
  ['toon', 'Toon', 'In a few tones with an outline, as a toon shader shows it'],
  ['values', 'Values', 'Only how light or dark it is'],
];

const HEAT_WORDS = {
  density: ['Density', 'How many texels a place has, against the mean'],
  area: ['Areas', 'How areas are kept within an island'],
  angle: ['Angles', 'How angles are kept'],
} as const;

/** How the model is shown: along the picture's upper edge. */
export function ShownChips({ isOnLayout }: { readonly isOnLayout: boolean }) {
  const shown = useUi((s) => s.shown);
  const light = useUi((s) => s.light);
  const tip = useTip();
  const { run } = useCommandBook();
  const backdrop = useUi((s) => s.backdrop);
  const someBackdrops = useProject((s) => (s.mesh?.backdrops ?? 0) > 0);
  const chosen = useChosenDetail();
  const detail = useShownDetail();
  const layer = shownLayer(shown);
  const name = useProject((s) => (layer === null ? '' : findNode(s.document?.layers ?? [], layer)?.name));
  return (
    <div className="view-chips left" role="group" aria-label="How the model is shown">
      {LIGHTS.map(([key, title, says]) => (
        <Chip
          key={key}
          on={shown.of === 'paint' && detail === null && light === key}
          title={tip(says, `look-${key}`)}
          onClick={() => useUi.setState({ shown: PAINT, light: key, seesAlbedo: true })}
        >
          {title}
        </Chip>
      ))}
      <Chip
        on={shown.of === 'checker'}
        title={tip('Even squares with letters on the sheet', 'look-checker')}
        onClick={() => useUi.setState({ shown: { of: 'checker' } })}
      >
        Checker
      </Chip>
      {isOnLayout &&
        HEATS.map((heat) => (
          <Chip
            key={heat}
            on={shown.of === 'heat' && shown.heat === heat}
            title={HEAT_WORDS[heat][1]}
            onClick={() => useUi.setState({ shown: { of: 'heat', heat } })}
          >
            {HEAT_WORDS[heat][0]}
          </Chip>
        ))}
      {name && (
        <Chip on title="Back to the whole build-up (Esc)" onClick={() => useUi.setState({ shown: PAINT })}>
          {shown.of === 'mask' ? 'Mask' : 'Alone'}: {name} ×
        </Chip>
      )}
      {chosen !== null && (
        <Chip
          on={detail !== null}
          title={`The mask of the detail sheet that the chosen layer goes into: ${DETAIL_WORDS[chosen][1]}`}
          onClick={() => useUi.setState({ shown: PAINT, seesAlbedo: false })}
        >
          {DETAIL_WORDS[chosen][0]}
        </Chip>
      )}
      {shown.of === 'paint' && detail === null && light === 'lit' && <LampControls />}
      {shown.of === 'paint' && detail === null && light === 'toon' && <ToonControls />}
      {someBackdrops && <i className="line-break" />}
      {someBackdrops && (
        <Chip
          on={backdrop !== null}
          title={tip('What the hand works on: the model, or one of its backdrops', 'next-backdrop')}
          onClick={() => run('next-backdrop')}
        >
          On: {backdrop ?? 'model'}
        </Chip>
      )}
    </div>
  );
}
