import { nextCorner, previousCorner, type Mesh, type Topology } from '../mesh';

/** What is known of a surface before it is divided. */
export interface SurfaceSums {
  readonly mesh: Pick<Mesh, 'positions' | 'indices'>;
  readonly topology: Topology;
  /** Unit normal xyz and area a triangle; what an edge is worth as no seam, a length. */
  readonly normals: Float64Array;
  readonly areas: Float64Array;
  readonly lengths: Float64Array;
  /** 1 for each edge that no cluster may reach across. */
  readonly seams: Uint8Array;
  /** 1 for each triangle that takes part. */
  readonly taken: Uint8Array;
}

/** What joining two clusters would do. */
export interface JoinGain {
  readonly area: number;
  /** All of it lies in one plane, nearly. */
  readonly isFlat: boolean;
  /** Stretch of the union, mean over its area. */
  readonly stretch: number;
  /** Stretch times area that the union has more than the two. */
  readonly added: number;
  /** Added stretch for each unit of seam that disappears. */
  readonly cost: number;
}

/** The edges that two clusters share: a list in `nextEdge`. */
interface Shared {
  first: number;
  last: number;
  length: number;
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
  readonly totalArea: number;
  private readonly surface: SurfaceSums;
  private readonly sums: Float64Array;
  private readonly stretch: Float64Array;
  private readonly versions: Int32Array;
  private readonly parent: Int32Array;
  private readonly neighbours: (Map<number, Shared> | null)[];
  private readonly nextEdge: Int32Array;
  /** Angle missing round each welded vertex (2π less its angles); NaN on the mesh's own border. */
  private readonly missing: Float64Array;
  /** Edges at each welded vertex that separate clusters or are open. */
  private readonly borders: Int32Array;
  /** Scratch: how many edges of the chain in hand meet at a vertex. */
  private readonly met: Int32Array;
  private chainMissing = 0;
  private chainCone = 0;
  private readonly trial = new Float64Array(SUMS);

  constructor(surface: SurfaceSums) {
    const { mesh, topology, normals, areas, seams, taken } = surface;
    const { across, edges, twisted } = topology;
    const faces = areas.length;
    this.surface = surface;
    this.sums = new Float64Array(faces * SUMS);
    this.stretch = new Float64Array(faces);
    this.versions = new Int32Array(faces);
    this.parent = Int32Array.from({ length: faces }, (_, f) => f);
    this.neighbours = new Array<Map<number, Shared> | null>(faces).fill(null);
    this.nextEdge = new Int32Array(edges.uses.length).fill(-1);
    const vertices = mesh.positions.length / 3;
    this.missing = missingAngles(surface);
    this.borders = new Int32Array(vertices);
    this.met = new Int32Array(vertices);
    let total = 0;
    for (let f = 0; f < faces; f++) {
      if (!taken[f]) continue;
      this.neighbours[f] = new Map();
      const a = areas[f]!;
      total += a;
      const x = normals[f * 3]!;
      const y = normals[f * 3 + 1]!;
      const z = normals[f * 3 + 2]!;
      const s = this.sums;
      const o = f * SUMS;
      s[o] = a;
      s[o + 1] = a * x;
      s[o + 2] = a * y;
      s[o + 3] = a * z;
      s[o + 4] = a * x * x;
      s[o + 5] = a * x * y;
      s[o + 6] = a * x * z;
      s[o + 7] = a * y * y;
      s[o + 8] = a * y * z;
      s[o + 9] = a * z * z;
    }
    this.totalArea = total;
    for (let e = 0; e < edges.uses.length; e++) {
      this.borders[edges.ends[e * 2]!]!++;
      this.borders[edges.ends[e * 2 + 1]!]!++;
    }
    for (let c = 0; c < across.length; c++) {
      const o = across[c]!;
      const e = edges.ofCorner[c]!;
      const f = Math.floor(c / 3);
      const g = Math.floor(o / 3);
      if (o < 0 || seams[e] || twisted[e] || f === g || !taken[f] || !taken[g]) {
        this.sums[f * SUMS + 11]! += surface.lengths[e]! || 1e-30;
        continue;
      }
      if (o < c) continue;
      const known = this.neighbours[f]!.get(g);
      if (known) this.append(known, { first: e, last: e, length: surface.lengths[e]! });
      else {
        const shared = { first: e, last: e, length: surface.lengths[e]! };
        this.neighbours[f]!.set(g, shared);
        this.neighbours[g]!.set(f, shared);
      }
    }
  }

