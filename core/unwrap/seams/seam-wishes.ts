import { type FaceRuns, type Mesh, type Topology, faceMask, type UvMesh } from '../../mesh';
import { layoutSeams } from '../flatten/layout-measures';

/** Triangles on which no seam is wanted, and on which one is. */
export interface WishedFaces {
  readonly never: FaceRuns;
  readonly gladly: FaceRuns;
}

/** What a seam costs where none is wanted, and where one is. */
const [NEVER, GLADLY] = [12, 0.2];

/** A factor an edge, from the triangles beside it; null where nothing is wished. */
export function wishFactors(
  { across, edges }: Topology,
  faces: number,
  { never, gladly }: WishedFaces,
): Float32Array | null {
  if (never.length + gladly.length === 0) return null;
  const [no, yes] = [faceMask(faces, never), faceMask(faces, gladly)];
  const factor = (f: number): number => (no[f] ? NEVER : yes[f] ? GLADLY : 1);
  const out = new Float32Array(edges.uses.length).fill(1);
  across.forEach((o, c) => {
    if (o < c) return;
    // Along the border of what is never cut a seam may run: the milder of both counts.
    out[edges.ofCorner[c]!] = Math.min(factor(Math.floor(c / 3)), factor(Math.floor(o / 3)));
  });
  return out;
}

/** Seams of a layout that run where none is wanted. */
export interface UnwantedSeams {
  /** Edges. */
  readonly edges: readonly number[];
  /** Names of the parts that they run over. */
  readonly parts: readonly string[];
}

export function unwantedSeams(mesh: UvMesh, topology: Topology, { never }: WishedFaces): UnwantedSeams {
  const no = faceMask(mesh.faceParts.length, never);
  const seams = layoutSeams(mesh, topology);
  const edges = new Set<number>();
  const parts = new Set<string>();
  topology.across.forEach((o, c) => {
    const [f, g] = [Math.floor(c / 3), Math.floor(o / 3)];
    const e = topology.edges.ofCorner[c]!;
    if (o < c || !seams[e] || !no[f] || !no[g] || mesh.faceParts[f] !== mesh.faceParts[g]) return;
    edges.add(e);
    parts.add(mesh.parts[mesh.faceParts[f]!]!);
  });
  return { edges: [...edges], parts: [...parts] };
}

/** What is said of seams that run where none is wanted; null if none do. */
export function sayUnwanted({ edges, parts }: UnwantedSeams): string | null {
  if (edges.length === 0) return null;
  const named = parts
    .slice(0, 3)
    .map((name) => `“${name}”`)
    .join(', ');
  const more = parts.length > 3 ? ` and ${parts.length - 3} more` : '';
  return `No seam is wanted on ${named}${more}, but it can’t lie flat without one: the one that harms least was taken, ${edges.length} ${edges.length === 1 ? 'edge' : 'edges'} long.`;
}

/** The faces of some parts. */
export const facesOfParts = ({ faceParts }: Pick<Mesh, 'faceParts'>, parts: ReadonlySet<number>): number[] =>
  [...faceParts.keys()].filter((f) => parts.has(faceParts[f]!));
