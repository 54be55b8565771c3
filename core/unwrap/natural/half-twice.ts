import { edgeLengths, topologyOf, type Mesh, type SymmetryPlane, type Topology } from '../../mesh';
import { mirrored, placeOf, type OtherSide } from './other-side';

/** A mesh that is its own mirror image, over a surface that is alike on both sides though its triangles aren't. */
export interface HalfTwice {
  readonly mesh: Pick<Mesh, 'positions' | 'indices'>;
  readonly topology: Topology;
  /** The surface's welded vertex at, or next to, each vertex. */
  readonly vertexOf: Uint32Array;
  /** The mirror image of each vertex; itself on the plane. */
  readonly ofVertex: Int32Array;
}

/** Vertices so near to the plane, in parts of the edges, are taken to lie on it; the next is tried where halves don't meet well so. */
const ON_PLANE = [0.3, 0.2, 0.4, 0.1, 0.03];

/**
 * The half of a surface that lies before a plane, and its mirror image. Triangles that the plane goes through are cut there.
 *
 * @returns null if the halves don't meet in lines along which the surface goes on
 */
export function halfTwice(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  topology: Topology,
  plane: SymmetryPlane,
  other: OtherSide,
): HalfTwice | null {
  for (const reach of ON_PLANE) {
    const twice = joinedHalves(mesh, topology, plane, other, reach);
    if (twice) return twice;
  }
  return null;
}

function joinedHalves(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  topology: Topology,
  plane: SymmetryPlane,
  other: OtherSide,
  reach: number,
): HalfTwice | null {
  const p = mesh.positions;
  const { welded, edges } = topology;
  const lengths = edgeLengths(topology, p);
  const snap = (reach * lengths.reduce((sum, l) => sum + l, 0)) / lengths.length;
  const heights = new Map<number, number>();
  const heightOf = (v: number): number => {
    let h = heights.get(v);
    if (h === undefined) {
      h = placeOf(p, v).reduce((sum, x, k) => sum + (x - plane.point[k]!) * plane.normal[k]!, 0);
      heights.set(v, (h = Math.abs(h) < snap ? 0 : h));
    }
    return h;
  };
  const positions: number[] = [];
  const vertexOf: number[] = [];
  const named = new Map<string, number>();
  const vertex = (name: string, of: () => { at: readonly number[]; stands: number }): number => {
    let n = named.get(name);
    if (n === undefined) {
      const { at, stands } = of();
      named.set(name, (n = vertexOf.length));
      positions.push(...at);
      vertexOf.push(stands);
    }
    return n;
  };
  const onPlane = (at: readonly number[]): readonly number[] => {
    const h = at.reduce((sum, x, k) => sum + (x - plane.point[k]!) * plane.normal[k]!, 0);
    return at.map((x, k) => x - h * plane.normal[k]!);
  };
  const own = (v: number, isImage: boolean): number => {
    if (heightOf(v) === 0) return vertex(`${v}`, () => ({ at: onPlane(placeOf(p, v)), stands: v }));
    if (!isImage) return vertex(`${v}`, () => ({ at: placeOf(p, v), stands: v }));
    return vertex(`-${v}`, () => ({ at: mirrored(placeOf(p, v), plane), stands: other.vertexFor(v) }));
  };
  /** Where the plane cuts an edge. */
  const cut = (a: number, b: number): number => {
    const [low, high] = a < b ? [a, b] : [b, a];
    return vertex(`${low} ${high}`, () => {
      const t = heightOf(low) / (heightOf(low) - heightOf(high));
      const at = onPlane(placeOf(p, low).map((x, k) => x + t * (p[high * 3 + k]! - x)));
      return { at, stands: t < 0.5 ? low : high };
    });
  };
  const indices: number[] = [];
  const images: number[] = [];
  const add = (corners: readonly (readonly [number] | readonly [number, number])[]): void => {
    const of = (isImage: boolean): number[] =>
      corners.map(([a, b]) => (b === undefined ? own(a, isImage) : cut(a, b)));
    indices.push(...of(false));
    images.push(...of(true).reverse());
  };
  for (let c = 0; c < mesh.indices.length; c += 3) {
    const v = [0, 1, 2].map((k) => welded[mesh.indices[c + k]!]!);
    if (new Set(v).size < 3 || !v.some((x) => heightOf(x) > 0)) continue;
    const loop = v.flatMap((a, k): (readonly [number] | readonly [number, number])[] => {
      const b = v[(k + 1) % 3]!;
      const [h, g] = [heightOf(a), heightOf(b)];
      return [...(h >= 0 ? [[a] as const] : []), ...(h * g < 0 ? [[a, b] as const] : [])];
    });
    for (let k = 2; k < loop.length; k++) add([loop[0]!, loop[k - 1]!, loop[k]!]);
  }
  if (indices.length === 0) return null;
  const out = {
    positions: Float32Array.from(positions),
    indices: Uint32Array.from([...indices, ...images]),
  };
  const its = topologyOf(out);
  const wasClosed = edges.uses.every((n) => n === 2);
  if (!its.edges.uses.every((n) => n === 2 || (n === 1 && !wasClosed))) return null;
  const ofVertex = new Int32Array(vertexOf.length);
  for (const [name, n] of named)
    ofVertex[n] = named.get(name.startsWith('-') ? name.slice(1) : `-${name}`) ?? n;
  return { mesh: out, topology: its, vertexOf: Uint32Array.from(vertexOf), ofVertex };
}
