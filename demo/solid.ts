import { MeshoptSimplifier } from 'meshoptimizer';
import { cross, dot, length, normalize, sub, type Vec3 } from '../core/math';
import { checkMesh, edgeTable, groupByEdge, requireUvs, smoothNormals, type UvMesh } from '../core/mesh';
import { flattenChart, packIslands } from '../core/unwrap';
import type { Sdf } from './sdf';
import { gradient, ontoSurface, surfaceNets, type RawMesh } from './surface-nets';

/** A seam: the part is cut where this field is zero, a plane or any other surface. */
export type Cut = Sdf;

export const frontBack =
  (at: number): Cut =>
  (_x, _y, z) =>
    z - at;
export const leftRight =
  (at: number): Cut =>
  (x) =>
    x - at;
export const upDown =
  (at: number): Cut =>
  (_x, y) =>
    y - at;

export function planeThrough(a: Vec3, b: Vec3, c: Vec3): Cut {
  const n = normalize(cross(sub(b, a), sub(c, a)));
  return (x, y, z) => dot(n, [x - a[0], y - a[1], z - a[2]]);
}

/** Geometry of one shell of a part, cut along its seams but not yet flattened. */
interface Shell {
  readonly part: string;
  readonly positions: Float32Array;
  readonly normals: Float32Array;
  readonly indices: Uint32Array;
  /** Texel density relative to the rest. */
  readonly density: number;
}

/** Collects parts and turns them into one mesh with UVs. */
export class ModelMaker {
  private readonly shells: Shell[] = [];

  /**
   * A smooth solid: meshed, reduced to about `triangles`, cut.
   *
   * @param box where to look for it
   * @param options.keep only what lies inside this shape stays
   */
  solid(
    part: string,
    sdf: Sdf,
    box: readonly [Vec3, Vec3],
    options: { triangles: number; cell: number; cuts: readonly Cut[]; density?: number; keep?: Sdf },
  ): this {
    const fine = surfaceNets(sdf, box[0], box[1], options.cell);
    const reduced = reduce(fine, options.triangles);
    for (let v = 0; v < reduced.positions.length; v += 3) {
      const p = reduced.positions.slice(v, v + 3) as [number, number, number];
      reduced.positions.splice(v, 3, ...ontoSurface(sdf, p, options.cell));
    }
    const cut = keepInside(options.cuts.reduce(cutAlong, reduced), options.keep);
    const normals = new Float32Array(cut.positions.length);
    for (let v = 0; v < normals.length; v += 3) {
      const p = cut.positions.slice(v, v + 3) as [number, number, number];
      normals.set(gradient(sdf, p, options.cell * 0.3), v);
    }
    this.addCut(part, cut, normals, options.cuts, options.density ?? 1);
    return this;
  }

  /** A shape given by its triangles; normals are smooth within what the cuts leave together. */
  raw(part: string, mesh: RawMesh, cuts: readonly Cut[], density = 1): this {
    const cut = cuts.reduce(cutAlong, mesh);
    const positions = Float32Array.from(cut.positions);
    const own = Uint32Array.from({ length: positions.length / 3 }, (_, i) => i);
    this.addCut(part, cut, smoothNormals(positions, Uint32Array.from(cut.indices), own), cuts, density);
    return this;
  }

  /** Faces that meet at vertices of their own stay apart: each group that shares vertices is one island. */
  private addCut(
    part: string,
    mesh: RawMesh,
    normals: Float32Array,
    cuts: readonly Cut[],
    density: number,
  ): void {
    const sides = new Map<number, number[]>();
    for (let f = 0; f < mesh.indices.length; f += 3) {
      const centre = middleOf(mesh, f);
      const side = cuts.reduce((s, c, i) => s + (c(...centre) > 0 ? 1 << i : 0), 0);
      const list = sides.get(side);
      const corners = mesh.indices.slice(f, f + 3);
      if (list) list.push(...corners);
      else sides.set(side, corners);
    }
    for (const corners of sides.values()) {
      for (const piece of connected(corners)) {
        const renumbered = new Map<number, number>();
        const indices = Uint32Array.from(piece, (v) => {
          let n = renumbered.get(v);
          if (n === undefined) renumbered.set(v, (n = renumbered.size));
          return n;
        });
        const positions = new Float32Array(renumbered.size * 3);
        const own = new Float32Array(renumbered.size * 3);
        for (const [v, n] of renumbered) {
          positions.set(mesh.positions.slice(v * 3, v * 3 + 3), n * 3);
          own.set(normals.subarray(v * 3, v * 3 + 3), n * 3);
        }
        this.shells.push({ part, positions, normals: own, indices, density });
      }
    }
  }

