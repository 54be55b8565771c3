import { subjectNow, type Session } from '../../project';
import { topologyFor, useLayout } from '../../shared/layout-store';
import { type Hit, type StageView, type ToolMaker } from '../../viewport';
import type { UvMesh } from '../../../core/mesh';
import { setWish } from '../seam-actions';
import { PinMarks } from './PinMarks';

/** Triangles that hang together with one and lie within a reach of a place. */
function facesNear(mesh: UvMesh, hit: Hit, reach: number): number[] {
  const { across } = topologyFor(mesh);
  const isNear = (f: number): boolean =>
    [0, 1, 2].some((k) => {
      const v = mesh.indices[f * 3 + k]! * 3;
      const p = mesh.positions;
      return Math.hypot(p[v]! - hit.point.x, p[v + 1]! - hit.point.y, p[v + 2]! - hit.point.z) <= reach;
    });
  const out = new Set([hit.face]);
  for (const f of out) {
    for (let c = f * 3; c < f * 3 + 3; c++) {
      const g = Math.floor(across[c]! / 3);
      if (across[c]! >= 0 && !out.has(g) && isNear(g)) out.add(g);
    }
  }
  return [...out];
}

/** Paints where seams are wanted, and where not. */
export const wishTool =
  (session: Session): ToolMaker =>
  (view: StageView) => ({
    name: 'wish',
    cursor: 'crosshair',
    press: (at, hit) => {
      const mesh = subjectNow();
      if (!mesh || !hit) return null;
      const painted = new Set<number>();
      const dab = (place: Hit | null): void => {
        if (!place) return;
        const reach = (useLayout.getState().wishSize / 2) * view.unitsPerPixel('model', place.point, 0);
        for (const f of facesNear(mesh, place, reach)) painted.add(f);
        useLayout.setState({ wishAhead: new Set(painted) });
      };
      dab(hit);
      return {
        move: (to) => dab(view.pick({ ...to, pane: at.pane })),
        end: () => {
          setWish(session, painted);
          useLayout.setState({ wishAhead: new Set() });
        },
        cancel: () => useLayout.setState({ wishAhead: new Set() }),
      };
    },
    overlay: () => <PinMarks view={view} />,
    leave: () => {
      useLayout.setState({ tool: 'island' });
      return true;
    },
  });
