import {
  cornerOfEdge,
  edgeLengths,
  findIslands,
  sheetOfFace,
  topologyOf,
  type Topology,
  type UvMesh,
} from '../../mesh';
import { measureSurface } from '../../surface';
import { measureShapes, type Distortion } from './measures';
import { doubledArea, restShapes, shapeArea } from './rest-shape';
import { edgeSight, sightOf } from '../natural/sight';

/** One island of a layout. */
export interface IslandMeasures {
  /** Its triangles. */
  readonly faces: Uint32Array;
  readonly part: number;
  /** On the model, square units. */
  readonly area: number;
  /** On the sheet, 1 is all of it. */
  readonly sheetArea: number;
  /** Texels a unit, by area. */
  readonly density: number;
  readonly stretchL2: number;
  readonly angle: number;
  readonly flipped: number;
}

export interface LayoutMeasures extends Distortion {
  readonly islands: number;
  readonly overlappedTexels: number;
  /** Part of the sheet's texels that triangles cover. */
  readonly fill: number;
  /** Length of the edges inside the surface along which the layout is cut, model units. */
  readonly seamLength: number;
  /** How much seams are seen beside all edges, by length: below 1 they lie where fewer look. 0 where there is none. */
  readonly seamSight: number;
}

/** @param size texels a side at which covered and overlapped texels are counted */
export function measureLayout(
  mesh: UvMesh,
  size: number,
  topology: Topology = topologyOf(mesh),
): LayoutMeasures {
  const shapes = restShapes(mesh);
  const distortion = measureShapes(mesh.indices, shapes, mesh.uvs);
  const seams = layoutSeams(mesh, topology);
  const lengths = edgeLengths(topology, mesh.positions);
  let seamLength = 0;
  const sight = edgeSight(topology, sightOf(mesh, topology));
  let [seen, whole, all] = [0, 0, 0];
  seams.forEach((isSeam, e) => {
    if (isSeam) {
      seamLength += lengths[e]!;
      seen += lengths[e]! * sight[e]!;
    }
    whole += lengths[e]!;
    all += lengths[e]! * sight[e]!;
  });
  const surface = measureSurface(mesh, size);
  return {
    ...distortion,
    islands: surface.islands,
    overlappedTexels: surface.overlappedTexels,
    fill: surface.coveredTexels / (size * size),
    seamLength,
    seamSight: seamLength > 0 && all > 0 ? seen / seamLength / (all / whole) : 0,
  };
}

/** 1 for each edge with two triangles whose sides lie apart on the sheet, or on two sheets. */
export function layoutSeams(mesh: UvMesh, { across, edges }: Topology): Uint8Array {
  const out = new Uint8Array(edges.uses.length);
  const { indices, uvs } = mesh;
  const differ = (a: number, b: number): boolean => {
    const v = indices[a]! * 2;
    const w = indices[b]! * 2;
    return uvs[v] !== uvs[w] || uvs[v + 1] !== uvs[w + 1];
  };
  for (let c = 0; c < indices.length; c++) {
    const o = across[c]!;
    if (o < c) continue;
    const next = c % 3 === 2 ? c - 2 : c + 1;
    const back = o % 3 === 2 ? o - 2 : o + 1;
    const isTorn = sheetOfFace(mesh, Math.floor(c / 3)) !== sheetOfFace(mesh, Math.floor(o / 3));
    if (isTorn || differ(c, back) || differ(next, o)) out[edges.ofCorner[c]!] = 1;
  }
  return out;
}

/** The same as corners: each seam by the lowest one that runs along it. */
export function seamCorners(mesh: UvMesh): number[] {
  const topology = topologyOf(mesh);
  const isSeam = layoutSeams(mesh, topology);
  const corner = cornerOfEdge(topology);
  return [...isSeam.keys()]
    .filter((e) => isSeam[e])
    .map((e) => corner[e]!)
    .sort((a, b) => a - b);
}

/** Every island with its own figures, in the order of their first triangles. @param size texels a side, for the density */
export function measureIslands(mesh: UvMesh, size: number): IslandMeasures[] {
  const { ofFace, count } = findIslands(mesh);
  const lists: number[][] = Array.from({ length: count }, () => []);
  ofFace.forEach((island, f) => lists[island]!.push(f));
  const shapes = restShapes(mesh);
  return lists.map((list) => {
    const indices = new Uint32Array(list.length * 3);
    const own = new Float64Array(list.length * 6);
    let area = 0;
    let sheetArea = 0;
    list.forEach((f, i) => {
      indices.set(mesh.indices.subarray(f * 3, f * 3 + 3), i * 3);
      own.set(shapes.subarray(f * 6, f * 6 + 6), i * 6);
      area += shapeArea(shapes, f);
      sheetArea += Math.abs(doubledArea(mesh.indices, mesh.uvs, f)) / 2;
    });
    const { stretchL2, angle, flipped } = measureShapes(indices, own, mesh.uvs);
    return {
      faces: Uint32Array.from(list),
      part: mesh.faceParts[list[0]!]!,
      area,
      sheetArea,
      density: area > 0 ? Math.sqrt(sheetArea / area) * size : 0,
      stretchL2,
      angle,
      flipped,
    };
  });
}
