import { edgeAngles, edgeLengths, faceGeometry, type Mesh, type Topology } from '../../mesh';
import { edgeFans } from './edge-path';

/**
 * What it costs to lead a seam along each edge: its length, less in valleys and along creases, and less where the surface looks
 * down, which is seldom seen. Model y is up.
 */
export function seamCosts(mesh: Pick<Mesh, 'positions' | 'indices'>, topology: Topology): Float64Array {
  const { normals } = faceGeometry(mesh);
  const angles = edgeAngles(mesh, topology, normals);
  const up = new Float64Array(angles.length);
  topology.edges.ofCorner.forEach((e, c) => (up[e]! += normals[Math.floor(c / 3) * 3 + 1]! / 2));
  return edgeLengths(topology, mesh.positions).map((l, e) => {
    const turn = Math.min(1, Math.abs(angles[e]!) / (Math.PI / 2));
    const crease = angles[e]! < 0 ? 0.75 * turn : 0.5 * turn;
    return l * (1 - crease) * (1 + 0.35 * Math.max(-1, Math.min(1, up[e]!)));
  });
}

/** Polygon numbers: the file's own, or pairs of flat-lying neighbours that were one quad before they were cut in two. */
export function polygonsOf(mesh: Mesh, { across }: Topology): Uint32Array {
  if (mesh.polygons) return mesh.polygons;
  const { normals } = faceGeometry(mesh);
  const out = Uint32Array.from({ length: mesh.faceParts.length }, (_, f) => f);
  // Quads are written as two triangles one after the other.
  for (let f = 0; f + 1 < out.length; f++) {
    if (out[f] !== f) continue;
    const isNext = [0, 1, 2].some(
      (k) => Math.floor(across[f * 3 + k]! / 3) === f + 1 && across[f * 3 + k]! >= 0,
    );
    const cos = [0, 1, 2].reduce((sum, k) => sum + normals[f * 3 + k]! * normals[f * 3 + 3 + k]!, 0);
    if (isNext && cos > 0.94) {
      out[f + 1] = f;
      f++;
    }
  }
  return out;
}

/**
 * The loop that an edge belongs to: on quads it goes straight on over every vertex where four edges meet.
 *
 * @returns the edges, the given one among them; empty if it lies inside a polygon
 */
export function edgeLoop(mesh: Mesh, topology: Topology, edge: number): number[] {
  const { edges, across } = topology;
  const polygons = polygonsOf(mesh, topology);
  const sides: number[][] = Array.from({ length: edges.uses.length }, () => []);
  edges.ofCorner.forEach((e, c) => sides[e]!.push(polygons[Math.floor(c / 3)]!));
  const isReal = (e: number): boolean => sides[e]!.length !== 2 || sides[e]![0] !== sides[e]![1];
  if (!isReal(edge) || across.length === 0) return [];
  const fans = edgeFans(topology);
  const found = new Set([edge]);
  for (const end of [0, 1]) {
    let e = edge;
    let v = edges.ends[e * 2 + end]!;
    for (;;) {
      const around: number[] = [];
      for (let i = fans.start[v]!; i < fans.start[v + 1]!; i++)
        if (isReal(fans.edge[i]!)) around.push(fans.edge[i]!);
      if (around.length !== 4) break;
      const next = around.find((o) => o !== e && !sides[o]!.some((p) => sides[e]!.includes(p)));
      if (next === undefined || found.has(next)) break;
      found.add(next);
      v = edges.ends[next * 2] === v ? edges.ends[next * 2 + 1]! : edges.ends[next * 2]!;
      e = next;
    }
  }
  return [...found];
}

/** The same edges on the other side of the plane x = 0; those that have no twin within a thousandth of the model are left out. */
export function mirroredEdges(
  mesh: Pick<Mesh, 'positions'>,
  { edges }: Topology,
  chosen: readonly number[],
): number[] {
  const p = mesh.positions;
  let extent = 0;
  for (const x of p) extent = Math.max(extent, Math.abs(x));
  const cell = extent / 500 || 1;
  const key = (x: number, y: number, z: number): string =>
    `${Math.round(x / cell)} ${Math.round(y / cell)} ${Math.round(z / cell)}`;
  const byPlace = new Map<string, number[]>();
  for (const v of new Set(edges.ends)) {
    const k = key(p[v * 3]!, p[v * 3 + 1]!, p[v * 3 + 2]!);
    const list = byPlace.get(k);
    if (list) list.push(v);
    else byPlace.set(k, [v]);
  }
  const twin = (v: number): number => {
    const [x, y, z] = [-p[v * 3]!, p[v * 3 + 1]!, p[v * 3 + 2]!];
    let best = -1;
    let nearest = cell;
    for (let n = 0; n < 27; n++) {
      const list = byPlace.get(
        key(
          x + ((n % 3) - 1) * cell,
          y + ((Math.floor(n / 3) % 3) - 1) * cell,
          z + (Math.floor(n / 9) - 1) * cell,
        ),
      );
      for (const w of list ?? []) {
        const d = Math.hypot(p[w * 3]! - x, p[w * 3 + 1]! - y, p[w * 3 + 2]! - z);
        if (d < nearest) {
          nearest = d;
          best = w;
        }
      }
    }
    return best;
  };
  const edgeOf = new Map<string, number>();
  for (let e = 0; e < edges.uses.length; e++) edgeOf.set(`${edges.ends[e * 2]} ${edges.ends[e * 2 + 1]}`, e);
  return chosen.flatMap((e) => {
    const a = twin(edges.ends[e * 2]!);
    const b = twin(edges.ends[e * 2 + 1]!);
    const found = edgeOf.get(`${Math.min(a, b)} ${Math.max(a, b)}`);
    return found === undefined ? [] : [found];
  });
}
