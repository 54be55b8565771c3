import type { SurfaceMap } from '../core/surface';

/** The same map in memory that several workers can read at once. */
export function shareSurface(map: SurfaceMap): SurfaceMap {
  const share = (data: Int32Array): Int32Array => {
    const copy = new Int32Array(new SharedArrayBuffer(data.byteLength));
    copy.set(data);
    return copy;
  };
  return { ...map, slotOfTile: share(map.slotOfTile), codes: share(map.codes) };
}