  /** Flattens and packs everything. @param margin in parts of the sheet's side */
  finish(margin: number): UvMesh {
    const flat = this.shells.map((s) => {
      const uv = flattenComponent(s);
      return { points: uv.map((x) => x * Math.sqrt(s.density)), indices: Uint32Array.from(s.indices) };
    });
    const { uvs: packed } = packIslands(flat, { size: 1024, margin: margin * 2 * 1024, turn: true });
    const parts = [...new Set(this.shells.map((s) => s.part))];
    const positions: number[] = [];
    const normals: number[] = [];
    const uvs: number[] = [];
    const indices: number[] = [];
    const faceParts: number[] = [];
    // Parts one after the other, so that a file lists each once.
    for (const [p, part] of parts.entries()) {
      this.shells.forEach((shell, i) => {
        if (shell.part !== part) return;
        const first = positions.length / 3;
        positions.push(...shell.positions);
        normals.push(...shell.normals);
        uvs.push(...packed[i]!);
        for (const v of shell.indices) indices.push(first + v);
        for (let f = 0; f < shell.indices.length / 3; f++) faceParts.push(p);
      });
    }
    return requireUvs(
      checkMesh({
        positions: Float32Array.from(positions),
        normals: Float32Array.from(normals),
        uvs: Float32Array.from(uvs),
        indices: Uint32Array.from(indices),
        faceParts: Uint16Array.from(faceParts),
        parts,
      }),
    );
  }
}

/** @throws Error that names the part, when a seam is missing */
function flattenComponent(shell: Shell): Float64Array {
  try {
    return flattenChart(shell).uv;
  } catch (cause) {
    throw new Error(`“${shell.part}” (${shell.indices.length / 3} triangles): ${String(cause)}`, { cause });
  }
}

function reduce(mesh: RawMesh, triangles: number): RawMesh {
  const positions = Float32Array.from(mesh.positions);
  const [indices] = MeshoptSimplifier.simplify(
    Uint32Array.from(mesh.indices),
    positions,
    3,
    Math.min(mesh.indices.length, triangles * 3),
    0.2,
    ['Regularize'],
  );
  const renumbered = new Map<number, number>();
  const out: RawMesh = { positions: [], indices: [] };
  for (const v of indices) {
    let n = renumbered.get(v);
    if (n === undefined) {
      renumbered.set(v, (n = renumbered.size));
      out.positions.push(...positions.subarray(v * 3, v * 3 + 3));
    }
    out.indices.push(n);
  }
  return out;
}

