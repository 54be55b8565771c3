import { edgeAngles, edgeLengths, faceGeometry, type Mesh, type Topology } from '../mesh';
import { ClusterSums, type SurfaceSums } from './cluster-sums';
import { PairHeap } from './pair-heap';

export interface SegmentOptions {
  /** Stretch that may be left, mean over the surface: 0.02 is an L² stretch of about 1.01. */
  readonly stretch: number;
  /** The largest piece, in parts of the surface that is divided. */
  readonly largest: number;
  /** 1 for each edge that must be a seam: part borders, or what the artist has drawn. */
  readonly seams?: Uint8Array;
  /** The triangles to divide; all if left out. */
  readonly faces?: Iterable<number>;
  /** Told the part done, 0..1, now and then. */
  readonly onProgress?: (done: number) => void;
}

/** By its sums alone no piece is joined to more than this part of the surface, unless it is flat: see `mergeCharts`. */
export const LARGEST_PART = 0.16;

/** A chart may be stretched this many times the mean that is allowed. */
const WORST = 6;

/**
 * Divides a surface into pieces that lie flat with little stretch and short seams. Triangles are joined to clusters, always the two
 * neighbours whose union costs least stretch for each unit of seam that disappears; clusters stay discs. How far a cluster is from
 * developable is told by its normals, which lie on a circle if it is flat, a cylinder or a cone (D. Julius, V. Kraevoy,
 * A. Sheffer, "D-Charts: Quasi-Developable Mesh Segmentation", 2005), and by the angle that is missing round its inner vertices.
 *
 * @returns 1 for each edge that separates two pieces, beside the given seams
 */
export function segmentSurface(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  topology: Topology,
  { stretch, largest, seams, faces, onProgress }: SegmentOptions,
): Uint8Array {
  const { normals, areas } = faceGeometry(mesh);
  const lengths = seamWorth(mesh, topology, normals);
  const surface: SurfaceSums = {
    mesh,
    topology,
    normals,
    areas,
    lengths,
    seams: seams ?? new Uint8Array(lengths.length),
    taken: facesTaken(mesh.indices.length / 3, faces),
  };
  const clusters = new ClusterSums(surface);
  joinCheapest(clusters, stretch, largest * clusters.totalArea, onProgress);
  const label = clusters.labels();
  straightenBorders(surface, label);
  return bordersOf(surface, label);
}

function facesTaken(count: number, faces: Iterable<number> | undefined): Uint8Array {
  const taken = new Uint8Array(count).fill(faces ? 0 : 1);
  for (const f of faces ?? []) taken[f] = 1;
  return taken;
}

function joinCheapest(
  clusters: ClusterSums,
  stretch: number,
  largest: number,
  onProgress: (done: number) => void = () => undefined,
): void {
  const heap = new PairHeap();
  const budget = stretch * clusters.totalArea;
  const worst = stretch * WORST;
  let spent = 0;
  for (let round = 0; round < ROUNDS; round++) {
    spent += joinInPairs(clusters, worst, budget - spent);
    onProgress((round + 1) / (ROUNDS * 2));
  }
  // After the rounds an eighth of the triangles' number is left, each of which may be joined once.
  const most = clusters.count / 2 ** ROUNDS;
  let joins = 0;
  const offer = (a: number, b: number): void => {
    const gain = clusters.tryJoin(a, b);
    if (gain && gain.stretch <= worst) heap.push(gain.cost, a, b, clusters.version(a), clusters.version(b));
  };
  clusters.forEachPair(offer);
  for (;;) {
    const top = heap.pop();
    if (!top) return;
    const { a, b } = top;
    if (clusters.version(a) !== top.versionA || clusters.version(b) !== top.versionB) continue;
    const gain = clusters.tryJoin(a, b);
    if (!gain) continue;
    if (spent + gain.added > budget || (gain.area > largest && !gain.isFlat)) continue;
    spent += gain.added;
    const joined = clusters.join(a, b);
    if (++joins % 1024 === 0) onProgress(Math.min(1, 0.5 + joins / (2 * most)));
    clusters.forEachNeighbour(joined, (other) => offer(joined, other));
  }
}

/**
 * Rounds in which clusters are only joined two by two. Each halves their number for one look at every pair; joining the cheapest
 * pair of all, one after the other, looks at six pairs anew each time.
 */
const ROUNDS = 3;

