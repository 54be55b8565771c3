import { Dropdown } from 'react-bootstrap';
import { type Session, useProject } from '../../project';
import { FixedMenu } from '../../shared/FixedMenu';

/** Steps that are listed at once; older ones are reached by going back first. */
const LISTED = 200;

/** Every step, the newest on top; a click goes there and back. */
export function HistoryMenu({ session }: { readonly session: Session }) {
  const { labels, first, done } = useProject((s) => s.history);
  const from = Math.max(0, done - LISTED);
  const shown = labels.slice(from, done + LISTED);
  return (
    <Dropdown align="end">
      <Dropdown.Toggle as="button" type="button" className="chip" disabled={labels.length === 0}>
        History
      </Dropdown.Toggle>
      <FixedMenu className="history-menu">
        <ol aria-label="Steps">
          {shown
            .flatMap((label, i) => {
              // It goes on in the next: both are one deed.
              if (label === null) return [];
              const number = from + i + 1;
              const state = number === done ? 'now' : number > done ? 'undone' : '';
              return (
                <li key={number}>
                  <button
                    type="button"
                    className={`history-step ${state}`}
                    aria-current={number === done ? 'step' : undefined}
                    onClick={() => session.goTo(first + number)}
                  >
                    {label}
                  </button>
                </li>
              );
            })
            .reverse()}
          <li>
            <button
              type="button"
              className={`history-step ${done === from ? 'now' : ''}`}
              aria-current={done === from ? 'step' : undefined}
              onClick={() => session.goTo(first + from)}
            >
              {from > 0 ? 'older steps…' : first > 0 ? 'before the kept steps' : 'as it was opened first'}
            </button>
          </li>
        </ol>
      </FixedMenu>
    </Dropdown>
  );
}
