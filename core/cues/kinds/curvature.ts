import { z } from 'zod';
import { broadCurvature, type BroadCurvature } from '../broad-curvature';
import type { CueSurface } from '../cue-surface';
import type { PlacedCue } from '../cue-kind';
import { betweenVertices, everyCalmSpot, spreadVertices } from '../every-texel';
import { meanCurvature } from '../mean-curvature';

/** The mean curvature, times the model's diagonal, that counts as 1 is one over this. */
const scale = z.number().positive().max(1000);

const weight = z.number().min(0).max(1);

/** How much each scale counts: what is known at the vertices, and over balls of two sizes. */
const weights = z.strictObject({ fine: weight, medium: weight, broad: weight });

type Weights = z.infer<typeof weights>;

const FINE_ONLY: Weights = { fine: 1, medium: 0, broad: 0 };

const own = { scale, weights: weights.default(FINE_ONLY) };
const ridgeSchema = z.strictObject({ cue: z.literal('ridge'), ...own });
const creaseSchema = z.strictObject({ cue: z.literal('crease'), ...own });

/** Radii of the balls, in parts of the diagonal. */
const RADII = { medium: 0.015, broad: 0.05 } as const;

/** min(1, max(0, ±H) · scale · diagonal), H the mean curvature, positive where convex, as the scales weigh it. */
function curved(
  ground: CueSurface,
  factor: number,
  { fine, medium, broad }: Weights,
  side: 1 | -1,
): Uint16Array {
  const { mesh, diagonal } = ground;
  const whole = factor * diagonal * side;
  const cut = (h: number): number => Math.min(1, Math.max(0, h * whole));
  const atVertices = fine > 0 ? meanCurvature(mesh).map((h) => h * fine) : null;
  if (!(medium > 0) && !(broad > 0)) {
    return spreadVertices(ground, Float32Array.from(atVertices ?? [], cut));
  }
  const wide = [
    { weight: medium, radius: RADII.medium * diagonal },
    { weight: broad, radius: RADII.broad * diagonal },
  ].flatMap(({ weight: w, radius }) => (w > 0 ? [scaleOf(ground, radius, w)] : []));
  return everyCalmSpot(ground, (spots, i) => {
    if (spots.face[i]! < 0) return 0;
    let h = atVertices ? betweenVertices(ground, atVertices, spots, i) : 0;
    for (const of of wide) h += of(spots, i);
    return cut(h);
  });
}

/** A scale's part of the curvature. Between vertices that stand closer than the radius it is reckoned at those only. */
function scaleOf(ground: CueSurface, radius: number, weight: number): Parameters<typeof everyCalmSpot>[1] {
  const { mesh } = ground;
  const { positions: p, normals: n, indices } = mesh;
  const around: BroadCurvature = broadCurvature(mesh, radius);
  const known = new Float32Array(p.length / 3).fill(NaN);
  const vertex = (v: number): number => {
    if (Number.isNaN(known[v]!)) {
      const [x, y, z] = [p[v * 3]!, p[v * 3 + 1]!, p[v * 3 + 2]!];
      known[v] = around.at(x, y, z, n[v * 3]!, n[v * 3 + 1]!, n[v * 3 + 2]!) * weight;
    }
    return known[v]!;
  };
  const isSmall = new Int8Array(indices.length / 3).fill(-1);
  const small = (f: number): boolean => {
    if (isSmall[f]! < 0) {
      const long = [0, 1, 2].map((k) => {
        const [a, b] = [indices[f * 3 + k]! * 3, indices[f * 3 + ((k + 1) % 3)]! * 3];
        return Math.hypot(p[a]! - p[b]!, p[a + 1]! - p[b + 1]!, p[a + 2]! - p[b + 2]!);
      });
      isSmall[f] = Math.max(...long) <= radius ? 1 : 0;
    }
    return isSmall[f] === 1;
  };
  return (spots, i) => {
    const f = spots.face[i]!;
    if (small(f)) {
      const { weights: w } = spots;
      return (
        vertex(indices[f * 3]!) * w[i * 3]! +
        vertex(indices[f * 3 + 1]!) * w[i * 3 + 1]! +
        vertex(indices[f * 3 + 2]!) * w[i * 3 + 2]!
      );
    }
    const { px, py, pz, nx, ny, nz } = spots.places;
    return around.at(px[i]!, py[i]!, pz[i]!, nx[i]!, ny[i]!, nz[i]!) * weight;
  };
}

const nameOf = ({
  scale: s,
  weights: { fine, medium, broad },
}: {
  scale: number;
  weights: Weights;
}): string => `2 ${s} ${fine} ${medium} ${broad}`;

/** What an artist wants at once: edges of all sizes, on models of few triangles as of many. */
const USUAL: Weights = { fine: 0, medium: 1, broad: 0.5 };

/** Where the surface bulges. */
export const ridgeKind = {
  form: 'placed',
  schema: ridgeSchema,
  usual: { cue: 'ridge', scale: 0.03, weights: USUAL },
  says: 'Where the surface bulges: edges lifted by light, worn paint, bright rims.',
  key: (spec) => `ridge ${nameOf(spec)}`,
  measure: (ground, spec) => curved(ground, spec.scale, spec.weights, 1),
} as const satisfies PlacedCue<z.infer<typeof ridgeSchema>>;

/** Where it is hollow. */
export const creaseKind = {
  form: 'placed',
  schema: creaseSchema,
  usual: { cue: 'crease', scale: 0.03, weights: USUAL },
  says: 'Where the surface is hollow: folds, joints, the line between two forms.',
  key: (spec) => `crease ${nameOf(spec)}`,
  measure: (ground, spec) => curved(ground, spec.scale, spec.weights, -1),
} as const satisfies PlacedCue<z.infer<typeof creaseSchema>>;
