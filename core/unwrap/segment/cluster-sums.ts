import { smallestEigenvalue } from '../../math';
import { ClusterGraph } from './cluster-graph';
import type { SurfaceSums } from './surface-sums';

/** What joining two clusters would do. */
export interface JoinGain {
  area: number;
  /** The shared edges close a ring: one of the two fills the hole of the other. */
  isRing: boolean;
  /** All of it lies in one plane, nearly. */
  isFlat: boolean;
  /** Stretch of the union, mean over its area. */
  stretch: number;
  /** Stretch times area that the union has more than the two. */
  added: number;
  /** Added stretch for each unit of seam that disappears. */
  cost: number;
}

/**
 * Area, summed normals (3) and summed products of normals (6), each times area; angle missing round inner vertices; length of
 * border that is open or a given seam; the largest angle missing round one inner vertex.
 */
const SUMS = 13;

/**
 * What a cluster will be stretched (squared L² stretch less one), from pieces of balls and tori that were flattened: 7e-4 times the
 * square of the angle missing in all; 0.012 times that of the largest angle in one vertex, which is a cone; and a little for
 * normals that spread across the plane that fits them best (0.24 on balls, 0.01 to 0.1 on tori).
 */
const ANGLE_COUNT = 7e-4;
const CONE_COUNT = 0.012;
const NORMALS_COUNT = 0.03;

/** Square of the mean normal's length above which a cluster is flat: normals within about half a degree. */
const FLAT = 1 - 1e-4;

/** A cluster's union with a seamless neighbour is preferred small: otherwise one piece would swallow all, triangle by triangle. */
const SMALL_FIRST = 3e-5;

/** Clusters of triangles that can be joined two by two, with the sums that tell how well each lies flat. */
export class ClusterSums {
  /** Which clusters touch: one pair each. */
  readonly graph: ClusterGraph;
  readonly totalArea: number;
  private readonly surface: SurfaceSums;
  private readonly sums: Float64Array;
  private readonly stretch: Float64Array;
  private readonly parent: Int32Array;
  /** Edges at each welded vertex that separate clusters or are open. */
  private readonly borders: Int32Array;
  /** Scratch: how many edges of the chain in hand meet at a vertex. */
  private readonly met: Int32Array;
  private chainMissing = 0;
  private chainCone = 0;
  private readonly trial = new Float64Array(SUMS);
  private readonly gain: JoinGain = { area: 0, isRing: false, isFlat: false, stretch: 0, added: 0, cost: 0 };

  /**
   * @param faces the triangles that take part, each a cluster
   * @param seams 1 for each edge that no cluster may reach across
   */
  constructor(surface: SurfaceSums, faces: Uint32Array, seams: Uint8Array) {
    const { mesh, topology, normals, areas, lengths } = surface;
    const { across, edges, twisted } = topology;
    this.surface = surface;
    this.sums = new Float64Array(faces.length * SUMS);
    this.stretch = new Float64Array(faces.length);
    this.parent = Int32Array.from(faces, (_, i) => i);
    this.graph = new ClusterGraph(faces.length, edges.uses.length);
    const vertices = mesh.positions.length / 3;
    this.borders = new Int32Array(vertices);
    this.met = new Int32Array(vertices);
    const { sums, borders } = this;
    const placeOf = new Int32Array(areas.length).fill(-1);
    let total = 0;
    for (let i = 0; i < faces.length; i++) {
      const f = faces[i]!;
      placeOf[f] = i;
      const a = areas[f]!;
      const x = normals[f * 3]!;
      const y = normals[f * 3 + 1]!;
      const z = normals[f * 3 + 2]!;
      total += a;
      const o = i * SUMS;
      sums[o] = a;
      sums[o + 1] = a * x;
      sums[o + 2] = a * y;
      sums[o + 3] = a * z;
      sums[o + 4] = a * x * x;
      sums[o + 5] = a * x * y;
      sums[o + 6] = a * x * z;
      sums[o + 7] = a * y * y;
      sums[o + 8] = a * y * z;
      sums[o + 9] = a * z * z;
    }
    this.totalArea = total;
    for (const v of edges.ends) borders[v]!++;
    for (let i = 0; i < faces.length; i++) {
      for (let c = faces[i]! * 3; c < faces[i]! * 3 + 3; c++) {
        const o = across[c]!;
        const e = edges.ofCorner[c]!;
        const j = o < 0 || seams[e] || twisted[e] ? -1 : placeOf[Math.floor(o / 3)]!;
        if (j < 0 || j === i) sums[i * SUMS + 11]! += lengths[e]! || 1e-30;
        else if (c < o) this.graph.link(i, j, e, lengths[e]!);
      }
    }
  }

  /** The root of every triangle's cluster, in the order of `faces`. */
  labels(): Int32Array {
    return this.parent.map((_, i) => this.find(i));
  }