  /** Clusters are numbered below this, as the triangles they began with. */
  get count(): number {
    return this.parent.length;
  }

  /** Changes whenever the cluster does. */
  version(cluster: number): number {
    return this.versions[cluster]!;
  }

  forEachPair(visit: (a: number, b: number) => void): void {
    this.neighbours.forEach((map, a) => {
      for (const b of map?.keys() ?? []) if (a < b) visit(a, b);
    });
  }

  forEachNeighbour(cluster: number, visit: (other: number) => void): void {
    for (const other of this.neighbours[cluster]!.keys()) visit(other);
  }

  /** The root of every triangle's cluster; -1 for triangles that take no part. */
  labels(): Int32Array {
    return this.parent.map((_, f) => (this.surface.taken[f] ? this.find(f) : -1));
  }

  /** @returns null if the union would not be a disc */
  tryJoin(a: number, b: number): JoinGain | null {
    const shared = this.neighbours[a]?.get(b);
    if (!shared) return null;
    const euler = this.followChain(shared);
    // A ring closes a hole if it is all the border that one of the two has, and not all that both have.
    if (euler !== 1 && !(euler === 0 && this.isEnclosed(a) !== this.isEnclosed(b))) return null;
    const { trial, sums } = this;
    for (let k = 0; k < SUMS; k++) trial[k] = sums[a * SUMS + k]! + sums[b * SUMS + k]!;
    trial[10]! += this.chainMissing;
    trial[12] = Math.max(sums[a * SUMS + 12]!, sums[b * SUMS + 12]!, this.chainCone);
    const stretch = stretchOf(trial);
    const added =
      stretch * trial[0]! - this.stretch[a]! * sums[a * SUMS]! - this.stretch[b]! * sums[b * SUMS]!;
    const area = trial[0]!;
    const isFlat = trial[1]! ** 2 + trial[2]! ** 2 + trial[3]! ** 2 > FLAT * area * area;
    return {
      area,
      isFlat,
      stretch,
      added,
      cost: (added + SMALL_FIRST * area) / (shared.length || 1e-30),
    };
  }

  /** @returns the number of the union */
  join(a: number, b: number): number {
    // The one with more neighbours takes in the other.
    if (this.neighbours[a]!.size < this.neighbours[b]!.size) [a, b] = [b, a];
    const shared = this.neighbours[a]!.get(b)!;
    this.followChain(shared);
    const { sums } = this;
    const cone = Math.max(sums[a * SUMS + 12]!, sums[b * SUMS + 12]!, this.chainCone);
    for (let k = 0; k < SUMS; k++) sums[a * SUMS + k]! += sums[b * SUMS + k]!;
    sums[a * SUMS + 10]! += this.chainMissing;
    sums[a * SUMS + 12] = cone;
    this.stretch[a] = stretchOf(sums.subarray(a * SUMS, a * SUMS + SUMS));
    const { ends } = this.surface.topology.edges;
    for (let e = shared.first; e >= 0; e = this.nextEdge[e]!) {
      this.borders[ends[e * 2]!]!--;
      this.borders[ends[e * 2 + 1]!]!--;
    }
    const mine = this.neighbours[a]!;
    mine.delete(b);
    for (const [other, theirs] of this.neighbours[b]!) {
      if (other === a) continue;
      const map = this.neighbours[other]!;
      map.delete(b);
      const known = mine.get(other);
      if (known) this.append(known, theirs);
      else {
        mine.set(other, theirs);
        map.set(a, theirs);
      }
    }
    this.neighbours[b] = null;
    this.parent[b] = a;
    this.versions[a]!++;
    this.versions[b]!++;
    return a;
  }

  private append(to: Shared, from: Shared): void {
    this.nextEdge[to.last] = from.first;
    to.last = from.last;
    to.length += from.length;
  }

