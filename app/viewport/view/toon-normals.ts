import { useEffect } from 'react';
import { regionsOfPlan, type LightPlan } from '../../../core/light';
import { useActiveLight, useProject } from '../../project';
import { jobPool } from '../../shared/platform';
import { useUi } from '../../shared/ui-store';
import type { StageView } from './stage-view';

/** Whether a plan sees other normals than the model's own. */
const hasOwnNormals = (plan: LightPlan): boolean => plan.standIns.length > 0 || plan.calm > 0;

/** The toon view is lit by the normals of the light plan, as an engine lights the model that is delivered with them. */
export function useToonNormals(view: StageView | null): void {
  const isToon = useUi((s) => s.light === 'toon' && s.toon.standIns);
  const plan = useActiveLight()?.plan;
  const mesh = useProject((s) => s.mesh);
  const regions = useProject((s) => s.document?.regions);
  useEffect(() => {
    if (!view || !mesh || !plan || !isToon || !hasOwnNormals(plan)) {
      view?.setNormals(null);
      return;
    }
    const stop = new AbortController();
    const named = regionsOfPlan(plan);
    const faces = (regions ?? [])
      .filter(({ id }) => named.includes(id))
      .map(({ id, faces }) => [id, faces] as const);
    // Work that is stopped, or fails, leaves the normals that are shown.
    jobPool
      .run('plannedNormals', { mesh, plan, regions: faces }, { signal: stop.signal })
      .then((normals) => view.setNormals(normals))
      .catch(() => undefined);
    return () => stop.abort();
  }, [view, mesh, plan, regions, isToon]);
}
