import { findIslands, sheetOfFace, type UvMesh } from '../../mesh';
import { singularValues } from './measures';
import { doubledArea, restShapes, shapeArea } from './rest-shape';

export const HEATS = ['density', 'area', 'angle'] as const;
export type HeatKind = (typeof HEATS)[number];

export interface Heat {
  /** A value a vertex, 0..1. Density and area: 0.5 is the mean, a quarter more or less is a factor of √2. Angle: 0 is none. */
  readonly values: Float32Array;
  /** What 0, 0.5 and 1 stand for. */
  readonly legend: readonly [string, string, string];
}

/** At the ends of the scale: half and twice the mean; for angles a stretch of 2 : 1. */
const SPAN = 2;

/**
 * How a layout is distorted, smoothed over each vertex's triangles.
 *
 * @param sizes texels a side of each sheet, for the density
 */
export function layoutHeat(mesh: UvMesh, kind: HeatKind, sizes: readonly number[]): Heat {
  const shapes = restShapes(mesh);
  const faces = mesh.indices.length / 3;
  const density = new Float64Array(faces);
  const { ofFace, count } = findIslands(mesh);
  const solid = new Float64Array(count);
  const flat = new Float64Array(count);
  let allSolid = 0;
  let allFlat = 0;
  // Everything flat is in texels, so that sheets of different sizes can be compared.
  const flatArea = (f: number): number =>
    (Math.abs(doubledArea(mesh.indices, mesh.uvs, f)) / 2) * (sizes[sheetOfFace(mesh, f)] ?? 1) ** 2;
  for (let f = 0; f < faces; f++) {
    const a = shapeArea(shapes, f);
    const b = flatArea(f);
    density[f] = Math.sqrt(b / a);
    solid[ofFace[f]!]! += a;
    flat[ofFace[f]!]! += b;
    allSolid += a;
    allFlat += b;
  }
  const mean = Math.sqrt(allFlat / (allSolid || 1));
  const sums = new Float64Array(mesh.positions.length / 3);
  const weights = new Float64Array(sums.length);
  for (let f = 0; f < faces; f++) {
    let value: number;
    if (kind === 'angle') {
      const [big, small] = singularValues(mesh.indices, shapes, mesh.uvs, f);
      value = small !== 0 ? (Math.abs(big / small) - 1) / (SPAN - 1) : 1;
    } else {
      const island = ofFace[f]!;
      const middle = kind === 'density' ? mean : Math.sqrt(flat[island]! / (solid[island]! || 1));
      value = 0.5 + Math.log(density[f]! / (middle || 1)) / Math.log(SPAN) / 2;
    }
    const w = shapeArea(shapes, f);
    for (let k = 0; k < 3; k++) {
      const v = mesh.indices[f * 3 + k]!;
      sums[v]! += Math.min(1, Math.max(0, Number.isFinite(value) ? value : 0)) * w;
      weights[v]! += w;
    }
  }
  const values = Float32Array.from(sums, (s, v) => (weights[v]! > 0 ? s / weights[v]! : 0.5));
  const texels = (k: number): string => (mean * k).toPrecision(3);
  const legend: Record<HeatKind, Heat['legend']> = {
    density: [`${texels(0.5)} texels a unit`, texels(1), texels(2)],
    area: ['half as large', 'as the island', 'twice as large'],
    angle: ['true', '1.5 : 1', '2 : 1'],
  };
  return { values, legend: legend[kind] };
}
