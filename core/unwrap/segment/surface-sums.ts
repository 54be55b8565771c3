import {
  edgeAngles,
  edgeLengths,
  faceGeometry,
  nextCorner,
  previousCorner,
  type Mesh,
  type Topology,
} from '../../mesh';

/** What is measured of a surface once, before it is divided. */
export interface SurfaceSums {
  readonly mesh: Pick<Mesh, 'positions' | 'indices'>;
  readonly topology: Topology;
  /** Unit normal xyz a triangle. */
  readonly normals: Float64Array;
  /** A triangle. */
  readonly areas: Float64Array;
  /** What it is worth that an edge is no seam: its length, less along creases, where a seam is hardly seen. */
  readonly lengths: Float64Array;
  /** Angle missing round each welded vertex (2π less its angles); NaN on the mesh's own border. */
  readonly missing: Float64Array;
}

/** A crease of a right angle counts as this much of its length: borders lie there gladly. */
const CREASE_WORTH = 0.5;

/** Reckons what dividing a surface asks for, once. */
export function surfaceSums(mesh: Pick<Mesh, 'positions' | 'indices'>, topology: Topology): SurfaceSums {
  const { normals, areas } = faceGeometry(mesh);
  const angles = edgeAngles(mesh, topology, normals);
  const lengths = edgeLengths(topology, mesh.positions);
  for (let e = 0; e < lengths.length; e++) {
    const crease = Math.min(1, Math.abs(angles[e]!) / (Math.PI / 2));
    lengths[e]! *= 1 - (1 - CREASE_WORTH) * crease;
  }
  return { mesh, topology, normals, areas, lengths, missing: missingAngles(mesh, topology) };
}

function missingAngles(
  { positions: p, indices }: Pick<Mesh, 'positions' | 'indices'>,
  { welded, across }: Topology,
): Float64Array {
  const out = new Float64Array(p.length / 3).fill(2 * Math.PI);
  for (let c = 0; c < indices.length; c++) {
    const o = indices[c]! * 3;
    const a = indices[nextCorner(c)]! * 3;
    const b = indices[previousCorner(c)]! * 3;
    const ux = p[a]! - p[o]!;
    const uy = p[a + 1]! - p[o + 1]!;
    const uz = p[a + 2]! - p[o + 2]!;
    const vx = p[b]! - p[o]!;
    const vy = p[b + 1]! - p[o + 1]!;
    const vz = p[b + 2]! - p[o + 2]!;
    const x = uy * vz - uz * vy;
    const y = uz * vx - ux * vz;
    const z = ux * vy - uy * vx;
    out[welded[indices[c]!]!]! -= Math.atan2(Math.sqrt(x * x + y * y + z * z), ux * vx + uy * vy + uz * vz);
    if (across[c]! >= 0) continue;
    out[welded[indices[c]!]!] = NaN;
    out[welded[indices[nextCorner(c)]!]!] = NaN;
  }
  return out;
}
