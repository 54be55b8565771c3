import { useEffect, useMemo } from 'react';
import type { UvMesh } from '../../../core/mesh';
import { rampPicture, sheetOfRamps } from '../../../core/ramps';
import { seatedOf, useProject } from '../../project';
import type { StageView } from './stage-view';

/** What lies on ramps is drawn from the ramp sheet. @param mesh that is shown */
export function useShownRamps(view: StageView | null, mesh: UvMesh | null): void {
  const ramps = useProject((s) => s.document?.ramps) ?? null;
  const regions = useProject((s) => s.document?.regions);
  const picture = useMemo(() => ramps && rampPicture(sheetOfRamps(ramps), ramps.size), [ramps]);
  const shown = useMemo(() => {
    const seated = regions ? seatedOf(mesh, { ramps, regions }) : null;
    return seated && picture ? { seated, picture } : null;
  }, [mesh, ramps, regions, picture]);
  useEffect(() => view?.setRamps(shown), [view, shown]);
}
