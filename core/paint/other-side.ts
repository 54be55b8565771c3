import {
  add,
  compose,
  inverse,
  isIdentity,
  normalize,
  placed,
  placeDirection,
  type Placing,
  type Vec3,
} from '../math';
import type { Mesh, SurfacePoint } from '../mesh';
import { placeSamples } from './place-samples';
import type { StrokeRasterizer } from './stroke-rasterizer';
import { SAMPLE_STRIDE } from './sample';
import { mirrored, type CopyWay, type Symmetry } from './symmetry';

/** Brings samples to where a copy of their stroke is made. */
export type PlaceCopy = (samples: readonly number[]) => readonly number[];

/**
 * Leads from a place of one side to the one that stands for it on the other.
 *
 * @param point, normal of the plane between the sides, model space
 * @returns takes a place near the surface and leaves the other in `out`
 */
export function otherSide(
  rasterizer: StrokeRasterizer,
  point: Vec3,
  normal: Vec3,
): (from: Vec3, out: SurfacePoint) => void {
  const { offsets } = rasterizer.twins(point, normal);
  const { closest } = rasterizer.open();
  const { indices } = rasterizer.surface.mesh;
  const mirror = mirrored(point, normal);
  return (from, out) => {
    closest.find(...from, out);
    const offset: [number, number, number] = [0, 0, 0];
    [out.w0, out.w1, out.w2].forEach((w, k) => {
      const v = indices[out.face * 3 + k]! * 3;
      for (let axis = 0; axis < 3; axis++) offset[axis]! += offsets[v + axis]! * w;
    });
    closest.find(...add(placed(from, mirror), offset), out);
  };
}

/**
 * Straight over planes and round the axis; or, where the symmetry says so, over planes to the place that stands for it on the other
 * side, as the mesh hangs together. In a pose, to where it takes the place that stands for it at rest.
 *
 * @param placing where the model stands now, seen from where it stood when the stroke was made
 */
export function copyPlacer(
  symmetry: Symmetry | undefined,
  way: CopyWay,
  placing: Placing,
  rasterizer: StrokeRasterizer,
): PlaceCopy {
  const { placing: copy, turn, over } = way;
  const all = compose(placing, copy);
  const isPosed = rasterizer.rest !== rasterizer && !isIdentity(copy);
  if (!symmetry || !(isPosed || (symmetry.twins && over.length > 0))) return (s) => placeSamples(s, all);
  const begins = isPosed ? placing : compose(placing, turn);
  const steps = stepsAtRest(symmetry, way, placing, rasterizer.rest, isPosed);
  const { mesh } = rasterizer.surface;
  const place: SurfacePoint = { face: -1, w0: 1, w1: 0, w2: 0, distance: 0 };
  return (samples) => {
    const begun = placeSamples(samples, begins);
    const out = [...placeSamples(samples, all)];
    for (let o = 0; o + SAMPLE_STRIDE <= samples.length; o += SAMPLE_STRIDE) {
      let at: Vec3 = [begun[o]!, begun[o + 1]!, begun[o + 2]!];
      if (isPosed) {
        rasterizer.open().closest.find(...at, place);
        at = mixedAt(rasterizer.rest.surface.mesh, 'positions', place);
      }
      steps.forEach((step, i) => {
        step(at, place);
        if (i < steps.length - 1) at = mixedAt(rasterizer.rest.surface.mesh, 'positions', place);
      });
      at = mixedAt(mesh, 'positions', place);
      const normal = normalize(mixedAt(mesh, 'normals', place), [out[o + 3]!, out[o + 4]!, out[o + 5]!]);
      for (let axis = 0; axis < 3; axis++) {
        out[o + axis] = at[axis]!;
        out[o + 3 + axis] = normal[axis]!;
      }
    }
    return out;
  };
}

/** What leads, on the model at rest, from a place to its copy, one step after the other; each leaves where it has come in `out`. */
function stepsAtRest(
  { planes, twins }: Symmetry,
  { turn, over }: CopyWay,
  placing: Placing,
  rest: StrokeRasterizer,
  turns: boolean,
): ((from: Vec3, out: SurfacePoint) => void)[] {
  const straight = (way: Placing) => (from: Vec3, out: SurfacePoint) =>
    rest.open().closest.find(...placed(from, way), out);
  const sides = over.map((k) => {
    const { point, normal } = planes[k]!;
    const [at, to] = [placed(point, placing), placeDirection(normal, placing)];
    return twins ? otherSide(rest, at, to) : straight(mirrored(at, to));
  });
  const first =
    turns && !isIdentity(turn) ? [straight(compose(placing, compose(turn, inverse(placing))))] : [];
  return [...first, ...sides];
}

function mixedAt(mesh: Mesh, of: 'positions' | 'normals', { face, w0, w1, w2 }: SurfacePoint): Vec3 {
  const out: [number, number, number] = [0, 0, 0];
  [w0, w1, w2].forEach((w, k) => {
    const v = mesh.indices[face * 3 + k]! * 3;
    for (let axis = 0; axis < 3; axis++) out[axis]! += mesh[of][v + axis]! * w;
  });
  return out;
}