/** Cuts every triangle that the seam goes through; vertices near it are moved onto it, so that no slivers arise. */
function cutAlong(mesh: RawMesh, cut: Cut): RawMesh {
  const positions = [...mesh.positions];
  const at = (v: number): Vec3 => positions.slice(v * 3, v * 3 + 3) as unknown as Vec3;
  const edge = meanEdge(mesh);
  for (let v = 0; v < positions.length / 3; v++) {
    const d = cut(...at(v));
    if (Math.abs(d) > edge * 0.28) continue;
    const n = gradient(cut, at(v), edge * 0.02);
    for (let a = 0; a < 3; a++) positions[v * 3 + a] = positions[v * 3 + a]! - n[a]! * d;
  }
  const indices: number[] = [];
  const split = new Map<string, number>();
  const side = (v: number): number => {
    const d = cut(...at(v));
    return Math.abs(d) < edge * 1e-3 ? 0 : Math.sign(d);
  };
  const middle = (a: number, b: number): number => {
    const key = a < b ? `${a} ${b}` : `${b} ${a}`;
    let v = split.get(key);
    if (v === undefined) {
      const da = cut(...at(a));
      const t = da / (da - cut(...at(b)));
      const pa = at(a);
      const pb = at(b);
      v = positions.length / 3;
      for (let k = 0; k < 3; k++) positions.push(pa[k]! + (pb[k]! - pa[k]!) * t);
      split.set(key, v);
    }
    return v;
  };
  for (let f = 0; f < mesh.indices.length; f += 3) {
    const ids = mesh.indices.slice(f, f + 3) as [number, number, number];
    const s = ids.map(side) as [number, number, number];
    if (Math.max(...s) <= 0 || Math.min(...s) >= 0) {
      indices.push(...ids);
      continue;
    }
    // Turn the triangle so that its lone corner comes first.
    const zero = s.indexOf(0);
    if (zero >= 0) {
      const [o, a, b] = [0, 1, 2].map((k) => ids[(zero + k) % 3]!) as [number, number, number];
      const m = middle(a, b);
      indices.push(o, a, m, o, m, b);
      continue;
    }
    const lone = s.findIndex((x, i) => x !== s[(i + 1) % 3] && x !== s[(i + 2) % 3]);
    const [o, a, b] = [0, 1, 2].map((k) => ids[(lone + k) % 3]!) as [number, number, number];
    const ma = middle(o, a);
    const mb = middle(o, b);
    indices.push(o, ma, mb, ma, a, b, ma, b, mb);
  }
  return { positions, indices: withoutSlivers(positions, indices, edge * edge * 1e-4) };
}

/** Moving vertices onto a seam can leave a triangle without area between two seams. */
function withoutSlivers(positions: readonly number[], indices: readonly number[], least: number): number[] {
  const out: number[] = [];
  for (let f = 0; f < indices.length; f += 3) {
    const [a, b, c] = [0, 1, 2].map((k) =>
      positions.slice(indices[f + k]! * 3, indices[f + k]! * 3 + 3),
    ) as unknown as [Vec3, Vec3, Vec3];
    if (length(cross(sub(b, a), sub(c, a))) > least) out.push(...indices.slice(f, f + 3));
  }
  return out;
}

/** The triangles whose middle lies inside a shape. */
function keepInside(mesh: RawMesh, inside: Sdf | undefined): RawMesh {
  if (!inside) return mesh;
  const indices: number[] = [];
  for (let f = 0; f < mesh.indices.length; f += 3) {
    if (inside(...middleOf(mesh, f)) < 0) indices.push(...mesh.indices.slice(f, f + 3));
  }
  return { positions: mesh.positions, indices };
}

/** Middle of the triangle whose corners begin at f. */
function middleOf({ positions, indices }: RawMesh, f: number): [number, number, number] {
  const mean = (axis: number): number =>
    [0, 1, 2].reduce((sum, k) => sum + positions[indices[f + k]! * 3 + axis]!, 0) / 3;
  return [mean(0), mean(1), mean(2)];
}

function meanEdge({ positions, indices }: RawMesh): number {
  let sum = 0;
  for (let c = 0; c < indices.length; c++) {
    const a = indices[c]! * 3;
    const b = indices[c % 3 === 2 ? c - 2 : c + 1]! * 3;
    sum += Math.hypot(
      positions[a]! - positions[b]!,
      positions[a + 1]! - positions[b + 1]!,
      positions[a + 2]! - positions[b + 2]!,
    );
  }
  return sum / indices.length;
}

/** The sets of triangles that hang together by edges. */
function connected(corners: readonly number[]): number[][] {
  const indices = Uint32Array.from(corners);
  let count = 0;
  for (const v of indices) count = Math.max(count, v + 1);
  const same = Uint32Array.from({ length: count }, (_, i) => i);
  const { count: pieces, ofFace } = groupByEdge(edgeTable(indices, same), indices.length / 3);
  const out: number[][] = Array.from({ length: pieces }, () => []);
  ofFace.forEach((piece, f) => out[piece]!.push(...corners.slice(f * 3, f * 3 + 3)));
  return out;
}
