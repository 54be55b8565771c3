import type { PicturePlace } from '../../viewport';
import { matchOf } from './camera-actions';
import { useMatch } from '../match-ui';
import { useChosenMatch } from '../use-chosen-match';

/** Lengths that are compared, in the picture. */
export function SpanMarks({ place }: { readonly place: PicturePlace }) {
  const tool = useMatch((s) => s.tool);
  const half = useMatch((s) => s.span);
  const { spans } = matchOf(useChosenMatch());
  if (tool !== 'spans') return null;
  const at = ([x, y]: readonly [number, number]) =>
    [place.x + x * place.scale, place.y + y * place.scale] as const;
  const line = (a: readonly [number, number], b: readonly [number, number], key: string, name: string) => {
    const [[x1, y1], [x2, y2]] = [at(a), at(b)];
    return (
      <g key={key} className="span">
        <line x1={x1} y1={y1} x2={x2} y2={y2} />
        <circle cx={x1} cy={y1} r={4} />
        <circle cx={x2} cy={y2} r={4} />
        <text x={(x1 + x2) / 2} y={(y1 + y2) / 2 - 6}>
          {name}
        </text>
      </g>
    );
  };
  return (
    <svg className="match-marks">
      {spans.map(({ name, picture }, i) => line(picture[0], picture[1], String(i), name))}
      {half.picture && line(half.picture[0], half.picture[1], 'new', '')}
      {half.at && !half.picture && line(half.at, half.at, 'new', '')}
    </svg>
  );
}