/** Joins the pairs that cost least, each cluster once. @returns the stretch spent */
function joinInPairs(clusters: ClusterSums, worst: number, budget: number): number {
  const pairs: number[] = [];
  const costs: number[] = [];
  const added: number[] = [];
  clusters.forEachPair((a, b) => {
    const gain = clusters.tryJoin(a, b);
    if (!gain || gain.stretch > worst) return;
    pairs.push(a, b);
    costs.push(gain.cost);
    added.push(gain.added);
  });
  let spent = 0;
  const joined = new Uint8Array(clusters.count);
  for (const i of ascending(costs)) {
    const a = pairs[i * 2]!;
    const b = pairs[i * 2 + 1]!;
    if (joined[a] || joined[b] || spent + added[i]! > budget) continue;
    // What was joined meanwhile beside them may have closed a ring.
    if (!clusters.tryJoin(a, b)) continue;
    spent += added[i]!;
    clusters.join(a, b);
    joined[a] = joined[b] = 1;
  }
  return spent;
}

/** The numbers of some values, the lowest value first; equal ones, to 32 bits, in their order. */
export function ascending(values: readonly number[]): Uint32Array {
  const n = values.length;
  const bits = new Uint32Array(new Float32Array(values).buffer);
  // The bits of a positive float sort as a whole number does, those of a negative one the other way. With 21 bits for its
  // place it fits a double exactly, and doubles sort eight times as fast without a function that compares.
  const keys = new Float64Array(n);
  for (let i = 0; i < n; i++) {
    const x = bits[i]!;
    keys[i] = (x >>> 31 ? ~x >>> 0 : (x | 0x80000000) >>> 0) * 2 ** 21 + i;
  }
  keys.sort();
  const out = new Uint32Array(n);
  for (let i = 0; i < n; i++) out[i] = keys[i]! % 2 ** 21;
  return out;
}

/** A crease of a right angle counts as this much of its length: borders lie there gladly. */
const CREASE_WORTH = 0.5;

/** What it is worth that an edge is no seam: its length, less along creases, where a seam is hardly seen. */
export function seamWorth(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  topology: Topology,
  normals: Float64Array,
): Float64Array {
  const angles = edgeAngles(mesh, topology, normals);
  return edgeLengths(topology, mesh.positions).map((l, e) => {
    const crease = Math.min(1, Math.abs(angles[e]!) / (Math.PI / 2));
    return l * (1 - (1 - CREASE_WORTH) * crease);
  });
}

/** Passes over all border triangles. */
const PASSES = 6;

/** Moves triangles with two sides on a border to the other side of it where that makes the border shorter. */
function straightenBorders(surface: SurfaceSums, label: Int32Array): void {
  const { topology, lengths, seams, taken } = surface;
  const { across, edges, twisted } = topology;
  for (let pass = 0; pass < PASSES; pass++) {
    let moved = 0;
    for (let f = 0; f < label.length; f++) {
      if (!taken[f]) continue;
      let to = -1;
      let stay = -1;
      let away = 0;
      let kept = 0;
      let others = 0;
      for (let c = f * 3; c < f * 3 + 3; c++) {
        const e = edges.ofCorner[c]!;
        const o = across[c]!;
        const g = o < 0 || seams[e] || twisted[e] ? -1 : Math.floor(o / 3);
        if (g < 0 || !taken[g]) {
          others++;
          continue;
        }
        if (label[g] === label[f]) {
          stay = c;
          kept += lengths[e]!;
        } else if (to < 0 || to === label[g]) {
          to = label[g]!;
          away += lengths[e]!;
        } else others++;
      }
      if (to < 0 || others > 0 || stay < 0 || away <= kept * 1.0001) continue;
      // Only an ear, with one side left in its piece, may go: the piece stays whole.
      let sidesLeft = 0;
      for (let c = f * 3; c < f * 3 + 3; c++) if (label[Math.floor(across[c]! / 3)] === label[f]) sidesLeft++;
      if (sidesLeft !== 1) continue;
      label[f] = to;
      moved++;
    }
    if (moved === 0) return;
  }
}

function bordersOf({ topology, taken }: SurfaceSums, label: Int32Array): Uint8Array {
  const { across, edges } = topology;
  const out = new Uint8Array(edges.uses.length);
  for (let c = 0; c < across.length; c++) {
    const o = across[c]!;
    if (o < c) continue;
    const f = Math.floor(c / 3);
    const g = Math.floor(o / 3);
    if (taken[f] && taken[g] && label[f] !== label[g]) out[edges.ofCorner[c]!] = 1;
  }
  return out;
}
