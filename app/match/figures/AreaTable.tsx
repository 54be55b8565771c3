import { rgbToHex } from '../../../core/color';
import { TONES, type MatchReport, type NamedArea, type ToneName } from '../../../core/match';
import type { Session } from '../../project';
import { Chip } from '../../shared/Chip';
import { useViewport } from '../../viewport';
import { showPlace } from './show-place';
import { tryAdvice } from './try-proposal';

const TONE_TITLES: Record<ToneName, string> = { light: 'Light', mid: 'Middle', shadow: 'Shadow' };

/** Every part and region: mean, light, middle and shadow, wanted beside painted. */
export function AreaTable({ session, report }: { readonly session: Session; readonly report: MatchReport }) {
  return (
    <ul className="areas">
      {[...report.parts, ...report.regions]
        .sort((a, b) => b.apart * b.pixels - a.apart * a.pixels)
        .map((area) => (
          <AreaRow key={`${area.of} ${area.part}`} session={session} area={area} />
        ))}
    </ul>
  );
}

function AreaRow({ session, area }: { readonly session: Session; readonly area: NamedArea }) {
  const viewport = useViewport();
  const apply = (kind: 'color' | 'tones'): void =>
    void tryAdvice(session, {
      kind: kind === 'color' ? 'color' : 'tone',
      title: area.part,
      detail: '',
      area: area.part,
      of: area.of,
      tone: null,
      colors: area,
      at: area.at,
      apply: kind,
      weight: 0,
    });
  return (
    <li>
      <button
        type="button"
        className="area-name"
        onClick={() => showPlace(viewport, area.at, area.of === 'part' ? area.part : null)}
      >
        <b>{area.part}</b>
        <small>
          ΔE {area.apart.toFixed(1)} · {area.words}
        </small>
      </button>
      <div className="area-tones">
        {TONES.map((tone) => {
          const { reference, model, deltaE, words } = area.tones[tone];
          return (
            <span key={tone} title={`${TONE_TITLES[tone]}: ${words}, ΔE ${deltaE.toFixed(1)}`}>
              <i style={{ background: rgbToHex(reference) }} />
              <i style={{ background: rgbToHex(model) }} />
              <small>{deltaE.toFixed(0)}</small>
            </span>
          );
        })}
        <Chip title="Another local colour" onClick={() => apply('color')}>
          Colour
        </Chip>
        <Chip title="Shadow, middle and light each moved" onClick={() => apply('tones')}>
          Tones
        </Chip>
      </div>
    </li>
  );
}
