import type { Mesh, Topology } from '../../mesh';
import { PairQueue } from '../segment/pair-queue';

/** A mesh of few triangles over the same surface, whose vertices are some of the fine one's. */
export interface CoarseMesh {
  readonly mesh: Pick<Mesh, 'positions' | 'indices'>;
  /** The fine mesh's welded vertex for each vertex. */
  readonly vertexOf: Uint32Array;
  /** Pairs of coarse vertices between which a line runs that was fixed: a border of parts, a seam that must be. */
  readonly lines: readonly (readonly [number, number])[];
}

export interface CoarseOptions {
  /** Triangles that are wanted. */
  readonly target: number;
  /** 1 for each edge that stays a line. */
  readonly fixed: Uint8Array;
  /** The mirrored vertex of each welded vertex, -1 where there is none: both sides are thinned out alike. */
  readonly mirror?: Int32Array | null;
}

/** Planes through lines count so many times as much as those of triangles. */
const LINE_WEIGHT = 10;

/** Long edges are dearer, so that triangles stay even: times the fourth power of the length. */
const EVENNESS = 2e-4;

/** A triangle may turn so far (cosine), and become so thin (0..1, 1 for one with equal sides). */
const [LEAST_TURN, LEAST_SHAPE] = [0.3, 0.12];

/**
 * Thins a mesh out by collapsing edges onto one of their ends, always what changes the surface least (M. Garland and P. Heckbert, "Surface
 * Simplification Using Quadric Error Metrics", 1997), as long as neither form nor triangles suffer. Handles, holes and borders stay (T. Dey and
 * others, "Topology Preserving Edge Contraction", 1999).
 */
export function coarsen(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  topology: Topology,
  options: CoarseOptions,
): CoarseMesh {
  return new Thinning(mesh, topology, options).run();
}

class Thinning {
  private readonly p: Float32Array;
  /** Three welded vertices a triangle; the first is -1 where it has gone. */
  private readonly tri: Int32Array;
  private readonly facesAt: number[][];
  private readonly linesAt: Set<number>[];
  private readonly locked: Uint8Array;
  private readonly quadrics: Float64Array;
  private left: number;
  private readonly enough: number;
  private readonly mirror: Int32Array | null;
  private readonly queue = new PairQueue();
  private readonly from: number[] = [];
  private readonly to: number[] = [];
  private readonly stamp: Int32Array;
  private readonly vertices: number[];

  constructor(
    mesh: Pick<Mesh, 'positions' | 'indices'>,
    { welded, edges, twisted }: Topology,
    { target, fixed, mirror }: CoarseOptions,
  ) {
    const count = welded.length;
    this.p = mesh.positions;
    this.mirror = mirror ?? null;
    this.tri = new Int32Array(mesh.indices.length).fill(-1);
    this.facesAt = Array.from({ length: count }, () => []);
    this.linesAt = Array.from({ length: count }, () => new Set<number>());
    this.locked = new Uint8Array(count);
    this.quadrics = new Float64Array(count * 10);
    this.stamp = new Int32Array(count);
    const faces = mesh.indices.length / 3;
    this.left = faces;
    this.enough = target;
    for (let f = 0; f < faces; f++) {
      for (let k = 0; k < 3; k++) {
        const v = welded[mesh.indices[f * 3 + k]!]!;
        this.tri[f * 3 + k] = v;
        this.facesAt[v]!.push(f);
      }
    }
    const { uses } = edges;
    uses.forEach((n, e) => {
      if (n === 0) return;
      const [a, b] = [edges.ends[e * 2]!, edges.ends[e * 2 + 1]!];
      if (n > 2 || twisted[e]) this.locked[a] = this.locked[b] = 1;
      if (n === 2 && !fixed[e]) return;
      this.linesAt[a]!.add(b);
      this.linesAt[b]!.add(a);
    });
    this.vertices = [...this.facesAt.keys()].filter((v) => this.facesAt[v]!.length > 0);
    for (const v of this.vertices) {
      const lines = this.linesAt[v]!.size;
      if ((lines !== 0 && lines !== 2) || !this.isFan(v)) this.locked[v] = 1;
    }
    for (let f = 0; f < faces; f++) this.addQuadrics(f);
  }

