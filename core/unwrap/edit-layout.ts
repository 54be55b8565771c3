import { CoreError } from '../errors';
import { topologyOf, type UvMesh } from '../mesh';
import { autoCharts } from './segment/auto-charts';
import { cutIntoCharts } from './segment/chart';
import { cornerUvs, withCornerUvs } from './corner-uvs';
import type { FlatChart } from './flatten/flatten';
import { tryFlat } from './natural/flat-charts';
import { doubledArea, restShapes, shapeArea } from './flatten/rest-shape';
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
  const pieces = cutIntoCharts(mesh, topology, cuts, chosen);
  let done = 0;
  const charts = pieces.flatMap((piece): FlatChart[] => {
    const flat = tryFlat(piece, Infinity);
    done += piece.faces.length;
    onProgress?.(done / chosen.length);
    return flat ? [flat] : autoCharts(mesh, topology, { stretch: null, seams: cuts, faces: piece.faces });
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
export function meanDensity(mesh: UvMesh): number {
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
