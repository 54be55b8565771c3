import { useMemo } from 'react';
import { Vector3 } from 'three';
import { boxPlace, placeInBox } from '../../../core/mesh';
import { placeOnRamp, type RampAssignment } from '../../../core/ramps';
import type { Vec3 } from '../../../core/math';
import { type Session, useProject } from '../../project';
import { Handle, LineOver, type Point, type StageView, useEveryPicture } from '../../viewport';
import { patchSeat } from './ramp-actions';
import { seatNow, useSeatInHand } from './ramp-hand';
import { extentOf, placeAlong, rampEnds, runBetween } from './run-geometry';

interface Props {
  readonly session: Session;
  readonly view: StageView;
}

/** The run of what is in hand, to be slid, stretched and flipped on the model. */
export function RunHandles({ session, view }: Props) {
  const seat = useSeatInHand();
  if (!seat) return null;
  if (seat.run.kind === 'straight') return <StraightRun session={session} view={view} seat={seat} />;
  return <PlacedRun session={session} view={view} seat={seat} />;
}

/** How far along a line a point lies: 0 at its beginning, 1 at its end. */
function alongLine(a: Point, b: Point, p: Point): number {
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  return ((p.x - a.x) * dx + (p.y - a.y) * dy) / (dx * dx + dy * dy || 1);
}

function StraightRun({ session, view, seat }: Props & { readonly seat: RampAssignment }) {
  const mesh = useProject((s) => s.mesh);
  const regions = useProject((s) => s.document?.regions);
  const ramps = useProject((s) => s.document?.ramps);
  const { of, run } = seat;
  const direction = run.kind === 'straight' ? run.direction : null;
  const extent = useMemo(
    () => (mesh && regions && direction ? extentOf(mesh, { of }, regions, direction) : null),
    [mesh, regions, direction, of],
  );
  if (!extent || !direction) return null;
  const [first, last] = rampEnds(seat);
  const colors = ramps?.ramps.find((r) => r.id === seat.ramp)?.colors ?? [];
  const whole = [placeAlong(extent, direction, 0), placeAlong(extent, direction, 1)] as const;
  const at = (a: Point, b: Point, t: number): Point => ({
    x: a.x + (b.x - a.x) * t,
    y: a.y + (b.y - a.y) * t,
  });
  return (
    <LineOver view={view} line={[placeAlong(extent, direction, first), placeAlong(extent, direction, last)]}>
      {() => (
        <LineOn view={view} line={whole}>
          {(a, b) => (
            <>
              <Handle
                at={at(a, b, (first + last) / 2)}
                kind="ring"
                color="none"
                name="Slide the run along its ramp"
                onDrag={(p, g) => slideTo(session, alongLine(a, b, p), g)}
              />
              {([first, last] as const).map((t, i) => (
                <Handle
                  key={i}
                  at={at(a, b, t)}
                  kind="square"
                  color={(i === 0 ? colors[0] : colors.at(-1)) ?? 'var(--raised)'}
                  name={i === 0 ? 'First colour of the ramp' : 'Last colour of the ramp'}
                  onDrag={(p, g) => moveEnd(session, i === 0 ? 'first' : 'last', alongLine(a, b, p), g)}
                />
              ))}
              {seat.rings.map(([ring], i) => (
                <Handle
                  key={`ring ${i}`}
                  at={ringPlace(a, b, seat, ring)}
                  kind="round"
                  color={`color-mix(in oklab, ${colors[0]}, ${colors.at(-1)} ${Math.round(placeOnRamp(seat, ring) * 100)}%)`}
                  name={`Ring ${i + 1}: slide it along the ramp`}
                  onDrag={(p, g) => slideRing(session, i, a, b, p, g)}
                />
              ))}
            </>
          )}
        </LineOn>
      )}
    </LineOver>
  );
}

/** Places along a line within a picture that is drawn already. */
function LineOn({
  view,
  line,
  children,
}: {
  readonly view: StageView;
  readonly line: readonly [Vec3, Vec3];
  readonly children: (a: Point, b: Point) => React.ReactNode;
}) {
  const [a, b] = line.map((p) => view.rig.project(new Vector3(...p))) as [Point, Point];
  return <>{children(a, b)}</>;
}

/** A ring stands beside the line, as far off as it is slid: its own length of the line is all of the ramp. */
function ringPlace(a: Point, b: Point, { rings }: RampAssignment, ring: number): Point {
  const slid = rings.find(([at]) => at === ring)?.[1] ?? 0;
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  return { x: a.x + dx * ring - dy * slid, y: a.y + dy * ring + dx * slid };
}

function slideRing(session: Session, i: number, a: Point, b: Point, p: Point, g: string): void {
  const seat = seatNow();
  const ring = seat?.rings[i];
  if (!seat || !ring) return;
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  const length = dx * dx + dy * dy || 1;
  const slid = ((p.y - a.y) * dx - (p.x - a.x) * dy) / length;
  const low = (seat.rings[i - 1]?.[0] ?? 0) + 0.01;
  const high = (seat.rings[i + 1]?.[0] ?? 1) - 0.01;
  const at = Math.min(high, Math.max(low, alongLine(a, b, p)));
  const next: [number, number] = [Number(at.toFixed(4)), Number(Math.min(2, Math.max(-2, slid)).toFixed(4))];
  patchSeat(session, seat.id, { rings: seat.rings.with(i, next) }, g);
}

function moveEnd(session: Session, end: 'first' | 'last', t: number, gesture: string): void {
  const seat = seatNow();
  if (!seat) return;
  const [first, last] = rampEnds(seat);
  patchSeat(session, seat.id, end === 'first' ? runBetween(t, last) : runBetween(first, t), gesture);
}

function slideTo(session: Session, t: number, gesture: string): void {
  const seat = seatNow();
  if (!seat) return;
  const [first, last] = rampEnds(seat);
  const by = t - (first + last) / 2;
  patchSeat(session, seat.id, runBetween(first + by, last + by), gesture);
}

/** A run that goes out from a place: that place. */
function PlacedRun({ session, view, seat }: Props & { readonly seat: RampAssignment }) {
  const mesh = useProject((s) => s.mesh);
  useEveryPicture(view);
  const pane = view.pane('model');
  const { run } = seat;
  if (!mesh || !pane || run.kind === 'straight') return null;
  const place = boxPlace(mesh, run.kind === 'round' ? run.centre : run.from);
  const at = view.rig.project(new Vector3(...place));
  const moveTo = (p: Point, gesture: string): void => {
    const hit = view.pick({ pane: 'model', x: p.x, y: p.y });
    const { mesh: now } = useProject.getState();
    if (!hit || !now) return;
    const next = placeInBox(now, hit.point.toArray() as unknown as Vec3).map((x) => Number(x.toFixed(4))) as [
      number,
      number,
      number,
    ];
    const moved = run.kind === 'round' ? { ...run, centre: next } : { ...run, from: next };
    patchSeat(session, seat.id, { run: moved }, gesture);
  };
  return (
    <svg className="ramp-line" style={{ left: pane.x }} width={pane.width} height={pane.height}>
      <Handle at={at} kind="ring" color="none" name="Where the run begins" onDrag={moveTo} />
      <Handle at={at} kind="round" color="var(--raised)" name="Move where the run begins" onDrag={moveTo} />
    </svg>
  );
}
