import type { Advice, MatchReport } from '../../../core/match';
import { rgbToHex } from '../../../core/color';
import type { Session } from '../../project';
import { Chip } from '../../shared/Chip';
import { useViewport } from '../../viewport';
import { useMatch } from '../match-ui';
import { showAdvice } from './show-place';
import { tryAdvice } from './try-proposal';

/** So many are seen at once. */
const SEEN = 4;

/** What would help most, each with the wanted and the painted colour, and a way to mend it. */
export function AdviceList({ session, report }: { readonly session: Session; readonly report: MatchReport }) {
  const all = useMatch((s) => s.allAdvice);
  const isTrying = useMatch((s) => s.isTrying);
  const viewport = useViewport();
  const list = all ? report.advice : report.advice.slice(0, SEEN);
  if (list.length === 0)
    return <p className="match-words">Nothing stands out: the two are near each other.</p>;
  return (
    <>
      <ul className="advice">
        {list.map((advice) => (
          <li key={advice.title}>
            <Swatches advice={advice} />
            <button
              type="button"
              className="advice-words"
              title="Show the place on picture and model"
              onClick={() => showAdvice(viewport, advice)}
            >
              <b>{advice.title}</b>
              <small>{advice.detail}</small>
            </button>
            {advice.apply ? (
              <Chip
                disabled={isTrying}
                title="Tries it, measures what it comes to, and lets you keep it or take it back"
                onClick={() => void tryAdvice(session, advice)}
              >
                Apply
              </Chip>
            ) : (
              <Chip onClick={() => showAdvice(viewport, advice)}>Show</Chip>
            )}
          </li>
        ))}
      </ul>
      {report.advice.length > SEEN && (
        <button type="button" className="link-button" onClick={() => useMatch.setState({ allAdvice: !all })}>
          {all ? 'Fewer' : `${report.advice.length - SEEN} more`}
        </button>
      )}
    </>
  );
}

function Swatches({ advice: { colors } }: { readonly advice: Advice }) {
  if (!colors) return <i className="advice-colors none" aria-hidden />;
  return (
    <i className="advice-colors" title="Wanted and painted" aria-hidden>
      <span style={{ background: rgbToHex(colors.reference) }} />
      <span style={{ background: rgbToHex(colors.model) }} />
    </i>
  );
}