  /** @returns null if the union would not be a disc; otherwise an object that the next call uses again */
  tryJoin(pair: number): JoinGain | null {
    const { trial, sums, graph, gain } = this;
    const a = graph.ends[pair * 2]!;
    const b = graph.ends[pair * 2 + 1]!;
    if (a < 0) return null;
    const euler = this.followChain(pair);
    // A ring closes a hole if it is all the border that one of the two has, and not all that both have.
    if (euler !== 1 && !(euler === 0 && this.isEnclosed(a) !== this.isEnclosed(b))) return null;
    const i = a * SUMS;
    const j = b * SUMS;
    for (let k = 0; k < SUMS; k++) trial[k] = sums[i + k]! + sums[j + k]!;
    trial[10]! += this.chainMissing;
    trial[12] = Math.max(sums[i + 12]!, sums[j + 12]!, this.chainCone);
    const area = trial[0]!;
    gain.area = area;
    gain.isRing = euler === 0;
    gain.isFlat = trial[1]! ** 2 + trial[2]! ** 2 + trial[3]! ** 2 > FLAT * area * area;
    gain.stretch = stretchOf(trial, 0);
    gain.added = gain.stretch * area - this.stretch[a]! * sums[i]! - this.stretch[b]! * sums[j]!;
    gain.cost = (gain.added + SMALL_FIRST * area) / (graph.lengths[pair]! || 1e-30);
    return gain;
  }

  /** @returns the number of the union */
  join(pair: number): number {
    const { sums, graph, borders } = this;
    let a = graph.ends[pair * 2]!;
    let b = graph.ends[pair * 2 + 1]!;
    // The one with more neighbours takes in the other.
    if (graph.degrees[a]! < graph.degrees[b]!) [a, b] = [b, a];
    this.followChain(pair);
    const i = a * SUMS;
    const j = b * SUMS;
    const cone = Math.max(sums[i + 12]!, sums[j + 12]!, this.chainCone);
    for (let k = 0; k < SUMS; k++) sums[i + k]! += sums[j + k]!;
    sums[i + 10]! += this.chainMissing;
    sums[i + 12] = cone;
    this.stretch[a] = stretchOf(sums, i);
    const { ends } = this.surface.topology.edges;
    for (let e = graph.firstEdge[pair]!; e >= 0; e = graph.nextEdge[e]!) {
      borders[ends[e * 2]!]!--;
      borders[ends[e * 2 + 1]!]!--;
    }
    graph.merge(pair, a, b);
    this.parent[b] = a;
    return a;
  }

  /** Has only one neighbour all round. */
  private isEnclosed(cluster: number): boolean {
    return this.graph.degrees[cluster] === 1 && this.sums[cluster * SUMS + 11] === 0;
  }

  /**
   * The shared edges' vertices less their number: 1 if they hang together, so that the union of two discs is a disc; 0 if they
   * close a ring. Leaves in `chainMissing` and `chainCone` what is missing round the vertices that would come to lie inside.
   */
  private followChain(pair: number): number {
    const { met, borders } = this;
    const { nextEdge } = this.graph;
    const { missing } = this.surface;
    const { ends } = this.surface.topology.edges;
    const first = this.graph.firstEdge[pair]!;
    if (nextEdge[first]! < 0) return this.followEdge(first);
    let euler = 0;
    let inside = 0;
    let cone = 0;
    for (let e = first; e >= 0; e = nextEdge[e]!) {
      euler--;
      for (let k = e * 2; k < e * 2 + 2; k++) {
        const v = ends[k]!;
        if (met[v] === 0) euler++;
        met[v]!++;
        // All borders at the vertex belong to this chain: it comes to lie inside.
        if (met[v] !== borders[v] || missing[v] !== missing[v]) continue;
        inside += missing[v]!;
        cone = Math.max(cone, Math.abs(missing[v]!));
      }
    }
    for (let e = first; e >= 0; e = nextEdge[e]!) met[ends[e * 2]!] = met[ends[e * 2 + 1]!] = 0;
    this.chainMissing = inside;
    this.chainCone = cone;
    return euler;
  }

  /** The same for a chain of a single edge, as most are in the beginning. */
  private followEdge(e: number): number {
    const { ends } = this.surface.topology.edges;
    const { missing } = this.surface;
    const a = ends[e * 2]!;
    const b = ends[e * 2 + 1]!;
    const atA = this.borders[a] === 1 && missing[a] === missing[a] ? missing[a]! : 0;
    const atB = this.borders[b] === 1 && missing[b] === missing[b] ? missing[b]! : 0;
    this.chainMissing = atA + atB;
    this.chainCone = Math.max(Math.abs(atA), Math.abs(atB));
    return a === b ? 0 : 1;
  }

  private find(i: number): number {
    const { parent } = this;
    while (parent[i] !== i) {
      parent[i] = parent[parent[i]!]!;
      i = parent[i]!;
    }
    return i;
  }
}

/** What of a cluster's stretch its sums foretell: squared L² stretch less one. @param at where the sums begin */
function stretchOf(s: Float64Array, at: number): number {
  const a = s[at]!;
  if (a <= 0) return 0;
  const x = s[at + 1]! / a;
  const y = s[at + 2]! / a;
  const z = s[at + 3]! / a;
  const spread = smallestEigenvalue(
    s[at + 4]! / a - x * x,
    s[at + 5]! / a - x * y,
    s[at + 6]! / a - x * z,
    s[at + 7]! / a - y * y,
    s[at + 8]! / a - y * z,
    s[at + 9]! / a - z * z,
  );
  const missing = s[at + 10]!;
  const cone = s[at + 12]!;
  return NORMALS_COUNT * Math.max(0, spread) + ANGLE_COUNT * missing * missing + CONE_COUNT * cone * cone;
}
