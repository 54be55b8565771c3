import { useMemo } from 'react';
import { Vector3 } from 'three';
import type { Vec3 } from '../../../core/math';
import { boundsOf } from '../../../core/mesh';
import { useProject } from '../../project';
import { useUi } from '../../shared/ui-store';
import { useEveryPicture, type StageView } from '../../viewport';
import { usePaint, type Axis } from '../paint-store';
import { symmetryPoint } from '../symmetry';

const INDEX: Readonly<Record<Axis, 0 | 1 | 2>> = { x: 0, y: 1, z: 2 };

/** Planes reach this much beyond the model. */
const BEYOND = 0.06;

/** Planes and axis of the symmetry, as they stand in the model. */
export function SymmetryMarks({ view }: { readonly view: StageView }) {
  useEveryPicture(view);
  const symmetry = usePaint((s) => s.symmetry);
  const mesh = useProject((s) => s.mesh);
  const selectedPart = useUi((s) => s.selectedPart);
  const bounds = useMemo(() => mesh && boundsOf(mesh.positions), [mesh]);
  const pane = view.pane('model');
  if (!symmetry.on || !mesh || !bounds || !pane) return null;
  const { min, max } = bounds;
  const middle = symmetryPoint(symmetry, mesh, selectedPart);
  const far = Math.max(...min.map((low, k) => max[k]! - low)) * BEYOND;
  const at = (point: Vec3): string => {
    const { x, y } = view.rig.project(new Vector3(...point));
    return `${x},${y}`;
  };
  /** The middle, moved along two axes to the rim of the model. */
  const corner = (across: readonly (readonly [axis: number, side: number])[]): string => {
    const point: [number, number, number] = [...middle];
    for (const [axis, side] of across) point[axis] = side < 0 ? min[axis]! - far : max[axis]! + far;
    return at(point);
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
        return (
          <polygon
            key={plane}
            points={sides
              .map(([s, t]) =>
                corner([
                  [a, s],
                  [b, t],
                ]),
              )
              .join(' ')}
          />
        );
      })}
      {symmetry.axis && (
        <polyline points={[-1, 1].map((side) => corner([[INDEX[symmetry.axis!], side]])).join(' ')} />
      )}
    </svg>
  );
}
