import { edgeLengths, topologyOf, type SymmetryPlane, type Topology } from '../../mesh';
import { coarsen, type CoarseMesh } from './coarse';
import { dividedAlong, finelyDivided } from './fine-division';
import { measureDistortion } from '../flatten/measures';
import { evenMesh, type EvenMesh } from './even-mesh';
import { mirrorOver, type MirrorMap } from './mirror-map';
import type { OtherSide } from './other-side';
import { mergeNaturally } from './natural-merge';
import { seamWorth, type SeamWorth } from '../seams/seam-worth';
import type { PlannedComponent, MeshComponent } from './component';
import { surfaceSums } from '../segment/surface-sums';
import { turnedCuts, turnedShape } from './turned-shape';

/** One shell whose seams are to be found, and what it needs to know of the whole. */
export interface PlanTask {
  readonly component: MeshComponent;
  /** L² stretch at the far end. */
  readonly bound: number;
  /** Strain that is worth a unit of seam cost. */
  readonly worth: number;
  /** Part of the whole model that it is. */
  readonly share: number;
  readonly plane: SymmetryPlane;
  /** Triangles of the mesh on which it is found out. */
  readonly target: number;
}

/** Parts of the work that are done when a shell is thinned out and its sides are known, and when it is divided. */
const [THINNED, DIVIDED] = [0.12, 0.3];

/** Turned shells of so many triangles aren't thinned: their rings and lines are all that comes into question. */
const MOST_TURNED = 12_000;

/** A shell of so many times its target isn't thinned. */
const NEARLY = 1.2;

/** A mesh that stands for a surface has so many of its triangles at the most. */
const SPARSE = 0.5;

/** Finds out in which order the seams of one shell may go. */
export function planComponent(
  { component, bound, worth, share, plane, target }: PlanTask,
  onProgress: (done: number) => void,
): PlannedComponent {
  const { mesh, topology, seams, wishes, faces } = component;
  const isTurned = faces.length <= MOST_TURNED && turnedShape(mesh, topology) !== null;
  const isWhole = !seams.some((x, e) => x && topology.edges.uses[e] === 2);
  const found = isTurned ? null : evenMesh(mesh, topology, plane, isWhole);
  // Who wishes for a seam on one side only doesn't want both alike.
  const even = found && isAlike(wishes, topology, found.other) ? found : null;
  const coarse = thinned(component, even, isTurned ? Infinity : target);
  onProgress(THINNED);
  const own = topologyOf(coarse.mesh);
  const fixed = linesOf(coarse, own);
  const both = even && mirrorOver(coarse.mesh, own, plane);
  const costs = withoutFaceSeams(coarseWorth(coarse, own, component), both);
  const sums = surfaceSums(coarse.mesh, own);
  const rings = isTurned ? turnedShape(coarse.mesh, own) : null;
  const start = rings
    ? dividedAlong(coarse.mesh, own, fixed, turnedCuts(rings, own, costs, sums.missing))
    : finelyDivided(coarse.mesh, own, fixed, both, (done) =>
        onProgress(THINNED + (DIVIDED - THINNED) * done),
      );
  const steps = mergeNaturally(sums, start.charts, start.cuts.slice(), {
    bound,
    worth,
    share,
    costs,
    fixed,
    mirror: both,
    wholeOnly: rings !== null,
    onProgress: (done) => onProgress(DIVIDED + (1 - DIVIDED) * done),
  });
  const strains = start.charts.map(({ chart, flat }) => {
    const area = chart.faces.reduce((sum, f) => sum + sums.areas[f]!, 0);
    return area * Math.max(0, measureDistortion(chart, flat.uv).stretchL2 ** 2 - 1);
  });
  return {
    plan: {
      faces,
      coarse,
      start: start.cuts,
      steps,
      isEven: both !== null,
      isTurned: rings !== null,
      leader: -1,
    },
    area: sums.areas.reduce((sum, a) => sum + a, 0),
    strain: strains.reduce((sum, x) => sum + x, 0),
    islands: start.charts.length,
    lengths: edgeLengths(own, coarse.mesh.positions),
  };
}

