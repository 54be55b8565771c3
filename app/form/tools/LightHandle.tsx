import { Vector3 } from 'three';
import { centreOf, diagonalOf, subjectBounds } from '../../../core/mesh';
import { useActiveLight, useProject } from '../../project';
import { useEveryPicture, type StageView } from '../../viewport';

/** A small sun in the direction from which the key light comes. */
export function LightHandle({ view }: { readonly view: StageView }) {
  useEveryPicture(view);
  const light = useActiveLight()?.plan;
  const mesh = useProject((s) => s.mesh);
  const pane = view.pane('model');
  if (!light || !mesh || !pane) return null;
  const bounds = subjectBounds(mesh);
  const centre = new Vector3(...(centreOf(bounds) as [number, number, number]));
  const direction = new Vector3(...light.key.direction).normalize();
  const sun = view.rig.project(centre.clone().addScaledVector(direction, diagonalOf(bounds) * 0.42));
  const middle = view.rig.project(centre);
  const behind = direction.dot(view.rig.eye().sub(centre)) < 0;
  return (
    <svg
      className="light-handle"
      style={{ left: pane.x }}
      width={pane.width}
      height={pane.height}
      aria-hidden
    >
      <line x1={middle.x} y1={middle.y} x2={sun.x} y2={sun.y} className={behind ? 'ray behind' : 'ray'} />
      <circle cx={sun.x} cy={sun.y} r={11} fill={light.key.color} className={behind ? 'sun behind' : 'sun'} />
    </svg>
  );
}
