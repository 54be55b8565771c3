import { edgeLengths, topologyOf, type Mesh, type SymmetryPlane, type Topology } from '../mesh';
import { autoCharts } from './auto-charts';
import { cutIntoCharts } from './chart';
import { coarsen, type CoarseMesh } from './coarse';
import { flattenChart, type FlatChart } from './flatten';
import { evenMesh, mirrorOver, type MirrorMap } from './mirror-map';
import { mergeNaturally, type MergeStep } from './natural-merge';
import { cutsOf } from './seam-runs';
import { seamWorth } from './seam-worth';
import { sightOf } from './sight';
import { surfaceSums } from './surface-sums';

export interface PlanOptions {
  /** L² stretch at the far end: no seam goes that would need more. */
  readonly bound: number;
  /** 1 for each edge that must be a seam. */
  readonly seams: Uint8Array;
  readonly faces?: Iterable<number>;
  /** A factor an edge: above 1 where no seam is wanted, below 1 where one is. */
  readonly wishes?: Float32Array | null;
  readonly onProgress?: (done: number) => void;
}

/**
 * All the ways in which a surface may be cut, from many pieces with next to no stretch to few that are stretched up to the bound, one seam
 * after the other. Plain data: it goes from a worker to the application and back.
 */
export interface CutPlan {
  readonly coarse: CoarseMesh;
  /** 1 for each edge of the coarse mesh that is cut before the first step. */
  readonly start: Uint8Array;
  readonly steps: readonly PlanStep[];
  /** Over which both sides are cut alike. */
  readonly plane: SymmetryPlane | null;
  readonly bound: number;
}

export interface PlanStep extends MergeStep {
  /** Of all seams left after it, model units; along the coarse mesh. */
  readonly seamLength: number;
}

/** Squared L² stretch less one that the pieces have from which a natural cut is joined: next to none. */
const FINE = 0.0022;

/** Triangles of the mesh on which it is found out where seams go: at the least, at the most, and in parts of all. */
const [COARSE_LEAST, COARSE_MOST, COARSE_PART] = [2500, 4500, 0.1];

/** Parts of the work that are done when the mesh is thinned out and its sides are known, and when it is divided. */
const [THINNED, DIVIDED] = [0.12, 0.3];

/** Finds out in which order seams may go. */
export function planCuts(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  topology: Topology,
  { bound, seams, faces, wishes = null, onProgress }: PlanOptions,
): CutPlan {
  const found = faces ? null : evenMesh(mesh, topology);
  // Who wishes for a seam on one side only doesn't want both alike.
  const even = found && isAlike(wishes, topology, found.map.ofVertex) ? found : null;
  const work = even ?? { mesh, topology };
  const lines = even ? sameEdges(seams, topology, even.topology) : seams;
  const target = Math.max(COARSE_LEAST, Math.min(COARSE_MOST, COARSE_PART * (mesh.indices.length / 3)));
  const coarse = coarsen(work.mesh, work.topology, {
    target,
    fixed: lines,
    mirror: even?.map.ofVertex ?? null,
    ...(faces ? { faces } : {}),
  });
  onProgress?.(THINNED);
  const own = topologyOf(coarse.mesh);
  const fixed = linesOf(coarse, own);
  const costs = coarseCosts(coarse, own, mesh, topology, wishes);
  const both = even && mirrorOver(coarse.mesh, own, even.map.plane);
  const start = divided(coarse, own, fixed, both, (done) =>
    onProgress?.(THINNED + (DIVIDED - THINNED) * done),
  );
  const cuts = start.cuts.slice();
  const steps = mergeNaturally(surfaceSums(coarse.mesh, own), start.charts, cuts, {
    bound,
    costs,
    fixed,
    mirror: both,
    onProgress: (done) => onProgress?.(DIVIDED + (1 - DIVIDED) * done),
  });
  return {
    coarse,
    start: start.cuts,
    steps: withLengths(steps, own, coarse.mesh.positions, start.cuts),
    plane: both ? even.map.plane : null,
    bound,
  };
}

/** Sides on which this part of the wishes differ aren't alike. */
const ODD_WISHES = 0.1;

