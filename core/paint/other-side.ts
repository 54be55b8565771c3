import { add, normalize, type Vec3, compose, placed, placeDirection, type Placing } from '../math';
import type { SurfacePoint } from '../mesh';
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
 * side, as the mesh hangs together.
 *
 * @param placing where the model stands now, seen from where it stood when the stroke was made
 */
export function copyPlacer(
  symmetry: Symmetry | undefined,
  { placing: copy, turn, over }: CopyWay,
  placing: Placing,
  rasterizer: StrokeRasterizer,
): PlaceCopy {
  const all = compose(placing, copy);
  if (!symmetry?.twins || over.length === 0) return (samples) => placeSamples(samples, all);
  const begins = compose(placing, turn);
  const sides = over.map((k) => {
    const { point, normal } = symmetry.planes[k]!;
    return otherSide(rasterizer, placed(point, placing), placeDirection(normal, placing));
  });
  const { mesh } = rasterizer.surface;
  const place: SurfacePoint = { face: -1, w0: 1, w1: 0, w2: 0, distance: 0 };
  const onMesh = (data: Float32Array): [number, number, number] => {
    const out: [number, number, number] = [0, 0, 0];
    [place.w0, place.w1, place.w2].forEach((w, k) => {
      const v = mesh.indices[place.face * 3 + k]! * 3;
      for (let axis = 0; axis < 3; axis++) out[axis]! += data[v + axis]! * w;
    });
    return out;
  };
  return (samples) => {
    const begun = placeSamples(samples, begins);
    const out = [...placeSamples(samples, all)];
    for (let o = 0; o + SAMPLE_STRIDE <= samples.length; o += SAMPLE_STRIDE) {
      let at: Vec3 = [begun[o]!, begun[o + 1]!, begun[o + 2]!];
      for (const side of sides) {
        side(at, place);
        at = onMesh(mesh.positions);
      }
      const normal = normalize(onMesh(mesh.normals), [out[o + 3]!, out[o + 4]!, out[o + 5]!]);
      for (let axis = 0; axis < 3; axis++) {
        out[o + axis] = at[axis]!;
        out[o + 3 + axis] = normal[axis]!;
      }
    }
    return out;
  };
}