/** The mesh on which seams are found. */
function thinned(
  { mesh, topology, seams, faces }: MeshComponent,
  even: EvenMesh | null,
  target: number,
): CoarseMesh {
  const { length } = faces;
  if (even?.vertexOf) {
    const { vertexOf } = even;
    const coarse = coarsen(even.mesh, even.topology, {
      // Few enough for each of its vertices to stand next to another one of the surface.
      target: Math.min(target, length * SPARSE),
      fixed: new Uint8Array(even.topology.edges.uses.length),
      mirror: even.map.ofVertex,
    });
    return { ...coarse, vertexOf: coarse.vertexOf.map((v) => vertexOf[v]!) };
  }
  const work = even ?? { mesh, topology };
  return coarsen(work.mesh, work.topology, {
    // What would be thinned by little only is worth more as it is.
    target: length <= NEARLY * target ? length : target,
    fixed: even ? sameEdges(seams, topology, even.topology) : seams,
    mirror: even?.map.ofVertex ?? null,
  });
}

/** Sides on which this part of the wishes differ aren't alike. */
const ODD_WISHES = 0.1;

/** Whether the same is wished for on both sides. */
function isAlike(wishes: Float32Array | null, { edges }: Topology, other: OtherSide): boolean {
  if (!wishes) return true;
  const sums = new Float64Array(other.ofVertex.length);
  const counts = new Uint32Array(sums.length);
  edges.ends.forEach((v, i) => {
    sums[v]! += Math.abs(Math.log(wishes[i >> 1]!));
    counts[v]!++;
  });
  sums.forEach((x, v) => (sums[v] = x / (counts[v]! || 1)));
  let [all, odd] = [0, 0];
  sums.forEach((x, v) => {
    if (x === 0 && other.ofVertex[v]! < 0) return;
    all += x;
    odd += Math.abs(x - sums[other.vertexFor(v)]!);
  });
  return odd <= ODD_WISHES * 2 * all;
}

/** The marked edges of one mesh on another with the same vertices. */
function sameEdges(marked: Uint8Array, from: Topology, to: Topology): Uint8Array {
  const names = new Set<number>();
  const name = ({ edges: { ends } }: Topology, e: number): number =>
    ends[e * 2]! * 2 ** 26 + ends[e * 2 + 1]!;
  marked.forEach((x, e) => {
    if (x) names.add(name(from, e));
  });
  return Uint8Array.from(to.edges.uses, (_, e) => (names.has(name(to, e)) ? 1 : 0));
}

/** Edges of the coarse mesh that must be seams. */
export function linesOf({ lines }: CoarseMesh, { edges }: Topology): Uint8Array {
  const out = new Uint8Array(edges.uses.length);
  const name = (a: number, b: number): number => Math.min(a, b) * 2 ** 26 + Math.max(a, b);
  const names = new Set(lines.map(([a, b]) => name(a, b)));
  edges.uses.forEach((n, e) => {
    if (n === 2 && names.has(name(edges.ends[e * 2]!, edges.ends[e * 2 + 1]!))) out[e] = 1;
  });
  return out;
}

/** Down the middle of what everybody looks at a seam costs so many times as much more: nobody parts a face (common practice). */
const FACE = 7;

function withoutFaceSeams({ costs, sight }: SeamWorth, both: MirrorMap | null): Float64Array {
  return both
    ? costs.map((cost, e) => (both.ofEdge[e] === e ? cost * (1 + FACE * sight[e]! ** 2) : cost))
    : costs;
}

/** What a seam along each edge of the coarse mesh costs: as much is seen, and wished for, as at the same places of the fine one. */
export function coarseWorth(
  { mesh, vertexOf }: CoarseMesh,
  own: Topology,
  { topology, wishes, seen }: MeshComponent,
): SeamWorth {
  const { ends } = topology.edges;
  const sums = new Float64Array(topology.welded.length);
  const counts = new Uint32Array(topology.welded.length);
  if (wishes)
    ends.forEach((v, i) => {
      sums[v]! += wishes[i >> 1]!;
      counts[v]!++;
    });
  const wishAt = (v: number): number => sums[vertexOf[v]!]! / (counts[vertexOf[v]!]! || 1);
  const coarse =
    wishes &&
    Float32Array.from(
      own.edges.uses,
      (_, e) => (wishAt(own.edges.ends[e * 2]!) + wishAt(own.edges.ends[e * 2 + 1]!)) / 2,
    );
  return seamWorth(
    mesh,
    own,
    coarse,
    Float64Array.from(vertexOf, (v) => seen[v]!),
  );
}
