import { Vector3 } from 'three';
import type { StrokeSummary } from '../../../core/engine';
import { chooseStroke, useFilm } from '../../shared/film-store';
import { notify } from '../../shared/notify';
import { useEveryPicture, type StageView, type ToolMaker } from '../../viewport';

/** A press chooses the latest stroke that goes over the place. */
export const filmTool: ToolMaker = (view) => ({
  name: 'film',
  cursor: 'pointer',
  press: (at, hit) => {
    if (!hit) return null;
    const { strokes } = useFilm.getState();
    const found = strokes.findLast((stroke) => distanceTo(stroke, hit.point) <= stroke.radius);
    if (found) chooseStroke(found.number, at.shift);
    else notify('No stroke of this layer that can be changed goes over that place.');
    return 'done';
  },
  leave: () => {
    useFilm.setState({ touching: false });
    return true;
  },
  overlay: () => <StrokeMarks view={view} />,
});

/** How far a place is from a stroke's way. */
function distanceTo({ way }: StrokeSummary, to: Vector3): number {
  let best = Infinity;
  const [a, ab, ap] = [new Vector3(), new Vector3(), new Vector3()];
  for (let o = 0; o < way.length; o += 3) {
    a.fromArray(way, o);
    ap.subVectors(to, a);
    if (o + 3 < way.length) {
      ab.fromArray(way, o + 3).sub(a);
      const l2 = ab.lengthSq();
      const t = l2 > 0 ? Math.min(1, Math.max(0, ap.dot(ab) / l2)) : 0;
      ap.addScaledVector(ab, -t);
    }
    best = Math.min(best, ap.length());
  }
  return best;
}

/** The strokes that are pointed at in the list or chosen, as lines over the model. */
export function StrokeMarks({ view }: { readonly view: StageView }) {
  useEveryPicture(view);
  const { strokes, hovered, chosen } = useFilm();
  const pane = view.pane('model');
  const marked = strokes.filter((s) => s.number === hovered || chosen.has(s.number));
  if (!pane || marked.length === 0) return null;
  return (
    <svg
      className="stroke-marks"
      style={{ left: pane.x }}
      width={pane.width}
      height={pane.height}
      aria-hidden
    >
      {marked.map(({ number, way }) => {
        const points: string[] = [];
        for (let o = 0; o < way.length; o += 3) {
          const { x, y } = view.rig.project(new Vector3().fromArray(way, o));
          points.push(`${x},${y}`);
        }
        const [first] = points;
        return points.length === 1 ? (
          <circle key={number} cx={first!.split(',')[0]} cy={first!.split(',')[1]} r={5} />
        ) : (
          <polyline key={number} points={points.join(' ')} className={chosen.has(number) ? 'on' : ''} />
        );
      })}
    </svg>
  );
}
