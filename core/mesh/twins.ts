import TinyQueue from 'tinyqueue';
import { add, dot, normalize, scale, sub, type Vec3 } from '../math';
import { boundsOf, diagonalOf } from './bounds';
import type { Mesh } from './mesh';
import type { Topology } from './topology';

/** Which vertex of one side stands for which of the other. */
export interface Twins {
  /** For every vertex (as welded) the one on the other side; -1 where there is none. */
  readonly ofVertex: Int32Array;
  /** From a vertex's mirror image to where it is met on the other side, xyz a vertex; where there is no twin, as its neighbours say. */
  readonly offsets: Float64Array;
  /** Vertices that have a twin. */
  readonly paired: number;
}

/** Vertices that lie so near to a mirror image, in parts of the edges there, may begin a pairing. */
const SEED = 0.35;

/** Along an edge the next pair may lie so far from where the last one leads to, in parts of that edge. */
const STRAY = 0.5;

/** Pairs that are found along edges come before those that merely lie near. */
const SEED_LATER = 0.05;

/** Rounds in which vertices without a twin take over what their neighbours have. */
const ROUNDS = 12;

/**
 * Pairs the two sides of a mesh over a plane by how its vertices hang together. Pairs grow along edges from where the sides agree best:
 * each vertex is looked for where its neighbour's pair leads to. So sides that differ a little, and whose triangles are cut otherwise, are one
 * another's mirror all the same.
 *
 * @param point, normal of the plane, model space
 */
export function twinVertices(
  { positions }: Pick<Mesh, 'positions'>,
  { welded, edges }: Pick<Topology, 'welded' | 'edges'>,
  point: Vec3,
  normal: Vec3,
): Twins {
  const count = positions.length / 3;
  const n = normalize(normal);
  const at = (v: number): Vec3 => [positions[v * 3]!, positions[v * 3 + 1]!, positions[v * 3 + 2]!];
  const mirrored = (p: Vec3): Vec3 => sub(p, scale(n, 2 * dot(sub(p, point), n)));
  const around = neighbours(count, edges.ends);
  const own = Array.from({ length: count }, (_, v) => v).filter(
    (v) => welded[v] === v && around[v]!.length > 0,
  );
  const edgeAt = (v: number): number =>
    around[v]!.reduce((sum, u) => sum + far(at(v), at(u)), 0) / around[v]!.length;

  const ofVertex = new Int32Array(count).fill(-1);
  const offsets = new Float64Array(count * 3);
  let paired = 0;
  // The surest first; of two as sure the one that came first.
  let order = 0;
  const queue = new TinyQueue<CandidatePair>([], (a, b) => a.error - b.error || a.order - b.order);

  const pair = (v: number, twin: number): void => {
    ofVertex[v] = twin;
    offsets.set(sub(at(twin), mirrored(at(v))), v * 3);
    paired++;
  };
  /** Looks for the twins of a vertex's neighbours beside its own. */
  const goOn = (v: number, twin: number): void => {
    const offset: Vec3 = [offsets[v * 3]!, offsets[v * 3 + 1]!, offsets[v * 3 + 2]!];
    for (const u of around[v]!) {
      if (ofVertex[u]! >= 0) continue;
      const expected = add(mirrored(at(u)), offset);
      const edge = far(at(v), at(u)) || 1;
      let best = -1;
      let least = STRAY * edge;
      for (const t of [twin, ...around[twin]!]) {
        const d = far(at(t), expected);
        if (ofVertex[t]! < 0 && d < least) {
          least = d;
          best = t;
        }
      }
      if (best >= 0) queue.push({ error: least / edge, order: order++, v: u, twin: best });
    }
  };

  const grid = new PointGrid(own.map(at), diagonalOf(boundsOf(positions)));
  for (const v of own) {
    const nearest = grid.nearest(mirrored(at(v)));
    if (nearest < 0) continue;
    const twin = own[nearest]!;
    const error = far(mirrored(at(v)), at(twin)) / (edgeAt(v) || 1);
    if (error < SEED) queue.push({ error: error === 0 ? 0 : error + SEED_LATER, order: order++, v, twin });
  }
  for (let next = queue.pop(); next; next = queue.pop()) {
    const { v, twin } = next;
    if (ofVertex[v]! >= 0 || ofVertex[twin]! >= 0) continue;
    pair(v, twin);
    if (twin !== v) pair(twin, v);
    goOn(v, twin);
    if (twin !== v) goOn(twin, v);
  }
  spread(ofVertex, offsets, around, own);
  // Vertices that were split by UVs and normals have what theirs has.
  for (let v = 0; v < count; v++) {
    const w = welded[v]!;
    if (w === v) continue;
    ofVertex[v] = ofVertex[w]!;
    offsets.copyWithin(v * 3, w * 3, w * 3 + 3);
  }
  return { ofVertex, offsets, paired };
}

