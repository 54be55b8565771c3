import type { SurfaceMap } from '../core/surface';

/** The same map in memory that several workers can read at once. */
export function shareSurface(map: SurfaceMap): SurfaceMap {
  const share = <T extends ArrayBufferView>(view: T): T => {
    const memory = new SharedArrayBuffer(view.byteLength);
    new Uint8Array(memory).set(new Uint8Array(view.buffer, view.byteOffset, view.byteLength));
    const Type = view.constructor as new (buffer: SharedArrayBuffer) => T;
    return new Type(memory);
  };
  const { px, py, pz, nx, ny, nz, face, part, covered } = map;
  return {
    ...map,
    px: share(px),
    py: share(py),
    pz: share(pz),
    nx: share(nx),
    ny: share(ny),
    nz: share(nz),
    face: share(face),
    part: share(part),
    covered: share(covered),
  };
}
