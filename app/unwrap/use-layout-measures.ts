import { useEffect, useState } from 'react';
import type { UvMesh } from '../../core/mesh';
import type { JobMethods } from '../../workers';
import { jobPool } from '../shared/platform';

export type MeasuredLayout = JobMethods['measureLayout']['result'];

const known = new WeakMap<UvMesh, MeasuredLayout>();

/** Figures of a layout, measured in a worker; null until they are there. */
export function useLayoutMeasures(mesh: UvMesh | null, size: number | undefined): MeasuredLayout | null {
  const [measured, setMeasured] = useState<{ mesh: UvMesh; result: MeasuredLayout } | null>(null);
  useEffect(() => {
    if (!mesh || !size) return;
    const ready = known.get(mesh);
    if (ready) {
      setMeasured({ mesh, result: ready });
      return;
    }
    let gone = false;
    jobPool
      .run('measureLayout', { mesh, size })
      .then((result) => {
        known.set(mesh, result);
        if (!gone) setMeasured({ mesh, result });
      })
      // A worker that was stopped for something else: the figures come with the next look.
      .catch(() => undefined);
    return () => void (gone = true);
  }, [mesh, size]);
  return measured && measured.mesh === mesh ? measured.result : null;
}
