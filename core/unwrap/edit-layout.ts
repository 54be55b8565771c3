import { CoreError } from '../errors';
import { faceGeometry, topologyOf, type Mesh, type UvMesh } from '../mesh';
import { autoCharts } from './auto-charts';
import { cutIntoCharts } from './chart';
import { cornerUvs, withCornerUvs } from './corner-uvs';
import { doubledArea, restShapes, shapeArea } from './rest-shape';
import { partBorders } from './unwrap-model';

/** An affine change of the sheet: u' = a u + b v + e, v' = c u + d v + f. */
export interface SheetMove {
  readonly a: number;
  readonly b: number;
  readonly c: number;
  readonly d: number;
  readonly e: number;
  readonly f: number;
}

export const IDENTITY_MOVE: SheetMove = { a: 1, b: 0, c: 0, d: 1, e: 0, f: 0 };

/** Turned (radians, counter-clockwise) and scaled round a point, then moved. */
export function sheetMove(
  about: readonly [number, number],
  { turn = 0, scaleU = 1, scaleV = 1, moveU = 0, moveV = 0 },
): SheetMove {
  const a = Math.cos(turn) * scaleU;
  const b = -Math.sin(turn) * scaleV;
  const c = Math.sin(turn) * scaleU;
  const d = Math.cos(turn) * scaleV;
  const [u, v] = about;
  return { a, b, c, d, e: u + moveU - a * u - b * v, f: v + moveV - c * u - d * v };
}

/** Moves triangles on the sheet. @param moveOf the move of a triangle; null leaves it */
export function moveFaces(mesh: UvMesh, moveOf: (face: number) => SheetMove | null): UvMesh {
  const uvs = cornerUvs(mesh);
  for (let face = 0; face < mesh.faceParts.length; face++) {
    const move = moveOf(face);
    if (!move) continue;
    for (let c = face * 3; c < face * 3 + 3; c++) {
      const u = uvs[c * 2]!;
      const v = uvs[c * 2 + 1]!;
      uvs[c * 2] = move.a * u + move.b * v + move.e;
      uvs[c * 2 + 1] = move.c * u + move.d * v + move.f;
    }
  }
  return withCornerUvs(mesh, uvs);
}

export interface FlattenFaces {
  /** Edges that are seams, each by a corner that runs along it. */
  readonly seams: readonly number[];
  /** The triangles to lay out anew; all if empty. */
  readonly faces: readonly number[];
  readonly onProgress?: (done: number) => void;
}

/**
 * Lays some triangles out along the given seams and leaves all others. What can't be flattened along these seams alone is cut
 * once more. Each new island takes the place, the size and the direction of what lay there before.
 */
export function flattenFaces(mesh: UvMesh, { seams, faces, onProgress }: FlattenFaces): UvMesh {
  const topology = topologyOf(mesh);
  const cuts = partBorders(mesh, topology);
  for (const c of seams) {
    const edge = topology.edges.ofCorner[c];
    if (edge !== undefined) cuts[edge] = 1;
  }
  const chosen = faces.length
    ? Uint32Array.from(faces)
    : Uint32Array.from({ length: mesh.faceParts.length }, (_, f) => f);
  const charts = autoCharts(mesh, topology, {
    stretch: null,
    seams: cuts,
    faces: chosen,
    ...(onProgress ? { onProgress } : {}),
  });
  const uvs = cornerUvs(mesh);
  const density = meanDensity(mesh);
  for (const { chart, flat } of charts) {
    const fit = fitTo(mesh, chart.faces, chart.indices, flat.uv, density);
    chart.faces.forEach((f, i) => {
      for (let k = 0; k < 3; k++) {
        const v = chart.indices[i * 3 + k]! * 2;
        const x = flat.uv[v]!;
        const y = flat.uv[v + 1]!;
        uvs[(f * 3 + k) * 2] = fit.a * x + fit.b * y + fit.e;
        uvs[(f * 3 + k) * 2 + 1] = fit.c * x + fit.d * y + fit.f;
      }
    });
  }
  return withCornerUvs(mesh, uvs);
}

