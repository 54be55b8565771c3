import {
  countOddEdges,
  edgeTable,
  subjectBounds,
  type Mesh,
  triangleCount,
  type UvMesh,
  vertexCount,
  weldExact,
} from '../core/mesh';
import { measureSurface, uvFigures } from '../core/surface';
import { measureLayout } from '../core/unwrap';
import { sizeOption, type CliCommand, SHEET_SIZE } from './options';
import { readModelFile } from './read-model-file';

export const inspectCommand: CliCommand = {
  name: 'inspect',
  takes: '<model>',
  does: 'Counts, parts, bounds, UV figures and edges of a model, as JSON.',
  options: [SHEET_SIZE],
  async run([model], values, { out: print }) {
    const size = sizeOption(values);
    const mesh = await readModelFile(model);
    print(`${JSON.stringify(inspect(mesh, size), null, values['json'] ? 0 : 2)}\n`);
  },
};

/** What a model holds; UV figures are counted on a sheet of `size` texels a side. */
export function inspect(mesh: Mesh, size: number) {
  const trianglesOf = new Array<number>(mesh.parts.length).fill(0);
  for (const part of mesh.faceParts) trianglesOf[part]!++;
  const edges = edgeTable(mesh.indices, weldExact({ data: mesh.positions, stride: 3 }));
  return {
    vertices: vertexCount(mesh),
    triangles: triangleCount(mesh),
    parts: mesh.parts.map((name, i) => ({ name, triangles: trianglesOf[i]! })),
    bounds: subjectBounds(mesh),
    uv: uvReport(mesh, size),
    edges: countOddEdges(edges),
  };
}

function uvReport(mesh: Mesh, size: number) {
  if (!mesh.uvs) {
    return { present: false, islands: 0, coveredTexels: 0, overlappedTexels: 0, outOfRange: 0, flipped: 0 };
  }
  const withUvs = mesh as UvMesh;
  const map = measureSurface(withUvs, size);
  const { stretchL2, stretchLinf, angle, area, seamLength } = measureLayout(withUvs, size);
  return {
    present: true,
    islands: map.islands,
    coveredTexels: map.coveredTexels,
    overlappedTexels: map.overlappedTexels,
    ...uvFigures(withUvs),
    fill: map.coveredTexels / (size * size),
    stretchL2,
    stretchLinf,
    angleDistortion: angle,
    areaDistortion: area,
    seamLength,
  };
}
