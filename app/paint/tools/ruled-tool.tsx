import type { StrokeBegin } from '../../../workers';
import {
  useEveryPicture,
  type Gesture,
  type PanePoint,
  type PointerAt,
  type StageView,
} from '../../viewport';
import { usePaint, type Bend, type Path } from '../paint-store';
import { arcThrough, stepped } from './ruled';

type Spot = Pick<PanePoint, 'x' | 'y'>;

const show = (pane: PanePoint['pane'], points: readonly Spot[]): void =>
  usePaint.setState({ ruled: { pane, points: points.map(({ x, y }) => [x, y]) } });
const hide = (): void => usePaint.setState({ ruled: null });

/** The arc that waits for the press through which it is to run; one of another tool or way of drawing is given up. */
function waiting(): Bend | null {
  const { bend, path, tool } = usePaint.getState();
  if (!bend || (path === 'arc' && bend.tool === tool)) return bend;
  usePaint.setState({ bend: null, ruled: null });
  return null;
}

/** The arc that is being bent, if one is. */
export const bending = {
  hover(at: PanePoint | null): void {
    const bend = waiting();
    if (bend && at?.pane === bend.at.pane) show(at.pane, arcThrough(bend.at, bend.to, at));
  },

  /** Lays the arc that waits through where was pressed. @returns whether one waited */
  press(at: PointerAt, lay: (at: PointerAt, points: readonly Spot[], stroke: StrokeBegin) => void): boolean {
    const bend = waiting();
    if (!bend) return false;
    usePaint.setState({ bend: null, ruled: null });
    if (at.pane === bend.at.pane) lay(bend.at, arcThrough(bend.at, bend.to, at), bend.stroke);
    return true;
  },

  /** @returns whether one waited */
  leave(): boolean {
    const waited = waiting() !== null;
    if (waited) usePaint.setState({ bend: null, ruled: null });
    return waited;
  },
};

/** A drag that tells a straight line, or the ends of an arc. @param lay lays a stroke along points of the pane */
export function ruledGesture(
  path: Exclude<Path, 'free'>,
  at: PointerAt,
  lay: (points: readonly Spot[]) => void,
  stroke: StrokeBegin,
): Gesture {
  const endOf = (to: PointerAt): Spot => (to.shift ? stepped(at, to) : to);
  return {
    move: (to) => show(at.pane, [at, endOf(to)]),
    end: (to) => {
      const end = endOf(to);
      if (path === 'arc' && Math.hypot(end.x - at.x, end.y - at.y) > 3) {
        usePaint.setState(({ tool }) => ({ bend: { at, to: end, stroke, tool } }));
        return;
      }
      hide();
      lay([at, end]);
    },
    cancel: hide,
  };
}

/** The line or arc that will be laid. */
export function RuledLine({ view }: { readonly view: StageView }) {
  useEveryPicture(view);
  const ruled = usePaint((s) => s.ruled);
  const pane = ruled && view.pane(ruled.pane);
  if (!ruled || !pane) return null;
  return (
    <svg className="ruled-line" style={{ left: pane.x }} width={pane.width} height={pane.height} aria-hidden>
      <polyline points={ruled.points.map((p) => p.join()).join(' ')} />
    </svg>
  );
}
