import { useEffect, useState } from 'react';
import type { UvMesh } from '../../core/mesh';
import type { Heat, HeatKind } from '../../core/unwrap';
import { quickPool } from './platform';

const known = new WeakMap<UvMesh, Map<string, Promise<Heat>>>();

function heatOf(mesh: UvMesh, kind: HeatKind, sizes: readonly number[]): Promise<Heat> {
  const key = `${kind} ${sizes.join()}`;
  const all = known.get(mesh) ?? new Map<string, Promise<Heat>>();
  known.set(mesh, all);
  let heat = all.get(key);
  if (!heat) {
    heat = quickPool.run('layoutHeat', { mesh, kind, sizes });
    all.set(key, heat);
    // A worker that was lost: it is reckoned anew at the next look.
    heat.catch(() => all.delete(key));
  }
  return heat;
}

/** How a layout is distorted, reckoned in a worker; null until it is there, and if `kind` is. */
export function useLayoutHeat(
  mesh: UvMesh | null,
  kind: HeatKind | null,
  sizes: readonly number[],
): Heat | null {
  const [found, setFound] = useState<{
    readonly key: string;
    readonly mesh: UvMesh;
    readonly heat: Heat;
  } | null>(null);
  const key = `${kind} ${sizes.join()}`;
  useEffect(() => {
    if (!mesh || !kind) return;
    let isGone = false;
    heatOf(mesh, kind, sizes).then(
      (heat) => {
        if (!isGone) setFound({ key, mesh, heat });
      },
      () => undefined,
    );
    return () => void (isGone = true);
    // The sizes are in the key.
  }, [mesh, kind, key]); // eslint-disable-line react-hooks/exhaustive-deps
  return kind && found?.key === key && found.mesh === mesh ? found.heat : null;
}
