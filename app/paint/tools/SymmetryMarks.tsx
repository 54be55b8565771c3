import { useMemo, useRef } from 'react';
import { Vector3 } from 'three';
import { add, scale, type Vec3 } from '../../../core/math';
import { subjectBounds } from '../../../core/mesh';
import { useProject } from '../../project';
import { useUi } from '../../shared/ui-store';
import { useEveryPicture, type StageView } from '../../viewport';
import { changeSymmetry, usePaint, type Axis } from '../paint-store';
import { symmetryPoint, UNIT } from '../symmetry';

const INDEX: Readonly<Record<Axis, 0 | 1 | 2>> = { x: 0, y: 1, z: 2 };

/** Planes reach this much beyond the model. */
const BEYOND = 0.06;

/** Planes and axis of the symmetry, as they stand in the model. */
export function SymmetryMarks({ view }: { readonly view: StageView }) {
  useEveryPicture(view);
  const symmetry = usePaint((s) => s.symmetry);
  const mesh = useProject((s) => s.mesh);
  const selectedPart = useUi((s) => s.selectedPart);
  const bounds = useMemo(() => mesh && subjectBounds(mesh), [mesh]);
  const pane = view.pane('model');
  if (!symmetry.on || !mesh || !bounds || !pane) return null;
  const { min, max } = bounds;
  const middle = symmetryPoint(symmetry, mesh, selectedPart);
  const far = Math.max(...min.map((low, k) => max[k]! - low)) * BEYOND;
  const at = (point: Vec3): string => {
    const { x, y } = view.rig.project(new Vector3(...point));
    return `${x},${y}`;
  };
  const reached = (axis: number, side: number): number => (side < 0 ? min[axis]! - far : max[axis]! + far);
  const moveTo = (to: Vec3): void => changeSymmetry({ place: [...to], about: 'place' });
  /** The middle, moved along two axes to the rim of the model. */
  const corner = (across: readonly (readonly [axis: number, side: number])[]): string => {
    const point: [number, number, number] = [...middle];
    for (const [axis, side] of across) point[axis] = reached(axis, side);
    return at(point);
  };
  const axisEnds = (): [Vec3, Vec3] => {
    const { axis, normal } = symmetry;
    if (axis === 'normal') {
      const long = Math.max(...min.map((low, k) => max[k]! - low)) * 0.6;
      return [-1, 1].map((side) => add(middle, scale(normal, side * long))) as [Vec3, Vec3];
    }
    return [-1, 1].map((side) => {
      const point: [number, number, number] = [...middle];
      point[INDEX[axis!]] = reached(INDEX[axis!], side);
      return point;
    }) as unknown as [Vec3, Vec3];
  };
  return (
    <svg
      className="symmetry-marks"
      style={{ left: pane.x }}
      width={pane.width}
      height={pane.height}
      aria-hidden
    >
      {symmetry.planes.map((plane) => {
        const [a, b] = [0, 1, 2].filter((k) => k !== INDEX[plane]) as [number, number];
        const sides = [
          [-1, -1],
          [1, -1],
          [1, 1],
          [-1, 1],
        ] as const;
        const grip: [number, number, number] = [...middle];
        grip[b === 1 ? 1 : a] = reached(b === 1 ? 1 : a, 1);
        return (
          <g key={plane}>
            <polygon
              points={sides
                .map(([s, t]) =>
                  corner([
                    [a, s],
                    [b, t],
                  ]),
                )
                .join(' ')}
            />
            <Grip
              view={view}
              at={grip}
              title="Drag the plane"
              along={UNIT[plane]}
              from={middle}
              onMove={moveTo}
            />
          </g>
        );
      })}
      {symmetry.axis && (
        <g>
          <polyline points={axisEnds().map(at).join(' ')} />
          <Grip
            view={view}
            at={axisEnds()[1]}
            title="Drag the axis"
            along={null}
            from={middle}
            onMove={moveTo}
          />
        </g>
      )}
    </svg>
  );
}

/** A point by which a plane is dragged along its normal, or an axis over the picture. */
function Grip({
  view,
  at,
  title,
  along,
  from,
  onMove,
}: {
  readonly view: StageView;
  readonly at: Vec3;
  readonly title: string;
  /** The way that it may go; null: as the pointer goes. */
  readonly along: Vec3 | null;
  /** What is moved. */
  readonly from: Vec3;
  readonly onMove: (to: Vec3) => void;
}) {
  const drag = useRef<{ readonly x: number; readonly y: number; readonly from: Vec3 } | null>(null);
  const { x, y } = view.rig.project(new Vector3(...at));
  const moved = (dx: number, dy: number, begun: Vec3): Vec3 => {
    const unit = view.rig.unitsPerPixel(new Vector3(...at));
    if (!along) {
      const [right, up] = view.axes();
      return add(begun, add(scale(right, dx * unit), scale(up, -dy * unit)));
    }
    const end = view.rig.project(new Vector3(...add(at, scale(along, unit * 50))));
    const [ax, ay] = [(end.x - x) / 50, (end.y - y) / 50];
    // Looked at along its way nothing can be told.
    const l2 = Math.max(0.04, ax * ax + ay * ay);
    return add(begun, scale(along, (unit * (dx * ax + dy * ay)) / l2));
  };
  return (
    <circle
      className="grip"
      cx={x}
      cy={y}
      r={7}
      onPointerDown={(e) => {
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
        drag.current = { x: e.clientX, y: e.clientY, from };
      }}
      onPointerMove={(e) => {
        if (!drag.current) return;
        onMove(moved(e.clientX - drag.current.x, e.clientY - drag.current.y, drag.current.from));
      }}
      onPointerUp={() => (drag.current = null)}
      onPointerCancel={() => (drag.current = null)}
    >
      <title>{title}</title>
    </circle>
  );
}
