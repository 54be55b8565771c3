import { projection } from '../../../core/match';
import { Vector3 } from 'three';
import type { Session } from '../../project';
import { useEveryPicture, type StageView, type ToolMaker } from '../../viewport';
import { matchOf } from './camera-actions';
import { useMatch } from '../match-ui';
import { placeOnModel } from './pair-actions';
import { useChosenMatch } from '../use-chosen-match';

/** Where a press may wander and still be one, pixels. */
const STILL = 4;

/** A press on the model sets the half of a pair or the end of a length; a drag turns the view. */
export const matchTool =
  (session: Session): ToolMaker =>
  (view) => ({
    name: 'match',
    cursor: 'crosshair',
    press: (at, hit) => {
      if (at.pane !== 'model' || !hit) return null;
      let isStill = true;
      return {
        move: (to) => {
          if (Math.hypot(to.x - at.x, to.y - at.y) > STILL) isStill = false;
        },
        end: () => {
          if (isStill) placeOnModel(session, hit.point.toArray());
        },
        cancel: () => undefined,
      };
    },
    leave: () => {
      const { half, span } = useMatch.getState();
      if (!half && Object.keys(span).length === 0) return false;
      useMatch.setState({ half: null, span: {} });
      return true;
    },
    overlay: () => <ModelMarks view={view} />,
  });

/** The pairs' places on the model. */
function ModelMarks({ view }: { readonly view: StageView }) {
  useEveryPicture(view);
  const tool = useMatch((s) => s.tool);
  const half = useMatch((s) => s.half);
  const span = useMatch((s) => s.span);
  const chosen = useMatch((s) => s.pair);
  const { pairs, spans } = matchOf(useChosenMatch());
  const pane = view.pane('model');
  if (!pane) return null;
  const at = (p: readonly [number, number, number]) => view.rig.project(new Vector3(...p));
  const dot = (p: readonly [number, number, number], name: string, className: string) => {
    const { x, y } = at(p);
    return (
      <g key={`${className}${name}`} className={className}>
        <circle cx={x} cy={y} r={9} />
        <text x={x} y={y + 3.5}>
          {name}
        </text>
      </g>
    );
  };
  const line = (a: readonly [number, number, number], b: readonly [number, number, number], key: string) => {
    const [p, q] = [at(a), at(b)];
    return (
      <g key={key} className="span">
        <line x1={p.x} y1={p.y} x2={q.x} y2={q.y} />
        <circle cx={p.x} cy={p.y} r={4} />
        <circle cx={q.x} cy={q.y} r={4} />
      </g>
    );
  };
  return (
    <svg className="match-marks" style={{ left: pane.x, width: pane.width, height: pane.height }}>
      {tool === 'pairs' &&
        pairs.map(({ model }, i) => dot(model, String(i + 1), i === chosen ? 'chosen' : ''))}
      {half && 'model' in half && dot(half.model, '', 'half')}
      {tool === 'spans' && spans.map(({ model }, i) => line(model[0], model[1], String(i)))}
      {tool === 'spans' && span.model && line(span.model[0], span.model[1], 'new')}
      {tool === 'spans' && span.from && !span.model && line(span.from, span.from, 'new')}
    </svg>
  );
}

/** Residuals of the pairs that are set, pixels of the picture. */
export function residualsOf(match: ReturnType<typeof matchOf>): readonly number[] {
  if (!match.camera) return [];
  const see = projection(match.camera);
  return match.pairs.map(({ model, picture }) => {
    const { x, y } = see(model);
    return Math.hypot(x - picture[0], y - picture[1]);
  });
}
