import { dot, normalize, type Vec3 } from '../../../core/math';
import { create } from 'zustand';
import { type Session, useProject } from '../../project';
import { notify } from '../../shared/notify';
import { LineOver, pointInPlane, type StageView, type ToolMaker } from '../../viewport';
import { patchSeat } from './ramp-actions';
import { seatNow, useRampHand } from './ramp-hand';
import { extentOf, runBetween } from './run-geometry';

/** The direction that is being drawn, model space. */
const useDrawnRun = create<{ readonly line: readonly [Vec3, Vec3] | null }>(() => ({ line: null }));

/** Shorter than this on the screen a drag is a slip, pixels. */
const SLIP = 6;

/** A drag over the model tells the run of what is in hand: the ramp goes from where it begins to where it ends. */
export const runTool =
  (session: Session): ToolMaker =>
  (view) => ({
    name: 'run',
    cursor: 'crosshair',
    press: (at, hit) => {
      if (!hit || at.pane !== 'model') return null;
      const start = hit.point.toArray() as unknown as Vec3;
      const [x, y] = [at.x, at.y];
      let end = start;
      return {
        move: (to) => {
          end = pointInPlane(view, hit.point, to.x, to.y).toArray() as unknown as Vec3;
          useDrawnRun.setState({ line: [start, end] });
        },
        end: (to) => {
          useDrawnRun.setState({ line: null });
          if (Math.hypot(to.x - x, to.y - y) < SLIP)
            notify('Drag a line: from the first colour to the last.');
          else runAlong(session, start, end);
        },
        cancel: () => useDrawnRun.setState({ line: null }),
      };
    },
    leave: () => {
      useRampHand.setState({ aims: false });
      return true;
    },
    overlay: () => <Drawn view={view} />,
  });

function runAlong(session: Session, start: Vec3, end: Vec3): void {
  const seat = seatNow();
  const { mesh, document } = useProject.getState();
  if (!seat || !mesh || !document) return;
  const way: Vec3 = [end[0] - start[0], end[1] - start[1], end[2] - start[2]];
  const direction = normalize(way).map((x) => Number(x.toFixed(4))) as [number, number, number];
  const extent = extentOf(mesh, seat, document.regions, direction);
  if (!extent || !(extent.high > extent.low)) return;
  const along = (p: Vec3): number => (dot(p, normalize(direction)) - extent.low) / (extent.high - extent.low);
  const run = { kind: 'straight' as const, direction };
  patchSeat(session, seat.id, { run, ...runBetween(along(start), along(end)) });
  useRampHand.setState({ aims: false });
}

function Drawn({ view }: { readonly view: StageView }) {
  const line = useDrawnRun((s) => s.line);
  return line && <LineOver view={view} line={line} />;
}
