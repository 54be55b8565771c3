import {
  countOddEdges,
  edgeTable,
  requireUvs,
  sheetCount,
  sheetOfPart,
  sheetsOfPictures,
  subjectBounds,
  type Mesh,
  triangleCount,
  type UvMesh,
  vertexCount,
  topologyOf,
  weldExact,
} from '../core/mesh';
import { measureSurface, twinPairs, uvFigures } from '../core/surface';
import { measureLayout } from '../core/unwrap';
import { sizeOption, type CliCommand, SHEET_SIZE } from './options';
import { importModelFile } from './read-model-file';
import { NO_MOTION, type ImportedModel } from '../core/formats';

export const inspectCommand: CliCommand = {
  name: 'inspect',
  takes: '<model>',
  does: 'Counts, parts, bounds, UV figures and edges of a model, as JSON.',
  options: [SHEET_SIZE],
  async run([model], values, { out: print }) {
    const size = sizeOption(values);
    const read = await importModelFile(model);
    print(`${JSON.stringify(inspect(read, size), null, values['json'] ? 0 : 2)}\n`);
  },
};

/**
 * What a model holds: `twins` the pairs of island sides that share texels, `sheets` the parts of each sheet that its pictures ask for. UV
 * figures are counted over those sheets, `size` texels a side.
 */
export function inspect(
  { mesh: read, paint, motion = NO_MOTION }: Pick<ImportedModel, 'mesh' | 'paint' | 'motion'>,
  size: number,
) {
  const mesh = read.uvs ? sheetsOfPictures(requireUvs(read), paint.pictures) : read;
  const trianglesOf = new Array<number>(mesh.parts.length).fill(0);
  for (const part of mesh.faceParts) trianglesOf[part]!++;
  const exact = countOddEdges(edgeTable(mesh.indices, weldExact({ data: mesh.positions, stride: 3 })));
  const edges = countOddEdges(topologyOf(mesh).edges);
  const { twins, ...uv } = uvReport(mesh, size);
  return {
    vertices: vertexCount(mesh),
    triangles: triangleCount(mesh),
    parts: mesh.parts.map((name, i) => ({ name, triangles: trianglesOf[i]! })),
    bounds: subjectBounds(mesh),
    uv,
    edges,
    /** Open edges that close when vertices at one place count as one. */
    welded: Math.max(0, exact.open - edges.open),
    twins,
    sheets: Array.from({ length: sheetCount(mesh) }, (_, sheet) =>
      mesh.parts.filter((_name, part) => sheetOfPart(mesh, part) === sheet),
    ),
    ...motion,
  };
}

function uvReport(mesh: Mesh, size: number) {
  if (!mesh.uvs) {
    return {
      present: false,
      islands: 0,
      coveredTexels: 0,
      overlappedTexels: 0,
      twins: 0,
      outOfRange: 0,
      flipped: 0,
    };
  }
  const withUvs = mesh as UvMesh;
  const sheets = sheetCount(mesh);
  const map = measureSurface(withUvs, new Array<number>(sheets).fill(size));
  // Distortion and seams are the same whatever sheet a part lies on.
  const { partSheets: _, ...onOne } = withUvs;
  const { stretchL2, stretchLinf, angle, area, seamLength } = measureLayout(onOne, size);
  return {
    present: true,
    islands: map.islands,
    coveredTexels: map.coveredTexels,
    overlappedTexels: map.overlappedTexels,
    twins: twinPairs(map).length,
    ...uvFigures(withUvs),
    fill: map.coveredTexels / (size * size * sheets),
    stretchL2,
    stretchLinf,
    angleDistortion: angle,
    areaDistortion: area,
    seamLength,
  };
}
