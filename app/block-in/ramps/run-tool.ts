import { dot, normalize, type Vec3 } from '../../../core/math';
import { type Session, useProject } from '../../project';
import { lineOnModel, type ToolMaker } from '../../viewport';
import { patchSeat } from './ramp-actions';
import { seatNow, useRampHand } from './ramp-hand';
import { extentOf, runBetween } from './run-geometry';

/** A drag over the model tells the run of what is in hand: the ramp goes from where it begins to where it ends. */
export const runTool =
  (session: Session): ToolMaker =>
  (view) => ({
    name: 'run',
    cursor: 'crosshair',
    ...lineOnModel(view, {
      slip: 'Drag a line: from the first colour to the last.',
      drawn: (start, end) => runAlong(session, start, end),
    }),
    leave: () => {
      useRampHand.setState({ aims: false });
      return true;
    },
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
