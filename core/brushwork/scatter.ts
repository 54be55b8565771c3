import { seededRandom } from '../math';
import { faceGeometry, type Mesh } from '../mesh';

/** Places scattered over a surface. */
export interface Scatter {
  readonly count: number;
  /** xyz each. */
  readonly positions: Float32Array;
  /** Unit xyz each. */
  readonly normals: Float32Array;
  readonly faces: Int32Array;
  /** Weights of the triangle's corners, three each. */
  readonly weights: Float32Array;
}

/** Places that are thrown for one that could be kept: more fill the last gaps, at a cost. */
const THROWS = 12;

/** More are never kept: the distance is widened until they suffice. */
export const MOST_PLACES = 60_000;

/** The densest packing of discs of diameter 1 has this many a unit of area. */
const DENSEST = 2 / Math.sqrt(3);

/**
 * Scatters places evenly over a surface, none nearer to another than a distance on the same side (dart throwing: R. Cook, "Stochastic
 * sampling in computer graphics", 1986), by area, so that no triangle and no seam shows in it.
 *
 * @param distance model units
 */
export function scatterOver(
  mesh: Pick<Mesh, 'positions' | 'indices' | 'normals'>,
  distance: number,
  seed: number,
): Scatter {
  const { positions: p, normals: n, indices } = mesh;
  const { areas, normals: flat } = faceGeometry(mesh);
  const sums = new Float64Array(areas.length);
  let area = 0;
  areas.forEach((a, f) => (sums[f] = area += a));
  const random = seededRandom(seed + 1);
  const apart = Math.max(distance, Math.sqrt((area * DENSEST) / MOST_PLACES));
  if (!(area > 0) || !(apart > 0)) return emptyScatter();
  const throws = Math.ceil((area / (apart * apart)) * DENSEST * THROWS);
  const grid = new Map<number, number[]>();
  const cell = (x: number): number => Math.floor(x / apart);
  // Cells by a hash: two that share one are only looked at in vain.
  const key = (x: number, y: number, z: number): number =>
    (Math.imul(x, 73856093) ^ Math.imul(y, 19349663) ^ Math.imul(z, 83492791)) | 0;
  const at: number[] = [];
  const normals: number[] = [];
  const faces: number[] = [];
  const weights: number[] = [];
  const isFree = (x: number, y: number, z: number, f: number): boolean => {
    const [cx, cy, cz] = [cell(x), cell(y), cell(z)];
    for (let dx = -1; dx <= 1; dx++) {
      for (let dy = -1; dy <= 1; dy++) {
        for (let dz = -1; dz <= 1; dz++) {
          for (const i of grid.get(key(cx + dx, cy + dy, cz + dz)) ?? []) {
            const [ux, uy, uz] = [at[i * 3]! - x, at[i * 3 + 1]! - y, at[i * 3 + 2]! - z];
            if (ux * ux + uy * uy + uz * uz >= apart * apart) continue;
            // The other side of something thin is another place.
            const g = faces[i]! * 3;
            if (
              flat[g]! * flat[f * 3]! + flat[g + 1]! * flat[f * 3 + 1]! + flat[g + 2]! * flat[f * 3 + 2]! >
              0
            )
              return false;
          }
        }
      }
    }
    return true;
  };
  for (let t = 0; t < throws; t++) {
    const f = firstAbove(sums, random() * area);
    const r = Math.sqrt(random());
    const s = random();
    const [w0, w1, w2] = [1 - r, r * (1 - s), r * s];
    const [a, b, c] = [indices[f * 3]! * 3, indices[f * 3 + 1]! * 3, indices[f * 3 + 2]! * 3];
    const [x, y, z] = [0, 1, 2].map((k) => p[a + k]! * w0 + p[b + k]! * w1 + p[c + k]! * w2) as [
      number,
      number,
      number,
    ];
    if (!isFree(x, y, z, f)) continue;
    const cellKey = key(cell(x), cell(y), cell(z));
    const list = grid.get(cellKey);
    if (list) list.push(faces.length);
    else grid.set(cellKey, [faces.length]);
    const smooth = [0, 1, 2].map((k) => n[a + k]! * w0 + n[b + k]! * w1 + n[c + k]! * w2);
    const l = Math.hypot(...smooth);
    at.push(x, y, z);
    normals.push(...(l > 0 ? smooth.map((v) => v / l) : [flat[f * 3]!, flat[f * 3 + 1]!, flat[f * 3 + 2]!]));
    faces.push(f);
    weights.push(w0, w1, w2);
  }
  return {
    count: faces.length,
    positions: Float32Array.from(at),
    normals: Float32Array.from(normals),
    faces: Int32Array.from(faces),
    weights: Float32Array.from(weights),
  };
}

const emptyScatter = (): Scatter => ({
  count: 0,
  positions: new Float32Array(),
  normals: new Float32Array(),
  faces: new Int32Array(),
  weights: new Float32Array(),
});

/** The first entry of a growing list that is above a value. */
function firstAbove(sums: Float64Array, value: number): number {
  let [low, high] = [0, sums.length - 1];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (sums[middle]! > value) high = middle;
    else low = middle + 1;
  }
  return low;
}
