import type { Placing } from '../math';
import type { Mesh } from '../mesh';
import { Poser, type Motion, type Pose } from '../motion';
import type { SurfaceMap } from '../surface';
import { isOnOwnModel, posesOf, type CueSpec } from './cue';
import { denseCueSurface, ownCueSurface, type CueSurface, type GroundColors } from './cue-surface';

/** What cues of a surface may be measured on. */
export interface MeasuredOn {
  /** A denser model of the same shape, and how far it may lie off, model units; null: the surface's own. */
  readonly dense: { readonly mesh: Mesh; readonly distance: number } | null;
  /** Local colours of the surface's model, where there are any. */
  readonly colors: GroundColors | null;
  /** How the file moves that the surface's model was read from, and what took it to the model; null: it stands at rest in all poses. */
  readonly moves: { readonly motion: Motion; readonly placing: Placing | null } | null;
}

/** Tells on what each cue is measured; what takes long is made once. */
export function groundsFor(
  map: SurfaceMap,
  { dense, colors, moves }: MeasuredOn,
): (spec: CueSpec) => CueSurface {
  let own: CueSurface | null = null;
  let other: CueSurface | null = null;
  let poser: Poser | null = null;
  let posed = new Map<string, CueSurface>();
  return (spec) => {
    if (dense && !isOnOwnModel(spec)) return (other ??= denseCueSurface(map, dense.mesh, dense.distance));
    const rest = (own ??= ownCueSurface(map, colors));
    const poses = posesOf(spec);
    if (!poses || !moves) return rest;
    poser ??= new Poser(map.mesh, moves.motion, moves.placing);
    // Those of one cue at a time: each has rays of its own.
    const before = posed;
    posed = new Map();
    for (const pose of poses.at) {
      const key = JSON.stringify(pose);
      posed.set(key, before.get(key) ?? inPose(rest, poser, pose));
    }
    return { ...rest, poses: [...posed.values()] };
  };
}

/** The same texels on the model in a pose. Lengths stay parts of its diagonal at rest. */
function inPose({ map, bounds, diagonal }: CueSurface, poser: Poser, pose: Pose): CueSurface {
  const { mesh } = map;
  const { positions, turn } = poser.pose(pose);
  const posed = { ...mesh, positions, normals: turn(mesh.normals) };
  return { ...ownCueSurface({ ...map, mesh: posed }), bounds, diagonal };
}
