import type { Mesh } from '../mesh';
import type { SurfaceMap } from '../surface';
import { cueKind, type CueSpec } from './cue';
import { denseCueSurface, ownCueSurface, type CueSurface, type GroundColors } from './cue-surface';

/** What cues of a surface may be measured on. */
export interface MeasuredOn {
  /** A denser model of the same shape, and how far it may lie off, model units; null: the surface's own. */
  readonly dense: { readonly mesh: Mesh; readonly distance: number } | null;
  /** Local colours of the surface's model, where there are any. */
  readonly colors: GroundColors | null;
}

/** Tells on what each cue is measured; what takes long is made once. */
export function groundsFor(map: SurfaceMap, { dense, colors }: MeasuredOn): (spec: CueSpec) => CueSurface {
  let own: CueSurface | null = null;
  let other: CueSurface | null = null;
  return (spec) =>
    dense && !cueKind(spec).ownModel
      ? (other ??= denseCueSurface(map, dense.mesh, dense.distance))
      : (own ??= ownCueSurface(map, colors));
}
