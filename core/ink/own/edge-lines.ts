import type { Vec3 } from '../../math';
import { cornerOfEdge, edgeAngles, type Topology } from '../../mesh';
import type { InkSurface } from '../ink-surface';
import { chainsOf, type Chain, type Piece } from './chains';
import type { OwnSource } from './own-spec';

type Borders = Extract<OwnSource, { along: 'borders' }>;
type Creases = Extract<OwnSource, { along: 'creases' }>;

/** Lines along edges of the mesh that pass. @param passes told the triangles on both sides; the second is -1 at an open border */
function alongEdges(
  ground: InkSurface,
  passes: (edge: number, face: number, other: number) => boolean,
): Chain[] {
  const { mesh, topology } = ground;
  const { positions: p } = mesh;
  const { ends } = topology.edges;
  const corners = cornerOfEdge(topology);
  const pieces: Piece[] = [];
  corners.forEach((c, e) => {
    const beyond = topology.across[c]!;
    if (passes(e, Math.floor(c / 3), beyond < 0 ? -1 : Math.floor(beyond / 3)))
      pieces.push([ends[e * 2]!, ends[e * 2 + 1]!]);
  });
  return chainsOf(pieces, (v): Vec3 => [p[v * 3]!, p[v * 3 + 1]!, p[v * 3 + 2]!]);
}

/**
 * Lines where parts, islands or regions meet.
 *
 * @param regions which triangles belong to each of the chosen regions
 */
export function borderLines(
  { of }: Borders,
  ground: InkSurface,
  islandOfFace: Uint32Array,
  regions: readonly Uint8Array[],
): Chain[] {
  const { faceParts } = ground.mesh;
  const differ = (a: number, b: number): boolean =>
    (of.includes('parts') && faceParts[a] !== faceParts[b]) ||
    (of.includes('islands') && islandOfFace[a] !== islandOfFace[b]) ||
    regions.some((faces) => faces[a] !== faces[b]);
  return alongEdges(ground, (_, face, other) => other >= 0 && differ(face, other));
}

/** Lines along edges over which the surface turns by more than an angle. */
export function creaseLines({ angle, which }: Creases, ground: InkSurface): Chain[] {
  const turns = turnsOf(ground, ground.topology);
  const least = (angle * Math.PI) / 180;
  return alongEdges(ground, (edge) => {
    const turn = turns[edge]!;
    if (Math.abs(turn) < least) return false;
    return which === 'both' || (which === 'ridges' ? turn > 0 : turn < 0);
  });
}

const known = new WeakMap<InkSurface, Float64Array>();

function turnsOf(ground: InkSurface, topology: Topology): Float64Array {
  let turns = known.get(ground);
  if (!turns) known.set(ground, (turns = edgeAngles(ground.mesh, topology, ground.normals)));
  return turns;
}
