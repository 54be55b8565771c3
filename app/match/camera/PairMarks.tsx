import { projection } from '../../../core/match';
import type { Session } from '../../project';
import { useUi } from '../../shared/ui-store';
import type { PicturePlace } from '../../viewport';
import { matchOf } from './camera-actions';
import { useMatch } from '../match-ui';
import { pairMoved, removePair } from './pair-actions';
import { useChosenMatch } from '../use-chosen-match';

/** Residuals are drawn so many times as long where they are too short to be seen. */
const GROWN = 4;

/** The pairs' places in the picture, each with a line to where the camera sees its place of the model. */
export function PairMarks({ session, place }: { readonly session: Session; readonly place: PicturePlace }) {
  const reference = useChosenMatch();
  const tool = useMatch((s) => s.tool);
  const half = useMatch((s) => s.half);
  const chosen = useMatch((s) => s.pair);
  const ground = useUi((s) => s.ground);
  const { pairs, camera, how } = matchOf(reference);
  if (tool !== 'pairs') return null;
  const see = camera && projection(camera);
  const at = ([x, y]: readonly [number, number]) => ({
    x: place.x + x * place.scale,
    y: place.y + y * place.scale,
  });
  return (
    <svg className="match-marks" data-ground={ground}>
      {pairs.map(({ model, picture }, i) => {
        const p = at(picture);
        const seen = see?.(model);
        const q =
          seen &&
          at([picture[0] + (seen.x - picture[0]) * GROWN, picture[1] + (seen.y - picture[1]) * GROWN]);
        return (
          <g key={i} className={i === chosen ? 'chosen' : ''}>
            {q && <line x1={p.x} y1={p.y} x2={q.x} y2={q.y} className={how === 'drawn' ? 'bend' : 'off'} />}
            <circle
              cx={p.x}
              cy={p.y}
              r={9}
              tabIndex={0}
              role="button"
              aria-label={`Pair ${i + 1}`}
              onPointerUp={() => void pairMoved(session)}
              onKeyDown={(e) => {
                if (e.key !== 'Delete' && e.key !== 'Backspace') return;
                e.preventDefault();
                e.stopPropagation();
                removePair(session, i);
              }}
            />
            <text x={p.x} y={p.y + 3.5}>
              {i + 1}
            </text>
          </g>
        );
      })}
      {half && 'picture' in half && (
        <circle className="half" cx={at(half.picture).x} cy={at(half.picture).y} r={9} />
      )}
    </svg>
  );
}