/** Sheets a unit of the surface, mean over all. */
function meanDensity(mesh: UvMesh): number {
  const shapes = restShapes(mesh);
  let solid = 0;
  let flat = 0;
  for (let f = 0; f < mesh.faceParts.length; f++) {
    solid += shapeArea(shapes, f);
    flat += Math.abs(doubledArea(mesh.indices, mesh.uvs, f)) / 2;
  }
  if (!(solid > 0)) {
    throw new CoreError('unwrap-folds', 'The model has no area, so there is nothing to lay out.');
  }
  return Math.sqrt((flat || 1) / solid);
}

/** The turn and move that bring a flattened chart nearest to where its triangles were (least squares over their corners). */
function fitTo(
  mesh: UvMesh,
  faces: Uint32Array,
  indices: Uint32Array,
  uv: Float64Array,
  density: number,
): SheetMove {
  const n = faces.length * 3;
  let cx = 0;
  let cy = 0;
  let tx = 0;
  let ty = 0;
  const old = (i: number): readonly [number, number] => {
    const v = mesh.indices[faces[Math.floor(i / 3)]! * 3 + (i % 3)]! * 2;
    return [mesh.uvs[v]!, mesh.uvs[v + 1]!];
  };
  for (let i = 0; i < n; i++) {
    const [u, v] = old(i);
    cx += uv[indices[i]! * 2]! / n;
    cy += uv[indices[i]! * 2 + 1]! / n;
    tx += u / n;
    ty += v / n;
  }
  let re = 0;
  let im = 0;
  for (let i = 0; i < n; i++) {
    const [u, v] = old(i);
    const x = uv[indices[i]! * 2]! - cx;
    const y = uv[indices[i]! * 2 + 1]! - cy;
    re += x * (u - tx) + y * (v - ty);
    im += x * (v - ty) - y * (u - tx);
  }
  const turn = Math.atan2(im, re);
  const a = Math.cos(turn) * density;
  const b = -Math.sin(turn) * density;
  return { a, b, c: -b, d: a, e: tx - a * cx - b * cy, f: ty + b * cx - a * cy };
}

/** From where triangles are projected onto the sheet. */
export type Projection =
  | { readonly kind: 'plane'; readonly right: readonly number[]; readonly up: readonly number[] }
  /** Each triangle from the side of a box that it looks toward most; seams fall where that changes. */
  | { readonly kind: 'box' }
  /** Unrolled round an axis through the middle, opened at the back. */
  | { readonly kind: 'cylinder' | 'sphere'; readonly axis: 0 | 1 | 2 };

/** Right and up for a view from +x, -x, +y, -y, +z, -z. */
const SIDES = [
  { right: [0, 0, -1], up: [0, 1, 0] },
  { right: [0, 0, 1], up: [0, 1, 0] },
  { right: [1, 0, 0], up: [0, 0, -1] },
  { right: [1, 0, 0], up: [0, 0, 1] },
  { right: [1, 0, 0], up: [0, 1, 0] },
  { right: [-1, 0, 0], up: [0, 1, 0] },
] as const;

/** Projects triangles. Each piece of the result has the mean density and lies, upright, in the middle of where it was. */
export function projectFaces(mesh: UvMesh, faces: readonly number[], projection: Projection): UvMesh {
  const density = meanDensity(mesh);
  const uvs = cornerUvs(mesh);
  const topology = topologyOf(mesh);
  const cuts = new Uint8Array(topology.edges.uses.length);
  const { normals } = faceGeometry(mesh);
  if (projection.kind === 'box') {
    topology.across.forEach((o, c) => {
      if (o >= 0 && sideOf(normals, Math.floor(o / 3)) !== sideOf(normals, Math.floor(c / 3))) {
        cuts[topology.edges.ofCorner[c]!] = 1;
      }
    });
  }
  for (const chart of cutIntoCharts(mesh, topology, cuts, faces)) {
    const own: Exclude<Projection, { kind: 'box' }> =
      projection.kind === 'box' ? { kind: 'plane', ...SIDES[sideOf(normals, chart.faces[0]!)]! } : projection;
    const flat = projectChart(mesh, chart.faces, projector(mesh, faces, own));
    const indices = chart.indices.map((_, i) => i);
    const fit = fitTo(mesh, chart.faces, indices, flat, density);
    const moveU = middle(flat, 0, fit, density);
    const moveV = middle(flat, 1, fit, density);
    chart.faces.forEach((f, i) => {
      for (let k = 0; k < 3; k++) {
        const at = (i * 3 + k) * 2;
        uvs[(f * 3 + k) * 2] = density * flat[at]! + moveU;
        uvs[(f * 3 + k) * 2 + 1] = density * flat[at + 1]! + moveV;
      }
    });
  }
  return withCornerUvs(mesh, uvs);
}

