import { topologyOf, type Mesh } from '../mesh';

/**
 * Mean curvature at every vertex: half the length of the mean-curvature normal K(x) = 1/(2A) Σ (cot α + cot β)(x - x'), with the mixed
 * Voronoi area A (Meyer, Desbrun, Schröder and Barr 2003, equations 8 and figure 4). A sphere of radius R has 1/R, a cylinder 1/(2R).
 *
 * @returns one a vertex, per model unit: positive where the surface bulges out, negative where it is hollow; vertices of one place
 *   share a value, and those on an open border take the mean of their neighbours that aren't
 */
export function meanCurvature(mesh: Pick<Mesh, 'positions' | 'indices' | 'normals'>): Float64Array {
  const { positions: p, indices, normals } = mesh;
  const { welded, edges } = topologyOf(mesh);
  const vertices = p.length / 3;
  const k = new Float64Array(vertices * 3);
  const area = new Float64Array(vertices);
  const at = [0, 0, 0] as [number, number, number];
  for (let f = 0; f < indices.length; f += 3) {
    for (let c = 0; c < 3; c++) at[c] = welded[indices[f + c]!]!;
    addTriangle(p, at, k, area);
  }
  // A place's own direction: the sum of the normals of all vertices there.
  const out = new Float64Array(vertices);
  const side = new Float64Array(vertices * 3);
  for (let v = 0; v < vertices; v++) {
    for (let i = 0; i < 3; i++) side[welded[v]! * 3 + i]! += normals[v * 3 + i]!;
  }
  const isOpen = new Uint8Array(vertices);
  edges.uses.forEach((uses, e) => {
    if (uses === 1) isOpen[edges.ends[e * 2]!] = isOpen[edges.ends[e * 2 + 1]!] = 1;
  });
  for (let v = 0; v < vertices; v++) {
    if (welded[v] !== v || !(area[v]! > 0) || isOpen[v]) continue;
    const [x, y, z] = [k[v * 3]!, k[v * 3 + 1]!, k[v * 3 + 2]!];
    const outward = x * side[v * 3]! + y * side[v * 3 + 1]! + z * side[v * 3 + 2]!;
    // K = Σ / (2A) and H = |K| / 2.
    out[v] = (Math.hypot(x, y, z) / (4 * area[v]!)) * Math.sign(outward);
  }
  fillBorders(edges.ends, isOpen, out);
  for (let v = 0; v < vertices; v++) out[v] = out[welded[v]!]!;
  return out;
}

/** What a triangle adds to its corners' normals (times 2A) and mixed areas. */
function addTriangle(
  p: Float32Array,
  at: readonly [number, number, number],
  k: Float64Array,
  area: Float64Array,
): void {
  const side = (from: number, to: number): [number, number, number] => [
    p[to * 3]! - p[from * 3]!,
    p[to * 3 + 1]! - p[from * 3 + 1]!,
    p[to * 3 + 2]! - p[from * 3 + 2]!,
  ];
  const dot = (a: readonly number[], b: readonly number[]): number =>
    a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]!;
  const [a, b, c] = at;
  const [ab, bc, ca] = [side(a, b), side(b, c), side(c, a)];
  const doubled = Math.hypot(
    ab[1] * ca[2] - ab[2] * ca[1],
    ab[2] * ca[0] - ab[0] * ca[2],
    ab[0] * ca[1] - ab[1] * ca[0],
  );
  if (!(doubled > 0)) return;
  const cot = [-dot(ab, ca) / doubled, -dot(bc, ab) / doubled, -dot(ca, bc) / doubled] as const;
  const edges = [bc, ca, ab] as const;
  for (let i = 0; i < 3; i++) {
    // The edge across from corner i, between the two others.
    const [from, to] = [at[(i + 1) % 3]!, at[(i + 2) % 3]!];
    const e = edges[i]!;
    for (let axis = 0; axis < 3; axis++) {
      k[from * 3 + axis]! -= cot[i]! * e[axis]!;
      k[to * 3 + axis]! += cot[i]! * e[axis]!;
    }
  }
  const obtuse = cot.findIndex((x) => x < 0);
  for (let i = 0; i < 3; i++) {
    const [j, l] = [(i + 1) % 3, (i + 2) % 3];
    // Half the triangle at its obtuse corner and a quarter at the others; or the Voronoi part.
    area[at[i]!]! +=
      obtuse < 0
        ? (dot(edges[j]!, edges[j]!) * cot[j]! + dot(edges[l]!, edges[l]!) * cot[l]!) / 8
        : doubled / (obtuse === i ? 4 : 8);
  }
}

function fillBorders(ends: ArrayLike<number>, isOpen: Uint8Array, values: Float64Array): void {
  const sum = new Float64Array(values.length);
  const count = new Uint32Array(values.length);
  for (let e = 0; e < ends.length; e += 2) {
    for (const [v, other] of [
      [ends[e]!, ends[e + 1]!],
      [ends[e + 1]!, ends[e]!],
    ] as const) {
      if (!isOpen[v] || isOpen[other]) continue;
      sum[v]! += values[other]!;
      count[v]!++;
    }
  }
  for (let v = 0; v < values.length; v++) if (count[v]) values[v] = sum[v]! / count[v]!;
}