  /** Has only one neighbour all round. */
  private isEnclosed(cluster: number): boolean {
    return this.neighbours[cluster]!.size === 1 && this.sums[cluster * SUMS + 11] === 0;
  }

  /**
   * The shared edges' vertices less their number: 1 if they hang together, so that the union of two discs is a disc; 0 if they
   * close a ring. Leaves in `chainMissing` and `chainCone` what is missing round the vertices that would come to lie inside.
   */
  private followChain(shared: Shared): number {
    const { met, borders, missing, nextEdge } = this;
    const { ends } = this.surface.topology.edges;
    let euler = 0;
    let inside = 0;
    let cone = 0;
    for (let e = shared.first; e >= 0; e = nextEdge[e]!) {
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
    for (let e = shared.first; e >= 0; e = nextEdge[e]!) met[ends[e * 2]!] = met[ends[e * 2 + 1]!] = 0;
    this.chainMissing = inside;
    this.chainCone = cone;
    return euler;
  }

  private find(f: number): number {
    const { parent } = this;
    while (parent[f] !== f) {
      parent[f] = parent[parent[f]!]!;
      f = parent[f]!;
    }
    return f;
  }
}

function missingAngles({ mesh, topology }: SurfaceSums): Float64Array {
  const { positions: p, indices } = mesh;
  const { welded, across } = topology;
  const out = new Float64Array(p.length / 3).fill(2 * Math.PI);
  for (let c = 0; c < indices.length; c++) {
    const o = indices[c]! * 3;
    const a = indices[nextCorner(c)]! * 3;
    const b = indices[previousCorner(c)]! * 3;
    const ux = p[a]! - p[o]!;
    const uy = p[a + 1]! - p[o + 1]!;
    const uz = p[a + 2]! - p[o + 2]!;
    const vx = p[b]! - p[o]!;
    const vy = p[b + 1]! - p[o + 1]!;
    const vz = p[b + 2]! - p[o + 2]!;
    const cross = Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx);
    out[welded[indices[c]!]!]! -= Math.atan2(cross, ux * vx + uy * vy + uz * vz);
    if (across[c]! >= 0) continue;
    out[welded[indices[c]!]!] = NaN;
    out[welded[indices[nextCorner(c)]!]!] = NaN;
  }
  return out;
}

/** What of a cluster's stretch its sums foretell: squared L² stretch less one. */
function stretchOf(s: Float64Array): number {
  const a = s[0]!;
  if (a <= 0) return 0;
  const x = s[1]! / a;
  const y = s[2]! / a;
  const z = s[3]! / a;
  const spread = smallestEigenvalue(
    s[4]! / a - x * x,
    s[5]! / a - x * y,
    s[6]! / a - x * z,
    s[7]! / a - y * y,
    s[8]! / a - y * z,
    s[9]! / a - z * z,
  );
  return NORMALS_COUNT * Math.max(0, spread) + ANGLE_COUNT * s[10]! * s[10]! + CONE_COUNT * s[12]! * s[12]!;
}

/** Of a symmetric 3 x 3 matrix (O. K. Smith, "Eigenvalues of a symmetric 3 x 3 matrix", 1961). */
function smallestEigenvalue(xx: number, xy: number, xz: number, yy: number, yz: number, zz: number): number {
  const mean = (xx + yy + zz) / 3;
  const off = xy * xy + xz * xz + yz * yz;
  const p2 = (xx - mean) ** 2 + (yy - mean) ** 2 + (zz - mean) ** 2 + 2 * off;
  if (p2 < 1e-24) return mean;
  const p = Math.sqrt(p2 / 6);
  const a = (xx - mean) / p;
  const b = (yy - mean) / p;
  const c = (zz - mean) / p;
  const det =
    (a * (b * c - (yz / p) ** 2) -
      (xy / p) * ((xy / p) * c - (yz / p) * (xz / p)) +
      (xz / p) * ((xy / p) * (yz / p) - b * (xz / p))) /
    2;
  const angle = Math.acos(Math.min(1, Math.max(-1, det))) / 3;
  return mean + 2 * p * Math.cos(angle + (2 * Math.PI) / 3);
}
