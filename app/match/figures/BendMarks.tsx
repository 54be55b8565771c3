import type { PartBend } from '../../../core/match';
import type { PicturePlace } from '../../viewport';

/** Shorter arrows are only dots, CSS pixels. */
const SHORTEST = 2;

/**
 * What a free drawing bends, in the picture: arrows from where its camera sees the model to where the drawing has it.
 *
 * @param scale pixels of the compared picture a pixel of the reference
 */
export function BendMarks({
  bends,
  place,
  scale,
  shownPart,
}: {
  readonly bends: readonly PartBend[];
  readonly place: PicturePlace;
  readonly scale: number;
  /** The part that is pointed at in the list; its arrows stand out. */
  readonly shownPart: string | null;
}) {
  const k = place.scale / scale;
  const at = ([x, y]: readonly [number, number]): [number, number] => [place.x + x * k, place.y + y * k];
  return (
    <svg className="match-marks bends" role="img" aria-label="What the drawing bends" data-testid="bends">
      <defs>
        <marker
          id="bend-tip"
          viewBox="0 0 8 8"
          refX="7"
          refY="4"
          markerWidth="8"
          markerHeight="8"
          markerUnits="userSpaceOnUse"
          orient="auto"
        >
          <path d="M0 0.5 8 4 0 7.5z" />
        </marker>
      </defs>
      {bends.map(({ part, arrows }) => (
        <g key={part} className={shownPart === part ? 'chosen' : ''}>
          {arrows.map(({ from, to }, i) => {
            const [[x1, y1], [x2, y2]] = [at(from), at(to)];
            if (Math.hypot(x2 - x1, y2 - y1) < SHORTEST) return <circle key={i} cx={x1} cy={y1} r={1.4} />;
            return (
              <g key={i}>
                <line className="under" x1={x1} y1={y1} x2={x2} y2={y2} />
                <line x1={x1} y1={y1} x2={x2} y2={y2} markerEnd="url(#bend-tip)" />
              </g>
            );
          })}
        </g>
      ))}
    </svg>
  );
}
