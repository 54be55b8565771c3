import { smoothstep } from '../../math';
import { edgeAngles, edgeLengths, faceGeometry, type Mesh, type Topology } from '../../mesh';
import { edgeSight, sightOf } from '../natural/sight';

/** What a seam along each edge would cost, and what that is made of. */
export interface SeamWorth {
  /** Model units, less where nobody looks and where the form has a line by itself. */
  readonly costs: Float64Array;
  /** 0..1, how much each edge is seen. */
  readonly sight: Float64Array;
}

/** A seam that nobody sees still costs this part of its length: it tears paint and filters. */
const UNSEEN = 0.12;

/** A concave crease takes away so much of a seam's cost, a hard edge so much, at a right angle (the minima rule: D. Hoffman and W. Richards, 1984). */
const [CONCAVE, HARD] = [0.7, 0.45];

/** A closed surface is thin if it is no thicker than this, in parts of the side of a square as large as one of its faces. */
const THIN = 0.06;

/** A thin thing's rim takes away so much of a seam's cost; it turns by the first at the least and wholly from the second on, radians. */
const [RIM, RIM_FROM, RIM_TO] = [0.85, 0.7, 1];

/** Turns below this are no crease, radians. */
const SMOOTH = 0.2;

/**
 * The cost of a seam: its length, times how much it is seen (A. Sheffer and J. Hart, "Seamster: Inconspicuous Low-Distortion Texture Seam
 * Layout", 2002), less where a concave crease or a hard edge makes it natural, times what the artist says of it.
 *
 * @param wishes a factor an edge: above 1 where no seam is wanted, below 1 where one is; 1 everywhere if left out
 * @param seen how much each welded vertex is seen, if that is known
 */
export function seamWorth(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  topology: Topology,
  wishes: Float32Array | null = null,
  seen: Float64Array = sightOf(mesh, topology),
): SeamWorth {
  const sight = edgeSight(topology, seen);
  const { normals, areas } = faceGeometry(mesh);
  const angles = edgeAngles(mesh, topology, normals);
  const factor = isThin(mesh, topology, areas) ? rimFactor : creaseFactor;
  const costs = edgeLengths(topology, mesh.positions).map((length, e) => {
    return length * (UNSEEN + (1 - UNSEEN) * sight[e]!) * factor(angles[e]!) * (wishes?.[e] ?? 1);
  });
  return { costs, sight };
}

/** What is left of a seam's cost over an edge. @param angle radians, negative in a valley */
export function creaseFactor(angle: number): number {
  const turn = Math.min(1, Math.max(0, Math.abs(angle) - SMOOTH) / (Math.PI / 2 - SMOOTH));
  return 1 - turn * (angle < 0 ? CONCAVE : HARD);
}

/** On a thin thing with two sides, a leaf or an ear: seams belong on the rim and nowhere else. */
function rimFactor(angle: number): number {
  return 1 - smoothstep(RIM_FROM, RIM_TO, angle) * RIM;
}

/** Whether a closed surface has hardly any room inside: twice its volume over its area is its thickness. */
function isThin(
  { positions: p, indices }: Pick<Mesh, 'positions' | 'indices'>,
  { across }: Topology,
  areas: Float64Array,
): boolean {
  if (across.includes(-1)) return false;
  let volume = 0;
  for (let c = 0; c < indices.length; c += 3) {
    const [a, b, d] = [indices[c]! * 3, indices[c + 1]! * 3, indices[c + 2]! * 3];
    volume +=
      (p[a]! * (p[b + 1]! * p[d + 2]! - p[b + 2]! * p[d + 1]!) +
        p[a + 1]! * (p[b + 2]! * p[d]! - p[b]! * p[d + 2]!) +
        p[a + 2]! * (p[b]! * p[d + 1]! - p[b + 1]! * p[d]!)) /
      6;
  }
  const area = areas.reduce((sum, a) => sum + a, 0);
  return (2 * Math.abs(volume)) / area < THIN * Math.sqrt(area / 2);
}