/** Whether the same is wished for on both sides. */
function isAlike(wishes: Float32Array | null, { edges }: Topology, ofVertex: Int32Array): boolean {
  if (!wishes) return true;
  const sums = new Float64Array(ofVertex.length);
  edges.ends.forEach((v, i) => (sums[v]! += Math.abs(Math.log(wishes[i >> 1]!))));
  let [all, odd] = [0, 0];
  sums.forEach((x, v) => {
    if (ofVertex[v]! < 0) return;
    all += x;
    odd += Math.abs(x - sums[ofVertex[v]!]!);
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

/** How many steps may be gone so that the stretch stays within a bound. */
export function stepsWithin({ steps }: CutPlan, bound: number): number {
  for (let k = steps.length; k > 0; k--) if (steps[k - 1]!.stretchL2 <= bound) return k;
  return 0;
}

/** Edges of the coarse mesh that are cut after some steps. */
export function cutsAfter(plan: CutPlan, steps: number): Uint8Array {
  const out = plan.start.slice();
  for (const { gone } of plan.steps.slice(0, steps)) for (const e of gone) out[e] = 0;
  return out;
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

function withLengths(
  steps: readonly MergeStep[],
  topology: Topology,
  positions: Float32Array,
  start: Uint8Array,
): PlanStep[] {
  const lengths = edgeLengths(topology, positions);
  let seamLength = lengths.reduce((sum, l, e) => sum + (start[e] ? l : 0), 0);
  return steps.map((step) => {
    for (const e of step.gone) seamLength -= lengths[e]!;
    return { ...step, seamLength };
  });
}

/** The fine division; where both sides are alike, one is divided and the other is its mirror image. */
function divided(
  { mesh }: CoarseMesh,
  topology: Topology,
  fixed: Uint8Array,
  mirror: MirrorMap | null,
  onProgress: (done: number) => void,
): { charts: FlatChart[]; cuts: Uint8Array } {
  const options = { stretch: FINE, onProgress };
  if (!mirror) {
    const charts = autoCharts(mesh, topology, { ...options, seams: fixed });
    return { charts, cuts: cutsOf(charts, topology, fixed) };
  }
  const half = nearHalf(mesh, mirror);
  const borders = fixed.slice();
  topology.across.forEach((o, c) => {
    if (o >= 0 && half[Math.floor(c / 3)] !== half[Math.floor(o / 3)])
      borders[topology.edges.ofCorner[c]!] = 1;
  });
  const faces = [...half.keys()].filter((f) => half[f]);
  const near = autoCharts(mesh, topology, { ...options, seams: borders, faces });
  const cuts = cutsOf(near, topology, borders);
  cuts.forEach((x, e) => {
    const image = mirror.ofEdge[e]!;
    if (x && image >= 0 && topology.edges.uses[image] === 2) cuts[image] = 1;
  });
  const known = new Map(near.map((one) => [one.chart.faces[0]!, one]));
  const charts = cutIntoCharts(mesh, topology, cuts).flatMap((chart): FlatChart[] => {
    const same = known.get(chart.faces[0]!);
    if (same?.chart.faces.length === chart.faces.length) return [same];
    try {
      const flat = flattenChart(chart);
      if (!flat.overlaps) return [{ chart, flat }];
    } catch {
      // Divided once more below.
    }
    return autoCharts(mesh, topology, { stretch: FINE, seams: cuts, faces: chart.faces });
  });
  return { charts, cuts: cutsOf(charts, topology, cuts) };
}

/** 1 for triangles on the plane's near side, on the plane itself, and for those that nothing mirrors. */
function nearHalf(
  { positions, indices }: Pick<Mesh, 'positions' | 'indices'>,
  { ofFace, plane }: MirrorMap,
): Uint8Array {
  return Uint8Array.from(ofFace, (g, f) => {
    if (g < 0 || g === f) return 1;
    const side = (face: number): number => {
      let sum = 0;
      for (let k = 0; k < 3; k++)
        for (let axis = 0; axis < 3; axis++)
          sum += positions[indices[face * 3 + k]! * 3 + axis]! * plane.normal[axis]!;
      return sum;
    };
    const [own, other] = [side(f), side(g)];
    return own > other || (own === other && f < g) ? 1 : 0;
  });
}

/** What a seam along each edge of the coarse mesh costs: as much is seen, and wished for, as at the same places of the fine one. */
export function coarseCosts(
  { mesh, vertexOf }: CoarseMesh,
  own: Topology,
  fine: Pick<Mesh, 'positions' | 'indices'>,
  topology: Topology,
  wishes: Float32Array | null,
): Float64Array {
  const seen = sightOf(fine, topology);
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
  ).costs;
}