  run(): CoarseMesh {
    for (const u of this.vertices) for (const v of this.around(u)) this.push(u, v);
    for (let next = this.queue.pop(); next; next = this.queue.pop()) {
      const [u, v] = [this.from[next.pair]!, this.to[next.pair]!];
      if (this.stamp[u]! + this.stamp[v]! !== next.version) continue;
      if (!this.facesAt[u]!.length || !this.facesAt[v]!.length) continue;
      if (this.left <= this.enough) break;
      if (!this.mayGo(u, v)) continue;
      const [mu, mv] = this.mirror ? [this.mirror[u]!, this.mirror[v]!] : [-1, -1];
      const isPair = mu >= 0 && mv >= 0 && !(mu === u && mv === v);
      // What lies on the plane stays on it; what has a twin goes with it.
      if (mu === u && mv !== v) continue;
      if (isPair && mu === v) continue;
      if (isPair && !this.mayGo(mu, mv)) continue;
      this.collapse(u, v);
      if (isPair && this.facesAt[mu]!.length && this.facesAt[mv]!.length && this.mayGo(mu, mv))
        this.collapse(mu, mv);
    }
    return this.result();
  }

  private around(v: number): Set<number> {
    const out = new Set<number>();
    for (const f of this.facesAt[v]!) for (let k = 0; k < 3; k++) out.add(this.tri[f * 3 + k]!);
    out.delete(v);
    return out;
  }

  /** Whether the triangles round a vertex are one fan: closed, or open with two ends. */
  private isFan(v: number): boolean {
    const faces = this.facesAt[v]!;
    const ends = new Map<number, number>();
    for (const f of faces)
      for (let k = 0; k < 3; k++) {
        const w = this.tri[f * 3 + k]!;
        if (w !== v) ends.set(w, (ends.get(w) ?? 0) + 1);
      }
    const open = [...ends.values()].filter((n) => n === 1).length;
    return (
      [...ends.values()].every((n) => n <= 2) &&
      ((open === 0 && ends.size === faces.length) || (open === 2 && ends.size === faces.length + 1))
    );
  }

  private addQuadrics(f: number): void {
    const [a, b, c] = [this.tri[f * 3]!, this.tri[f * 3 + 1]!, this.tri[f * 3 + 2]!];
    const n = this.normal(a, b, c);
    const l = Math.hypot(...n) || 1e-30;
    const unit = n.map((x) => x / l) as [number, number, number];
    for (const v of [a, b, c]) this.addPlane(v, unit, a, l / 2);
    for (const [v, w] of [
      [a, b],
      [b, c],
      [c, a],
    ] as const) {
      if (!this.linesAt[v]!.has(w)) continue;
      const e = [0, 1, 2].map((k) => this.p[w * 3 + k]! - this.p[v * 3 + k]!) as [number, number, number];
      const across = [
        e[1] * unit[2] - e[2] * unit[1],
        e[2] * unit[0] - e[0] * unit[2],
        e[0] * unit[1] - e[1] * unit[0],
      ] as const;
      const m = Math.hypot(...across) || 1e-30;
      const side = across.map((x) => x / m) as [number, number, number];
      for (const x of [v, w]) this.addPlane(x, side, v, LINE_WEIGHT * m * m);
    }
  }

  private addPlane(
    v: number,
    [x, y, z]: readonly [number, number, number],
    at: number,
    weight: number,
  ): void {
    const d = -(x * this.p[at * 3]! + y * this.p[at * 3 + 1]! + z * this.p[at * 3 + 2]!);
    const q = this.quadrics;
    const terms = [x * x, x * y, x * z, x * d, y * y, y * z, y * d, z * z, z * d, d * d];
    for (let i = 0; i < 10; i++) q[v * 10 + i]! += weight * terms[i]!;
  }

