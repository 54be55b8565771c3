import { CoreError } from '../../errors';
import { findIslands, topologyOf, type UvMesh } from '../../mesh';
import { distance } from '../segment/chart';
import { cornerUvs, withCornerUvs } from '../corner-uvs';
import { layoutSeams } from './layout-measures';
import { gridOfQuads, type Cell } from './quad-grid';
import { doubledArea, restShapes, shapeArea } from './rest-shape';
import { polygonsOf } from '../seams/seam-edges';

/**
 * Straightens quads: every island among the triangles whose quads form a grid becomes an exact rectangle, its rows and columns as
 * wide as their edges are long on the model. It keeps its size and its middle, and is turned no more than it must.
 *
 * @throws CoreError `unwrap-no-grid` if none of the islands is a grid of quads
 */
export function straightenFaces(mesh: UvMesh, faces: readonly number[]): UvMesh {
  const topology = topologyOf(mesh);
  const seams = layoutSeams(mesh, topology);
  const polygons = polygonsOf(mesh, topology);
  const { ofFace } = findIslands(mesh);
  const shapes = restShapes(mesh);
  const uvs = cornerUvs(mesh);
  const islands = new Map<number, number[]>();
  for (const f of faces) {
    const list = islands.get(ofFace[f]!);
    if (list) list.push(f);
    else islands.set(ofFace[f]!, [f]);
  }
  let done = 0;
  for (const list of islands.values()) {
    const cells = gridOfQuads({ mesh, topology, seams, polygons }, list);
    const straight = cells && cornersOf(cells, mesh, topology.welded, polygons);
    if (straight?.size !== list.length * 3) continue;
    done++;
    let solid = 0;
    let flat = 0;
    for (const f of list) {
      solid += shapeArea(shapes, f);
      flat += Math.abs(doubledArea(mesh.indices, mesh.uvs, f)) / 2;
    }
    layOver(straight, uvs, Math.sqrt((flat || 1) / (solid || 1)));
  }
  if (done === 0) {
    throw new CoreError(
      'unwrap-no-grid',
      'Nothing there is a strip or a grid of quads, so it can’t be made straight. Choose an island whose quads lie in rows.',
    );
  }
  return withCornerUvs(mesh, uvs);
}

/** Puts a rectangle where its corners were, in that of its four turns which is nearest. @param uvs uv a corner; changed */
function layOver(
  straight: ReadonlyMap<number, readonly [number, number]>,
  uvs: Float32Array,
  scale: number,
): void {
  const n = straight.size;
  let [x, y, u, v] = [0, 0, 0, 0];
  for (const [c, place] of straight) {
    x += place[0] / n;
    y += place[1] / n;
    u += uvs[c * 2]! / n;
    v += uvs[c * 2 + 1]! / n;
  }
  let [re, im] = [0, 0];
  for (const [c, place] of straight) {
    const [dx, dy] = [place[0] - x, place[1] - y];
    const [du, dv] = [uvs[c * 2]! - u, uvs[c * 2 + 1]! - v];
    re += dx * du + dy * dv;
    im += dx * dv - dy * du;
  }
  const quarters = Math.round(Math.atan2(im, re) / (Math.PI / 2));
  // Exact: a rectangle stays one.
  const cos = [1, 0, -1, 0][(quarters + 4) % 4]!;
  const sin = [0, 1, 0, -1][(quarters + 4) % 4]!;
  for (const [c, place] of straight) {
    const [dx, dy] = [(place[0] - x) * scale, (place[1] - y) * scale];
    uvs[c * 2] = u + dx * cos - dy * sin;
    uvs[c * 2 + 1] = v + dx * sin + dy * cos;
  }
}

type Corners = Map<number, readonly [number, number]>;

/** Where each corner of a grid's triangles lies on a rectangle, in units of the surface. */
function cornersOf(
  cells: readonly Cell[],
  mesh: UvMesh,
  welded: Uint32Array,
  polygons: Uint32Array,
): Corners {
  const { indices, positions } = mesh;
  const side = ({ corners }: Cell, k: number): number =>
    distance(positions, indices[corners[k]!]!, indices[corners[(k + 1) % 4]!]!);
  const us = lines(cells.map((cell) => [cell.i, (side(cell, 0) + side(cell, 2)) / 2]));
  const vs = lines(cells.map((cell) => [cell.j, (side(cell, 1) + side(cell, 3)) / 2]));
  const out: Corners = new Map();
  for (const { i, j, corners } of cells) {
    const [u0, u1, v0, v1] = [us(i), us(i + 1), vs(j), vs(j + 1)];
    const places = [
      [u0, v0],
      [u1, v0],
      [u1, v1],
      [u0, v1],
    ] as const;
    const polygon = polygons[Math.floor(corners[0]! / 3)]!;
    for (const f of new Set(corners.map((c) => Math.floor(c / 3)))) {
      if (polygons[f] !== polygon) continue;
      for (let c = f * 3; c < f * 3 + 3; c++) {
        const k = corners.findIndex((q) => welded[indices[q]!] === welded[indices[c]!]);
        if (k >= 0) out.set(c, places[k]!);
      }
    }
  }
  return out;
}

/** The lines between the rows (or columns) of a grid, each row as wide as its cells are in the mean. @returns where line k lies */
function lines(widths: readonly (readonly [row: number, width: number])[]): (k: number) => number {
  const rows = new Map<number, number[]>();
  for (const [row, width] of widths) rows.set(row, [...(rows.get(row) ?? []), width]);
  const low = Math.min(...rows.keys());
  const at = [0];
  for (let k = low; k <= Math.max(...rows.keys()); k++) {
    const list = rows.get(k) ?? [0];
    at.push(at.at(-1)! + list.reduce((a, b) => a + b, 0) / list.length);
  }
  return (k) => at[k - low]!;
}
