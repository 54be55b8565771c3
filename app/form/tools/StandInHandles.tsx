import { Quaternion, Vector3 } from 'three';
import { standInFrame, standInLines, type StandIn } from '../../../core/light';
import { subjectDiagonal } from '../../../core/mesh';
import { useProject, type Session } from '../../project';
import { useUi } from '../../shared/ui-store';
import { useEveryPicture, type StageView, Handle, type Point } from '../../viewport';

/** The least and the most that a solid reaches along an axis, parts of the model's diagonal. */
const LEAST = 0.005;
const MOST = 10;

const AXES = ['width', 'length', 'depth'] as const;

type Held = { readonly gesture: string; readonly before: StandIn };
let held: Held | null = null;

/** The stand-in in hand over the picture, with handles by which it is moved, turned and scaled. */
export function StandInHandles({ session, view }: { readonly session: Session; readonly view: StageView }) {
  useEveryPicture(view);
  const inHand = useUi((s) => s.standIn);
  const plan = useProject((s) => s.document?.lights.find((l) => l.id === inHand?.light)?.plan);
  const mesh = useProject((s) => s.mesh);
  const standIn = inHand && plan?.standIns[inHand.index];
  const pane = view.pane('model');
  if (!inHand || !standIn || !plan || !mesh || !pane) return null;
  const { centre, axes, half } = standInFrame(standIn, mesh);
  const diagonal = subjectDiagonal(mesh) || 1;
  const on = (p: readonly number[]): Point => view.rig.project(new Vector3(p[0], p[1], p[2]));
  const middle = on(centre);
  const change = (next: StandIn, gesture: string): void =>
    void session.command(
      {
        do: 'patch-light',
        light: inHand.light,
        patch: { standIns: plan.standIns.with(inHand.index, next) },
      },
      gesture,
    );
  /** As it was when the drag began: a drag is reckoned from there, so that nothing adds up. */
  const before = (gesture: string): StandIn => {
    if (held?.gesture !== gesture) held = { gesture, before: standIn };
    return held.before;
  };
  const move = (to: Point, gesture: string, from: Point): void => {
    const was = before(gesture);
    const units = view.rig.unitsPerPixel(new Vector3(...centre)) / diagonal;
    const [right, up] = [view.rig.axis(0), view.rig.axis(1)];
    const by = right
      .multiplyScalar((to.x - from.x) * units)
      .addScaledVector(up, -(to.y - from.y) * units)
      .toArray();
    change({ ...was, centre: was.centre.map((c, k) => rounded(c + by[k]!)) as StandIn['centre'] }, gesture);
  };
  const turn = (to: Point, gesture: string, from: Point): void => {
    const was = before(gesture);
    const angle = (p: Point): number => Math.atan2(p.y - middle.y, p.x - middle.x);
    // On the screen angles grow clockwise; toward the eye they are counted the other way.
    const spin = new Quaternion().setFromAxisAngle(view.rig.axis(2), angle(from) - angle(to));
    const next = spin.multiply(new Quaternion(...was.turn)).toArray();
    change({ ...was, turn: next.map(rounded) as StandIn['turn'] }, gesture);
  };
  const scale = (k: number, end: Point, to: Point, gesture: string): void => {
    const was = before(gesture);
    const [dx, dy] = [end.x - middle.x, end.y - middle.y];
    const along = ((to.x - middle.x) * dx + (to.y - middle.y) * dy) / (dx * dx + dy * dy || 1);
    const value = Math.min(MOST, Math.max(LEAST, standIn.half[k]! * along));
    change({ ...was, half: was.half.with(k, rounded(value)) as StandIn['half'] }, gesture);
  };
  return (
    <svg className="ramp-line" style={{ left: pane.x }} width={pane.width} height={pane.height}>
      {standInLines(standIn, mesh).map((line, i) => (
        <polyline
          key={i}
          className="stand-in-line"
          points={line
            .map(on)
            .map(({ x, y }) => `${x},${y}`)
            .join(' ')}
        />
      ))}
      <Handle at={middle} kind="ring" color="" name="Turn the stand-in" onDrag={turn} />
      {AXES.map((name, k) => {
        const end = on(centre.map((c, i) => c + axes[k]![i]! * half[k]!));
        return (
          <Handle
            key={name}
            at={end}
            kind="square"
            color="var(--raised)"
            name={`Change the ${name} of the stand-in`}
            onDrag={(to, gesture) => scale(k, end, to, gesture)}
          />
        );
      })}
      <Handle at={middle} kind="round" color="var(--accent)" name="Move the stand-in" onDrag={move} />
    </svg>
  );
}

const rounded = (x: number): number => Number(x.toFixed(5));
