import { useEffect, useState } from 'react';
import type { UvMesh } from '../../core/mesh';
import type { ActiveSheet } from '../project';
import type { JobMethods } from '../../workers';
import { jobPool } from '../shared/platform';

export type MeasuredLayout = JobMethods['measureLayout']['result'];

const known = new WeakMap<UvMesh, Map<string, MeasuredLayout>>();

/** Figures of the layout of a sheet, measured in a worker; null until they are there. */
export function useLayoutMeasures(mesh: UvMesh | null, on: ActiveSheet | null): MeasuredLayout | null {
  const [measured, setMeasured] = useState<{ mesh: UvMesh; key: string; result: MeasuredLayout } | null>(
    null,
  );
  const sheet = on?.index;
  const size = on?.size;
  const key = `${sheet} ${size}`;
  useEffect(() => {
    if (!mesh || sheet === undefined || !size) return;
    const ready = known.get(mesh)?.get(key);
    if (ready) {
      setMeasured({ mesh, key, result: ready });
      return;
    }
    let gone = false;
    jobPool
      .run('measureLayout', { mesh, sheet, size })
      .then((result) => {
        known.set(mesh, (known.get(mesh) ?? new Map<string, MeasuredLayout>()).set(key, result));
        if (!gone) setMeasured({ mesh, key, result });
      })
      // A worker that was stopped for something else: the figures come with the next look.
      .catch(() => undefined);
    return () => void (gone = true);
  }, [mesh, sheet, size, key]);
  return measured && measured.mesh === mesh && measured.key === key ? measured.result : null;
}