/** 0 +x, 1 -x, 2 +y, 3 -y, 4 +z, 5 -z: the side that a flat triangle looks toward most. */
function sideOf(normals: Float64Array, f: number): number {
  let axis = 0;
  for (let a = 1; a < 3; a++) if (Math.abs(normals[f * 3 + a]!) > Math.abs(normals[f * 3 + axis]!)) axis = a;
  return axis * 2 + (normals[f * 3 + axis]! < 0 ? 1 : 0);
}

/** uv a corner. */
function projectChart(mesh: UvMesh, faces: Uint32Array, place: ReturnType<typeof projector>): Float64Array {
  const flat = new Float64Array(faces.length * 6);
  faces.forEach((f, i) => {
    const points = [0, 1, 2].map((k) => {
      const v = mesh.indices[f * 3 + k]! * 3;
      return place([mesh.positions[v]!, mesh.positions[v + 1]!, mesh.positions[v + 2]!]);
    });
    // A triangle across the opening is brought to one side of it.
    const widest = Math.max(...points.map((p) => p[0]));
    points.forEach((p, k) => {
      const round = p[2] && widest - p[0] > p[2] / 2 ? p[2] : 0;
      flat.set([p[0] + round, p[1]], (i * 3 + k) * 2);
    });
  });
  return flat;
}

/** How far the middle of the projected points must be moved to lie where a fit would bring it. */
function middle(flat: Float64Array, axis: 0 | 1, fit: SheetMove, scale: number): number {
  let x = 0;
  let y = 0;
  const n = flat.length / 2;
  for (let i = 0; i < n; i++) {
    x += flat[i * 2]! / n;
    y += flat[i * 2 + 1]! / n;
  }
  const to = axis === 0 ? fit.a * x + fit.b * y + fit.e : fit.c * x + fit.d * y + fit.f;
  return to - scale * (axis === 0 ? x : y);
}

/** @returns u, v, and the way once round, or 0 */
function projector(
  mesh: Mesh,
  faces: readonly number[],
  projection: Exclude<Projection, { kind: 'box' }>,
): (p: readonly [number, number, number]) => [number, number, number] {
  if (projection.kind === 'plane') {
    const { right, up } = projection;
    const dot = (p: readonly number[], d: readonly number[]): number =>
      p[0]! * d[0]! + p[1]! * d[1]! + p[2]! * d[2]!;
    return (p) => [dot(p, right), dot(p, up), 0];
  }
  const { axis, kind } = projection;
  const centre = [0, 0, 0];
  for (const f of faces) {
    for (let k = 0; k < 3; k++) {
      for (let x = 0; x < 3; x++)
        centre[x]! += mesh.positions[mesh.indices[f * 3 + k]! * 3 + x]! / (faces.length * 3);
    }
  }
  const a = (axis + 1) % 3;
  const b = (axis + 2) % 3;
  const radius = (p: readonly number[]): number => Math.hypot(p[a]! - centre[a]!, p[b]! - centre[b]!);
  let sum = 0;
  for (const f of faces) {
    const v = mesh.indices[f * 3]! * 3;
    const p = [mesh.positions[v]!, mesh.positions[v + 1]!, mesh.positions[v + 2]!];
    sum += kind === 'sphere' ? Math.hypot(radius(p), p[axis]! - centre[axis]!) : radius(p);
  }
  const r = sum / Math.max(1, faces.length) || 1;
  return (p) => {
    const angle = Math.atan2(p[a]! - centre[a]!, p[b]! - centre[b]!);
    const along = p[axis]! - centre[axis]!;
    const v = kind === 'sphere' ? Math.atan2(along, radius(p)) * r : along;
    return [angle * r, v, 2 * Math.PI * r];
  };
}
