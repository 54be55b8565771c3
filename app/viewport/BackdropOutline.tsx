import { Vector3 } from 'three';
import { backdropsOf, type UvMesh } from '../../core/mesh';
import { useUi } from '../shared/ui-store';
import { useEveryPicture } from './view/viewport-context';
import type { StageView } from './view/stage-view';

/** Where the backdrop in hand stands: of a bare one nothing else would be seen. */
export function BackdropOutline({ view, mesh }: { readonly view: StageView; readonly mesh: UvMesh }) {
  useEveryPicture(view);
  const name = useUi((s) => s.backdrop);
  const pane = view.pane('model');
  const backdrop = name === null ? undefined : backdropsOf(mesh).find((b) => b.name === name);
  if (!backdrop || !pane) return null;
  const points = backdrop.corners.map((corner) => {
    const { x, y } = view.rig.project(new Vector3(...corner));
    return `${x},${y}`;
  });
  return (
    <svg
      className="backdrop-outline"
      style={{ left: pane.x }}
      width={pane.width}
      height={pane.height}
      aria-hidden
    >
      <polygon points={points.join(' ')} />
    </svg>
  );
}
