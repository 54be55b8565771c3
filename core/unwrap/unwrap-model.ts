import { CoreError } from '../errors';
import {
  edgeAngles,
  faceGeometry,
  requireUvs,
  topologyOf,
  type Mesh,
  type Topology,
  type UvMesh,
} from '../mesh';
import { autoCharts } from './auto-charts';
import type { CutChart } from './chart';
import { withCornerUvs } from './corner-uvs';
import { layoutSeams } from './layout-measures';
import { packIslands } from './pack-islands';

export interface UnwrapOptions {
  /** Texels a side of the sheet. */
  readonly size: number;
  /** Texels between islands. */
  readonly margin: number;
  /** Where to cut: by itself, along the present islands, or along creases. */
  readonly seams: 'auto' | 'existing' | 'creases';
  /** For each part how large it shall be beside the others, as a factor of length; 1 where left out. */
  readonly weights?: ReadonlyMap<string, number>;
  readonly onProgress?: (done: number) => void;
}

/** Stretch that is left by itself: L² stretch about 1.001. */
export const DEFAULT_STRETCH = 0.0022;

/** An edge that turns by more than this is a crease. */
export const CREASE_ANGLE = (40 * Math.PI) / 180;

/**
 * Lays a whole model out: seams, flattening and packing.
 *
 * @throws CoreError `model-no-uvs` if the present islands are asked for and there are none
 */
export function unwrapModel(mesh: Mesh, options: UnwrapOptions): UvMesh {
  const topology = topologyOf(mesh);
  const seams = partBorders(mesh, topology);
  if (options.seams === 'existing') addTo(seams, layoutSeams(requireUvs(mesh), topology));
  if (options.seams === 'creases') addTo(seams, creases(mesh, topology));
  const stretch = options.seams === 'auto' ? DEFAULT_STRETCH : null;
  const onProgress = (done: number): void => options.onProgress?.(done * 0.7);
  const charts = autoCharts(mesh, topology, { stretch, seams, onProgress });
  const { uvs: packed } = packCharts(
    mesh,
    charts.map(({ chart, flat }) => ({ chart, uv: flat.uv })),
    options,
  );
  options.onProgress?.(1);
  return withCornerUvs(mesh, packed);
}

export type PackCharts = Pick<UnwrapOptions, 'size' | 'margin' | 'weights'>;

/** @returns uv a corner; corners of triangles in no chart lie at 0 */
export function packCharts(
  mesh: Mesh,
  charts: readonly { readonly chart: CutChart; readonly uv: Float64Array }[],
  { size, margin, weights }: PackCharts,
): { uvs: Float32Array; fill: number } {
  const packed = packIslands(
    charts.map(({ chart, uv }) => ({ points: uv, indices: chart.indices })),
    {
      size,
      margin,
      turn: true,
      weights: charts.map(({ chart }) => weights?.get(mesh.parts[mesh.faceParts[chart.faces[0]!]!]!) ?? 1),
    },
  );
  const uvs = new Float32Array(mesh.indices.length * 2);
  charts.forEach(({ chart }, i) => {
    const points = packed.uvs[i]!;
    chart.faces.forEach((f, k) => {
      for (let corner = 0; corner < 3; corner++) {
        const v = chart.indices[k * 3 + corner]!;
        uvs[(f * 3 + corner) * 2] = points[v * 2]!;
        uvs[(f * 3 + corner) * 2 + 1] = points[v * 2 + 1]!;
      }
    });
  });
  if (!uvs.every(Number.isFinite)) {
    throw new CoreError(
      'unwrap-folds',
      'The model can’t be laid out: its size is beyond what can be reckoned with. Scale it and try again.',
    );
  }
  return { uvs, fill: packed.fill };
}

/** 1 for each edge between two parts. */
export function partBorders(mesh: Mesh, { across, edges }: Topology): Uint8Array {
  const out = new Uint8Array(edges.uses.length);
  across.forEach((o, c) => {
    if (o >= 0 && mesh.faceParts[Math.floor(o / 3)] !== mesh.faceParts[Math.floor(c / 3)])
      out[edges.ofCorner[c]!] = 1;
  });
  return out;
}

/** 1 for each edge that turns by more than an angle. @param angle radians */
export function creases(mesh: Mesh, topology: Topology, angle = CREASE_ANGLE): Uint8Array {
  const turns = edgeAngles(mesh, topology, faceGeometry(mesh).normals);
  return Uint8Array.from(turns, (t) => (Math.abs(t) > angle ? 1 : 0));
}

function addTo(seams: Uint8Array, more: Uint8Array): void {
  more.forEach((x, e) => (seams[e]! |= x));
}
