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
  const grid = new PlaceGrid(apart);
  const positions = new Float32Array(MOST_KEPT * 3);
  const normals = new Float32Array(MOST_KEPT * 3);
  const weights = new Float32Array(MOST_KEPT * 3);
  const faces = new Int32Array(MOST_KEPT);
  let count = 0;
  for (let t = 0; t < throws && count < MOST_KEPT; t++) {
    const f = firstAbove(sums, random() * area);
    const r = Math.sqrt(random());
    const s = random();
    const w0 = 1 - r;
    const w1 = r * (1 - s);
    const w2 = r * s;
    const a = indices[f * 3]! * 3;
    const b = indices[f * 3 + 1]! * 3;
    const c = indices[f * 3 + 2]! * 3;
    const x = p[a]! * w0 + p[b]! * w1 + p[c]! * w2;
    const y = p[a + 1]! * w0 + p[b + 1]! * w1 + p[c + 1]! * w2;
    const z = p[a + 2]! * w0 + p[b + 2]! * w1 + p[c + 2]! * w2;
    // The other side of something thin is another place.
    const isTaken = grid.some(x, y, z, positions, (i) => {
      const g = faces[i]! * 3;
      return flat[g]! * flat[f * 3]! + flat[g + 1]! * flat[f * 3 + 1]! + flat[g + 2]! * flat[f * 3 + 2]! > 0;
    });
    if (isTaken) continue;
    const o = count * 3;
    let l = 0;
    for (let k = 0; k < 3; k++) {
      normals[o + k] = n[a + k]! * w0 + n[b + k]! * w1 + n[c + k]! * w2;
      l += normals[o + k]! ** 2;
    }
    l = Math.sqrt(l);
    for (let k = 0; k < 3; k++) normals[o + k] = l > 0 ? normals[o + k]! / l : flat[f * 3 + k]!;
    positions[o] = x;
    positions[o + 1] = y;
    positions[o + 2] = z;
    weights[o] = w0;
    weights[o + 1] = w1;
    weights[o + 2] = w2;
    faces[count] = f;
    grid.add(x, y, z, count++);
  }
  return {
    count,
    positions: positions.slice(0, count * 3),
    normals: normals.slice(0, count * 3),
    faces: faces.slice(0, count),
    weights: weights.slice(0, count * 3),
  };
}

/** Rounding may let through a few more than the densest packing holds. */
const MOST_KEPT = MOST_PLACES + 1000;

/** Slots of the grid's table: a power of two, some times as many as places. */
const SLOTS = 1 << 18;

/** Places by the cells of a grid, through a table of hashes: two cells that share a slot are only looked at in vain. */
class PlaceGrid {
  private readonly cell: number;
  private readonly head = new Int32Array(SLOTS).fill(-1);
  private readonly next = new Int32Array(MOST_KEPT);

  /** @param cell how wide, and how near places are that are asked for */
  constructor(cell: number) {
    this.cell = cell;
  }

  add(x: number, y: number, z: number, index: number): void {
    const { cell } = this;
    const slot = this.slot(Math.floor(x / cell), Math.floor(y / cell), Math.floor(z / cell));
    this.next[index] = this.head[slot]!;
    this.head[slot] = index;
  }

  /** Whether a test holds for some place that lies nearer than a cell is wide. */
  some(x: number, y: number, z: number, positions: Float32Array, test: (index: number) => boolean): boolean {
    const { cell, head, next } = this;
    const cx = Math.floor(x / cell);
    const cy = Math.floor(y / cell);
    const cz = Math.floor(z / cell);
    for (let dx = -1; dx <= 1; dx++) {
      for (let dy = -1; dy <= 1; dy++) {
        for (let dz = -1; dz <= 1; dz++) {
          for (let i = head[this.slot(cx + dx, cy + dy, cz + dz)]!; i >= 0; i = next[i]!) {
            const ux = positions[i * 3]! - x;
            const uy = positions[i * 3 + 1]! - y;
            const uz = positions[i * 3 + 2]! - z;
            if (ux * ux + uy * uy + uz * uz < cell * cell && test(i)) return true;
          }
        }
      }
    }
    return false;
  }

  private slot(x: number, y: number, z: number): number {
    return (Math.imul(x, 73856093) ^ Math.imul(y, 19349663) ^ Math.imul(z, 83492791)) & (SLOTS - 1);
  }
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
