import type { MatchReport } from '../../../core/match';
import type { Session } from '../../project';
import { Chip } from '../../shared/Chip';
import { matchOf } from './camera-actions';
import { toggleTool, useMatch } from '../match-ui';
import { removeSpan, renameSpan } from './pair-actions';
import { useChosenMatch } from '../use-chosen-match';
import { TextField } from '../../shared/TextField';

/** Lengths that were marked on both: what is too long, and what is too short. */
export function SpanSection({
  session,
  report,
}: {
  readonly session: Session;
  readonly report: MatchReport;
}) {
  const tool = useMatch((s) => s.tool);
  const { spans } = matchOf(useChosenMatch());
  return (
    <div className="match-section">
      <p className="hint-line">
        Mark a length by its two ends on the model and on the picture: how wide the head is, how long the arm.
      </p>
      <div className="row">
        <Chip on={tool === 'spans'} onClick={() => toggleTool('spans')}>
          Mark a length
        </Chip>
      </div>
      <ul className="pairs">
        {spans.map(({ name }, i) => {
          const percent = report.spans.find((s) => s.name === name)?.percent;
          return (
            <li key={`${name} ${i}`}>
              <TextField
                className="swatch-name"
                value={name}
                aria-label={`Name of length ${i + 1}`}
                maxLength={60}
                onText={(next) => renameSpan(session, i, next)}
              />
              <span>
                {percent === undefined
                  ? ''
                  : Math.abs(percent) < 1
                    ? 'as drawn'
                    : `${Math.abs(percent).toFixed(0)} % too ${percent > 0 ? 'long' : 'short'}`}
              </span>
              <Chip aria-label={`Remove ${name}`} onClick={() => void removeSpan(session, i)}>
                ×
              </Chip>
            </li>
          );
        })}
      </ul>
    </div>
  );
}
