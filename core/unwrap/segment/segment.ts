import { ClusterSums } from './cluster-sums';
import { PairQueue } from './pair-queue';
import type { SurfaceSums } from './surface-sums';

export interface SegmentOptions {
  /** Stretch that may be left, mean over the surface: 0.02 is an L² stretch of about 1.01. */
  readonly stretch: number;
  /** The largest piece, in parts of the surface that is divided. */
  readonly largest: number;
  /** 1 for each edge that must be a seam: part borders, or what the artist has drawn. */
  readonly seams: Uint8Array;
  /** The triangles to divide; all if left out. */
  readonly faces?: Uint32Array;
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
  surface: SurfaceSums,
  { stretch, largest, seams, faces, onProgress }: SegmentOptions,
): Uint8Array {
  const list = faces ?? Uint32Array.from(surface.areas, (_, f) => f);
  const clusters = new ClusterSums(surface, list, seams);
  joinCheapest(clusters, stretch, largest * clusters.totalArea, onProgress);
  const label = new Int32Array(surface.areas.length).fill(-1);
  clusters.labels().forEach((root, i) => (label[list[i]!] = root));
  straightenBorders(surface, seams, list, label);
  return bordersOf(surface, list, label);
}

function joinCheapest(
  clusters: ClusterSums,
  stretch: number,
  largest: number,
  onProgress: (done: number) => void = () => undefined,
): void {
  const { graph } = clusters;
  const queue = new PairQueue();
  const budget = stretch * clusters.totalArea;
  const worst = stretch * WORST;
  let spent = 0;
  for (let round = 0; round < ROUNDS; round++) {
    spent += joinInPairs(clusters, worst, budget - spent);
    onProgress((round + 1) / (ROUNDS * 2));
  }
  // After the rounds an eighth of the triangles' number is left, each of which may be joined once.
  const most = graph.degrees.length / 2 ** ROUNDS;
  let joins = 0;
  // Changes whenever one of a pair's clusters does.
  const versions = new Int32Array(graph.pairs);
  const offer = (pair: number): void => {
    const version = ++versions[pair]!;
    const gain = clusters.tryJoin(pair);
    if (gain && gain.stretch <= worst) queue.push(gain.cost, pair, version);
  };
  for (let pair = 0; pair < graph.pairs; pair++) if (!graph.isGone(pair)) offer(pair);
  for (;;) {
    const top = queue.pop();
    if (!top) return;
    if (top.version !== versions[top.pair]) continue;
    const gain = clusters.tryJoin(top.pair);
    if (!gain) continue;
    if (spent + gain.added > budget || (gain.area > largest && !gain.isFlat)) continue;
    spent += gain.added;
    graph.forEachPairOf(clusters.join(top.pair), offer);
    if (++joins % 1024 === 0) onProgress(Math.min(1, 0.5 + joins / (2 * most)));
  }
}

/**
 * Rounds in which clusters are only joined two by two. Each halves their number for one look at every pair; joining the cheapest
 * pair of all, one after the other, looks at six pairs anew each time.
 */
const ROUNDS = 3;

/** Joins the pairs that cost least, each cluster once. @returns the stretch spent */
function joinInPairs(clusters: ClusterSums, worst: number, budget: number): number {
  const { graph } = clusters;
  const pairs = new Int32Array(graph.pairs);
  const costs = new Float32Array(graph.pairs);
  const added = new Float64Array(graph.pairs);
  let count = 0;
  for (let pair = 0; pair < graph.pairs; pair++) {
    const gain = graph.isGone(pair) ? null : clusters.tryJoin(pair);
    // Whether a ring may be joined can change while others are; a chain of edges between two stays what it is.
    if (!gain || gain.isRing || gain.stretch > worst) continue;
    pairs[count] = pair;
    costs[count] = gain.cost;
    added[count++] = gain.added;
  }
  let spent = 0;
  const joined = new Uint8Array(graph.degrees.length);
  for (const i of ascending(costs.subarray(0, count))) {
    const pair = pairs[i]!;
    if (graph.isGone(pair)) continue;
    const a = graph.ends[pair * 2]!;
    const b = graph.ends[pair * 2 + 1]!;
    if (joined[a] || joined[b] || spent + added[i]! > budget) continue;
    spent += added[i]!;
    clusters.join(pair);
    joined[a] = joined[b] = 1;
  }
  return spent;
}

/** The numbers of some values, the lowest value first; equal ones in their order. */
export function ascending(values: Float32Array): Uint32Array {
  const n = values.length;
  const bits = new Uint32Array(values.slice().buffer);
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

/** Passes over all border triangles. */
const PASSES = 6;

/** Moves triangles with two sides on a border to the other side of it where that makes the border shorter. */
function straightenBorders(
  { topology, lengths }: SurfaceSums,
  seams: Uint8Array,
  faces: Uint32Array,
  label: Int32Array,
): void {
  const { across, edges, twisted } = topology;
  const at = faces.filter((f) => isAtBorder(across, label, f));
  for (let pass = 0; pass < PASSES; pass++) {
    let moved = 0;
    for (const f of at) {
      let to = -1;
      let away = 0;
      let kept = 0;
      let stays = 0;
      let others = 0;
      for (let c = f * 3; c < f * 3 + 3; c++) {
        const e = edges.ofCorner[c]!;
        const o = across[c]!;
        const g = o < 0 || seams[e] || twisted[e] ? -1 : Math.floor(o / 3);
        if (g < 0 || label[g]! < 0) {
          others++;
        } else if (label[g] === label[f]) {
          stays++;
          kept += lengths[e]!;
        } else if (to < 0 || to === label[g]) {
          to = label[g]!;
          away += lengths[e]!;
        } else others++;
      }
      // Only an ear, with one side left in its piece, may go: the piece stays whole.
      if (to < 0 || others > 0 || stays !== 1 || away <= kept * 1.0001) continue;
      label[f] = to;
      moved++;
    }
    if (moved === 0) return;
  }
}

function isAtBorder(across: Int32Array, label: Int32Array, f: number): boolean {
  for (let c = f * 3; c < f * 3 + 3; c++) {
    if (across[c]! >= 0 && label[Math.floor(across[c]! / 3)] !== label[f]) return true;
  }
  return false;
}

function bordersOf({ topology }: SurfaceSums, faces: Uint32Array, label: Int32Array): Uint8Array {
  const { across, edges } = topology;
  const out = new Uint8Array(edges.uses.length);
  for (const f of faces) {
    for (let c = f * 3; c < f * 3 + 3; c++) {
      const o = across[c]!;
      if (o < c) continue;
      const other = label[Math.floor(o / 3)]!;
      if (other >= 0 && other !== label[f]) out[edges.ofCorner[c]!] = 1;
    }
  }
  return out;
}
