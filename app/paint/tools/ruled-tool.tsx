import type { StrokeBegin } from '../../../workers';
import {
  useEveryPicture,
  type Gesture,
  type PanePoint,
  type PointerAt,
  type StageView,
} from '../../viewport';
import { usePaint, type Path } from '../paint-store';
import { arcThrough, stepped } from './ruled';

type Spot = Pick<PanePoint, 'x' | 'y'>;

const show = (pane: PanePoint['pane'], points: readonly Spot[]): void =>
  usePaint.setState({ ruled: { pane, points: points.map(({ x, y }) => [x, y]) } });
const hide = (): void => usePaint.setState({ ruled: null });

/** An arc whose ends are set: it waits for the press through which it is to run. */
interface Bend {
  readonly at: PointerAt;
  readonly to: Spot;
  readonly stroke: StrokeBegin;
}

/** The arc that is being bent, if one is. */
export const bending = {
  bend: null as Bend | null,

  hover(at: PanePoint | null): void {
    if (!this.bend || at?.pane !== this.bend.at.pane) return;
    show(at.pane, arcThrough(this.bend.at, this.bend.to, at));
  },

  /** Lays the arc that waits through where was pressed. @returns whether one waited */
  press(at: PointerAt, lay: (at: PointerAt, points: readonly Spot[], stroke: StrokeBegin) => void): boolean {
    const { bend } = this;
    if (!bend) return false;
    this.bend = null;
    hide();
    if (at.pane === bend.at.pane) lay(bend.at, arcThrough(bend.at, bend.to, at), bend.stroke);
    return true;
  },

  /** @returns whether one waited */
  leave(): boolean {
    const waited = this.bend !== null;
    this.bend = null;
    if (waited) hide();
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
        bending.bend = { at, to: end, stroke };
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
