import { useMemo } from 'react';
import { twinPairs, twinWords } from '../../core/surface';
import { type Session, useProject } from '../project';
import { Chip } from '../shared/Chip';
import { ChoiceField } from '../shared/ChoiceField';
import { useCommandBook } from '../shared/commands';
import { Fold } from '../shared/Fold';
import { useLayout } from '../shared/layout-store';
import { TWIN_CHOICES, TWIN_TITLE } from '../shared/twin-words';

/** Rows that are shown at once. */
const MOST_ROWS = 60;

/** Islands that show the same texels: which they are, what derived paint makes of that, and the way apart. */
export function TwinSection({ session }: { readonly session: Session }) {
  const surface = useProject((s) => s.surface);
  const twins = useProject((s) => s.document?.twins);
  const { run } = useCommandBook();
  const pairs = useMemo(() => (surface ? twinPairs(surface) : []), [surface]);
  if (pairs.length === 0 || !twins) return null;
  return (
    <Fold title="Twins" note={String(pairs.length)}>
      <ChoiceField
        label="Shared texels"
        title={TWIN_TITLE}
        value={twins}
        choices={TWIN_CHOICES}
        onChange={(value) => void session.command({ do: 'set-twins', twins: value })}
      />
      <ul className="twins">
        {pairs.slice(0, MOST_ROWS).map((pair) => (
          <li key={pair.second.faces[0]}>
            <button
              type="button"
              title="Show both on the model and on the sheet"
              onClick={() =>
                useLayout.setState({ chosen: new Set([...pair.first.faces, ...pair.second.faces]) })
              }
            >
              {twinWords(pair)}
            </button>
          </li>
        ))}
      </ul>
      {pairs.length > MOST_ROWS && <p className="hint-line">and {pairs.length - MOST_ROWS} more</p>}
      <div className="row">
        <Chip
          title="Give each twin texels of its own: the chosen ones, or all. Paint stays as it is seen"
          onClick={() => run('islands-apart')}
        >
          Take apart
        </Chip>
      </div>
    </Fold>
  );
}