  private normal(a: number, b: number, c: number): [number, number, number] {
    const p = this.p;
    const [ux, uy, uz] = [
      p[b * 3]! - p[a * 3]!,
      p[b * 3 + 1]! - p[a * 3 + 1]!,
      p[b * 3 + 2]! - p[a * 3 + 2]!,
    ];
    const [vx, vy, vz] = [
      p[c * 3]! - p[a * 3]!,
      p[c * 3 + 1]! - p[a * 3 + 1]!,
      p[c * 3 + 2]! - p[a * 3 + 2]!,
    ];
    return [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
  }

  private push(u: number, v: number): void {
    if (this.locked[u]) return;
    const [x, y, z] = [this.p[v * 3]!, this.p[v * 3 + 1]!, this.p[v * 3 + 2]!];
    const length = (this.p[u * 3]! - x) ** 2 + (this.p[u * 3 + 1]! - y) ** 2 + (this.p[u * 3 + 2]! - z) ** 2;
    const q = this.quadrics.subarray(u * 10, u * 10 + 10);
    const error =
      q[0]! * x * x +
      2 * (q[1]! * x * y + q[2]! * x * z + q[3]! * x + q[5]! * y * z + q[6]! * y + q[8]! * z) +
      q[4]! * y * y +
      q[7]! * z * z +
      q[9]!;
    this.from.push(u);
    this.to.push(v);
    this.queue.push(
      error + EVENNESS * length * length,
      this.from.length - 1,
      this.stamp[u]! + this.stamp[v]!,
    );
  }

  private mayGo(u: number, v: number): boolean {
    if (this.locked[u]) return false;
    const line = this.linesAt[u]!;
    if (line.size > 0 && !line.has(v)) return false;
    const [a, b] = [this.around(u), this.around(v)];
    if (!a.has(v)) return false;
    const shared = this.facesAt[u]!.filter((f) => this.has(f, v));
    let common = 0;
    for (const w of a) if (b.has(w)) common++;
    if (common !== shared.length) return false;
    // A line that is two edges long in a ring of three would lie on itself.
    if (line.size > 0) for (const w of line) if (w !== v && this.linesAt[v]!.has(w)) return false;
    // What was two lines in the inside mustn't touch.
    if (line.size === 0 && shared.length !== 2) return false;
    for (const f of this.facesAt[u]!) {
      if (this.has(f, v)) continue;
      const own = [this.tri[f * 3]!, this.tri[f * 3 + 1]!, this.tri[f * 3 + 2]!] as const;
      const before = this.normal(...own);
      const moved = own.map((w) => (w === u ? v : w)) as [number, number, number];
      const after = this.normal(...moved);
      const [l, m] = [Math.hypot(...before), Math.hypot(...after)];
      const dot = before[0] * after[0] + before[1] * after[1] + before[2] * after[2];
      if (l > 0 && dot < LEAST_TURN * l * m) return false;
      if (this.shape(moved, m) < Math.min(LEAST_SHAPE, this.shape(own, l))) return false;
    }
    return true;
  }

  /** 1 for equal sides, 0 for none. @param doubled area */
  private shape(v: readonly [number, number, number], doubled: number): number {
    const p = this.p;
    let sum = 0;
    for (let k = 0; k < 3; k++) {
      const [a, b] = [v[k]! * 3, v[(k + 1) % 3]! * 3];
      sum += (p[a]! - p[b]!) ** 2 + (p[a + 1]! - p[b + 1]!) ** 2 + (p[a + 2]! - p[b + 2]!) ** 2;
    }
    return sum > 0 ? (2 * Math.sqrt(3) * doubled) / sum : 0;
  }

  private has(f: number, v: number): boolean {
    return this.tri[f * 3] === v || this.tri[f * 3 + 1] === v || this.tri[f * 3 + 2] === v;
  }

  private collapse(u: number, v: number): void {
    for (const f of this.facesAt[u]!) {
      if (!this.has(f, v)) {
        for (let k = 0; k < 3; k++) if (this.tri[f * 3 + k] === u) this.tri[f * 3 + k] = v;
        this.facesAt[v]!.push(f);
        continue;
      }
      this.left--;
      for (let k = 0; k < 3; k++) {
        const w = this.tri[f * 3 + k]!;
        if (w !== u) this.facesAt[w] = this.facesAt[w]!.filter((g) => g !== f);
        this.tri[f * 3 + k] = -1;
      }
    }
    this.facesAt[u] = [];
    for (const w of this.linesAt[u]!) {
      this.linesAt[w]!.delete(u);
      if (w === v) continue;
      this.linesAt[w]!.add(v);
      this.linesAt[v]!.add(w);
    }
    this.linesAt[u]!.clear();
    for (let i = 0; i < 10; i++) this.quadrics[v * 10 + i]! += this.quadrics[u * 10 + i]!;
    this.stamp[u]!++;
    this.stamp[v]!++;
    for (const w of this.around(v)) {
      this.push(v, w);
      this.push(w, v);
    }
  }

  private result(): CoarseMesh {
    const local = new Int32Array(this.facesAt.length).fill(-1);
    const vertexOf: number[] = [];
    const indices: number[] = [];
    for (const v of this.tri) {
      if (v < 0) continue;
      if (local[v]! < 0) {
        local[v] = vertexOf.length;
        vertexOf.push(v);
      }
      indices.push(local[v]!);
    }
    const positions = new Float32Array(vertexOf.length * 3);
    vertexOf.forEach((v, i) => positions.set(this.p.subarray(v * 3, v * 3 + 3), i * 3));
    const lines = vertexOf.flatMap((v, i) =>
      [...this.linesAt[v]!].filter((w) => v < w && local[w]! >= 0).map((w) => [i, local[w]!] as const),
    );
    return {
      mesh: { positions, indices: Uint32Array.from(indices) },
      vertexOf: Uint32Array.from(vertexOf),
      lines,
    };
  }
}
