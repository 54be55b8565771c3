import { bendWords, type MatchReport } from '../../../core/match';
import { Chip } from '../../shared/Chip';
import { useViewport } from '../../viewport';
import { useMatch } from '../match-ui';
import { showPlace } from './show-place';

/** What a free drawing bends, part by part: a list for whoever changes the model or its pose. */
export function BendFacts({ report: { bends } }: { readonly report: MatchReport }) {
  const viewport = useViewport();
  const shown = useMatch((s) => s.bends);
  const told = bends.map((bend) => ({ bend, words: bendWords(bend) })).filter(({ words }) => words !== '');
  return (
    <>
      {told.length === 0 ? (
        <p className="match-words">Every part is drawn where this view has it.</p>
      ) : (
        <ul className="fact-list">
          {told.map(({ bend: { part, arrows }, words }) => (
            <li
              key={part}
              onPointerEnter={() => useMatch.setState({ shownBend: part })}
              onPointerLeave={() => useMatch.setState({ shownBend: null })}
            >
              <button
                type="button"
                className="link-button"
                onFocus={() => useMatch.setState({ shownBend: part })}
                onBlur={() => useMatch.setState({ shownBend: null })}
                onClick={() => showPlace(viewport, arrows[arrows.length >> 1]!.to, part)}
              >
                {part}: {words}
              </button>
            </li>
          ))}
        </ul>
      )}
      <div className="row">
        <Chip
          on={shown}
          title="From where this view has the model to where the drawing has it"
          onClick={() => useMatch.setState({ bends: !shown })}
        >
          Arrows on the picture
        </Chip>
      </div>
      <p className="hint-line">
        Told by the pairs and by the outline; lengths in percent of the picture’s height. Mask a part of the
        picture and its own outline tells more.
      </p>
    </>
  );
}
