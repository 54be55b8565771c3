import { AXES, type Axis } from './cue';
import { boundsOf, type Mesh } from '../mesh';
import { normalize } from '../math';
import type { SurfaceMap } from '../surface';

/** Height within the model's box: 0 at its lowest, 1 at its highest point along the axis; times 65535. */
export function heightCue(mesh: Mesh, map: SurfaceMap, axis: Axis): Uint16Array {
  const k = AXES.indexOf(axis);
  const { min, max } = boundsOf(mesh.positions);
  const low = min[k]!;
  const range = max[k]! - low;
  const values = [map.px, map.py, map.pz][k]!;
  const out = new Uint16Array(values.length);
  for (let i = 0; i < out.length; i++) {
    if (map.face[i]! < 0) continue;
    out[i] = range > 0 ? Math.min(65535, Math.max(0, Math.round(((values[i]! - low) / range) * 65535))) : 0;
  }
  return out;
}

/**
 * How far the surface turns toward a direction: (1 + cos angle) / 2, so 1 facing it, 0.5 square to it, 0 facing away; times
 * 65535. With direction up it is the part of the sky that a tilted plane sees (Liu and Jordan 1963).
 */
export function facingCue(map: SurfaceMap, direction: readonly [number, number, number]): Uint16Array {
  const [x, y, z] = normalize(direction);
  const out = new Uint16Array(map.face.length);
  for (let i = 0; i < out.length; i++) {
    if (map.face[i]! < 0) continue;
    const cos = (map.nx[i]! * x + map.ny[i]! * y + map.nz[i]! * z) / 32767;
    out[i] = Math.min(65535, Math.max(0, Math.round(((1 + cos) / 2) * 65535)));
  }
  return out;
}
