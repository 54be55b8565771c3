import { faceGeometry, topologyOf, type Mesh, type UvMesh } from '../mesh';
import { cutIntoCharts, type CutChart } from './chart';
import { withCornerUvs } from './corner-uvs';
import { packCharts, partBorders, type PackCharts } from './unwrap-model';

/**
 * A simple layout so that work can start on a model without UVs: neighbouring triangles that look toward the same side of a
 * box make one island, projected along that side and packed. Nothing is stretched more than a slope of 45° does; seams fall
 * where the surface turns from one side to the next.
 *
 * @param options the sheet's size and the texels between islands
 */
export function boxProjection(mesh: Mesh, options: PackCharts = { size: 1024, margin: 8 }): UvMesh {
  const topology = topologyOf(mesh);
  const { normals } = faceGeometry(mesh);
  const side = Uint8Array.from({ length: mesh.faceParts.length }, (_, f) => sideOf(normals, f));
  const cuts = partBorders(mesh, topology);
  topology.across.forEach((o, c) => {
    if (o >= 0 && side[Math.floor(o / 3)] !== side[Math.floor(c / 3)]) cuts[topology.edges.ofCorner[c]!] = 1;
  });
  const charts = cutIntoCharts(mesh, topology, cuts).map((chart) => ({
    chart,
    uv: projected(chart, side[chart.faces[0]!]!),
  }));
  return withCornerUvs(mesh, packCharts(mesh, charts, options).uvs);
}

/** 0 +x, 1 -x, 2 +y, 3 -y, 4 +z, 5 -z: the side that the flat triangle looks toward most. */
function sideOf(normals: Float64Array, f: number): number {
  let axis = 0;
  for (let a = 1; a < 3; a++) if (Math.abs(normals[f * 3 + a]!) > Math.abs(normals[f * 3 + axis]!)) axis = a;
  return axis * 2 + (normals[f * 3 + axis]! < 0 ? 1 : 0);
}

/** The chart seen from a side, so that front-facing triangles run counter-clockwise. */
function projected({ positions }: CutChart, side: number): Float64Array {
  const out = new Float64Array((positions.length / 3) * 2);
  for (let v = 0; v < positions.length / 3; v++) {
    const [x, y, z] = positions.subarray(v * 3, v * 3 + 3) as unknown as [number, number, number];
    const point = (
      [
        [-z, y],
        [z, y],
        [x, -z],
        [x, z],
        [x, y],
        [-x, y],
      ] as const
    )[side]!;
    out.set(point, v * 2);
  }
  return out;
}
