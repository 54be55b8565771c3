import { useMemo } from 'react';
import { twinPairs, twinWords, type TwinPair } from '../../core/surface';
import { type Session, useProject } from '../project';
import { Chip } from '../shared/Chip';
import { ChoiceField } from '../shared/ChoiceField';
import { useCommandBook } from '../shared/commands';
import { Fold } from '../shared/Fold';
import { useLayout } from '../shared/layout-store';
import { TWIN_CHOICES, TWIN_TITLE } from '../shared/twin-words';

const facesOf = ({ first, second }: TwinPair): readonly number[] => [...first.faces, ...second.faces];

/** Islands that show the same texels: which they are, what derived paint makes of that, and the way apart. */
export function TwinSection({ session }: { readonly session: Session }) {
  const surface = useProject((s) => s.surface);
  const twins = useProject((s) => s.document?.twins);
  const { run } = useCommandBook();
  const pairs = useMemo(() => (surface ? twinPairs(surface) : []), [surface]);
  const rows = useMemo(() => {
    const out = new Map<string, TwinPair[]>();
    for (const pair of pairs) out.set(twinWords(pair), [...(out.get(twinWords(pair)) ?? []), pair]);
    return out;
  }, [pairs]);
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
        {[...rows].map(([words, alike]) => (
          <li key={words}>
            <button
              type="button"
              title="Show them on the model and on the sheet"
              onClick={() => useLayout.setState({ chosen: new Set(alike.flatMap(facesOf)) })}
            >
              {words}
              {alike.length > 1 && <small> {alike.length} pairs</small>}
            </button>
          </li>
        ))}
      </ul>
      <div className="row">
        <Chip
          title="Give each twin texels of its own: the chosen ones, or all. Paint stays as it is seen"
          onClick={() => run('islands-apart')}
        >
          Separate
        </Chip>
      </div>
    </Fold>
  );
}