interface CandidatePair {
  readonly error: number;
  readonly order: number;
  readonly v: number;
  readonly twin: number;
}

const far = (a: Vec3, b: Vec3): number => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);

function neighbours(count: number, ends: Uint32Array): number[][] {
  const out = Array.from({ length: count }, (): number[] => []);
  for (let e = 0; e < ends.length; e += 2) {
    if (ends[e] === ends[e + 1]) continue;
    out[ends[e]!]!.push(ends[e + 1]!);
    out[ends[e + 1]!]!.push(ends[e]!);
  }
  return out;
}

/** Vertices without a twin are offset as those beside them are. */
function spread(
  ofVertex: Int32Array,
  offsets: Float64Array,
  around: readonly (readonly number[])[],
  own: readonly number[],
): void {
  const known = Uint8Array.from(ofVertex, (t) => (t >= 0 ? 1 : 0));
  for (let round = 0; round < ROUNDS; round++) {
    const found: [number, Vec3][] = [];
    for (const v of own) {
      if (known[v]) continue;
      const from = around[v]!.filter((u) => known[u]);
      if (from.length === 0) continue;
      const mean = [0, 1, 2].map((k) => from.reduce((sum, u) => sum + offsets[u * 3 + k]!, 0) / from.length);
      found.push([v, mean as unknown as Vec3]);
    }
    if (found.length === 0) return;
    for (const [v, mean] of found) {
      offsets.set(mean, v * 3);
      known[v] = 1;
    }
  }
}

/** Points in a grid of cells, to find the nearest. */
class PointGrid {
  private readonly points: readonly Vec3[];
  private readonly cells = new Map<string, number[]>();
  private readonly side: number;

  /** @param size of all of it */
  constructor(points: readonly Vec3[], size: number) {
    this.points = points;
    this.side = size / Math.max(1, Math.sqrt(points.length)) || 1;
    points.forEach((p, i) => {
      const key = this.cell(p).join();
      const list = this.cells.get(key);
      if (list) list.push(i);
      else this.cells.set(key, [i]);
    });
  }

  private cell(p: Vec3): [number, number, number] {
    return [0, 1, 2].map((k) => Math.floor(p[k]! / this.side)) as [number, number, number];
  }

  /** The nearest within two cells; -1 if there is none. */
  nearest(p: Vec3): number {
    const [cx, cy, cz] = this.cell(p);
    let best = -1;
    let least = Infinity;
    for (let ring = 0; ring <= 2 && !(least <= ((ring - 1) * this.side) ** 2); ring++) {
      for (let x = -ring; x <= ring; x++) {
        for (let y = -ring; y <= ring; y++) {
          for (let z = -ring; z <= ring; z++) {
            if (Math.max(Math.abs(x), Math.abs(y), Math.abs(z)) !== ring) continue;
            for (const i of this.cells.get(`${cx + x},${cy + y},${cz + z}`) ?? []) {
              const q = this.points[i]!;
              const d = (q[0] - p[0]) ** 2 + (q[1] - p[1]) ** 2 + (q[2] - p[2]) ** 2;
              if (d < least) {
                least = d;
                best = i;
              }
            }
          }
        }
      }
    }
    return best;
  }
}
