import { z } from 'zod';
import { boundsOf, diagonalOf, type UvMesh } from '../../mesh';
import type { SurfaceMap } from '../../surface';
import type { CueKind } from '../cue-kind';
import { spreadVertices } from '../every-texel';
import { meanCurvature } from '../mean-curvature';

/** The mean curvature, times the model's diagonal, that counts as 1 is one over this. */
const scale = z.number().positive().max(1000);

const ridgeSchema = z.strictObject({ cue: z.literal('ridge'), scale });
const creaseSchema = z.strictObject({ cue: z.literal('crease'), scale });

/** min(1, max(0, ±H) · scale · diagonal), H the mean curvature, positive where convex. */
function curved(mesh: UvMesh, map: SurfaceMap, factor: number, side: 1 | -1): Uint16Array {
  const whole = factor * diagonalOf(boundsOf(mesh.positions)) * side;
  return spreadVertices(
    map,
    Float32Array.from(meanCurvature(mesh), (h) => Math.min(1, Math.max(0, h * whole))),
  );
}

/** Where the surface bulges. */
export const ridgeKind = {
  schema: ridgeSchema,
  usual: { cue: 'ridge', scale: 0.05 },
  says: 'Where the surface bulges: edges lifted by light, worn paint, bright rims.',
  key: (spec) => `ridge ${spec.scale}`,
  measure: (mesh, map, spec) => curved(mesh, map, spec.scale, 1),
} as const satisfies CueKind<z.infer<typeof ridgeSchema>>;

/** Where it is hollow. */
export const creaseKind = {
  schema: creaseSchema,
  usual: { cue: 'crease', scale: 0.05 },
  says: 'Where the surface is hollow: folds, joints, the line between two forms.',
  key: (spec) => `crease ${spec.scale}`,
  measure: (mesh, map, spec) => curved(mesh, map, spec.scale, -1),
} as const satisfies CueKind<z.infer<typeof creaseSchema>>;
