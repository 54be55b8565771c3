import { edgeLengths, faceGeometry, topologyOf, type Mesh, type SymmetryPlane, type Topology } from '../mesh';
import { cutIntoCharts } from './chart';
import { coarsen, type CoarseMesh } from './coarse';
import { dividedAlong, finelyDivided } from './fine-division';
import { measureDistortion } from './measures';
import { evenMesh, mirrorOver, mirrorPlane } from './mirror-map';
import { mergeNaturally, worthOf } from './natural-merge';
import { seamWorth } from './seam-worth';
import { shellOf, type PlannedShell, type Shell, type ShellPlan } from './shell';
import { sightOf } from './sight';
import { surfaceSums } from './surface-sums';
import { turnedCuts, turnedShape } from './turned-shape';
import { TwinShells } from './twin-shells';

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

/** One step of one shell, in the order in which they are taken. */
export interface PlanStep {
  readonly shell: number;
  /** L² stretch of the whole after it. */
  readonly stretchL2: number;
  readonly islands: number;
  /** Of all seams left after it, model units; along the coarse meshes. */
  readonly seamLength: number;
}

/**
 * All the ways in which a surface may be cut, from many pieces with next to no stretch to few that are stretched up to the bound, one seam
 * after the other. Plain data: it goes from a worker to the application and back.
 */
export interface CutPlan {
  readonly shells: readonly ShellPlan[];
  readonly steps: readonly PlanStep[];
  /** Over which both sides are cut alike, where they are. */
  readonly plane: SymmetryPlane;
  readonly bound: number;
}

/**
 * Triangles of the mesh on which it is found out where seams go: of a whole model at the least and at the most, in parts of all; a shell gets
 * its share by the square root of its size, and so many at the least.
 */
const [COARSE_LEAST, COARSE_MOST, COARSE_PART, COARSE_SHELL] = [2500, 4500, 0.1, 600];

/** Finds out in which order seams may go. */
export function planCuts(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  topology: Topology,
  { bound, seams, faces, wishes = null, onProgress }: PlanOptions,
): CutPlan {
  const plane = mirrorPlane(mesh);
  const shells = shellsOf(mesh, topology, seams, faces);
  const all = mesh.indices.length / 3;
  const coarse = Math.max(COARSE_LEAST, Math.min(COARSE_MOST, COARSE_PART * all));
  const seen = sightOf(mesh, topology);
  const worth = worthOf(faceGeometry(mesh).areas.reduce((sum, a) => sum + a, 0));
  let done = 0;
  const twins = new TwinShells(mesh, topology, plane, shells.length > 1 && !wishes);
  const plans = shells.map((own): PlannedShell => {
    const share = own.length / all;
    const shell = shellOf(mesh, topology, own, { seams, wishes, seen });
    const alike = twins.planOf(shell);
    if (alike) {
      done += own.length;
      return alike;
    }
    const plan = planShell(shell, {
      bound,
      worth,
      share,
      plane,
      target: Math.max(COARSE_SHELL, coarse * Math.sqrt(share)),
      onProgress: (part) => onProgress?.((done + part * own.length) / all),
    });
    done += own.length;
    twins.keep(shell, plan);
    return plan;
  });
  return {
    shells: plans.map(({ plan }) => plan),
    steps: inOrder(plans, bound),
    plane,
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

/** Edges of a shell's coarse mesh that are cut after some of its steps. */
export function cutsAfter({ start, steps }: Pick<ShellPlan, 'start' | 'steps'>, count: number): Uint8Array {
  const out = start.slice();
  for (const { gone } of steps.slice(0, count)) for (const e of gone) out[e] = 0;
  return out;
}

/** What hangs together between seams that must be. */
function shellsOf(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  topology: Topology,
  seams: Uint8Array,
  faces: Iterable<number> | undefined,
): Uint32Array[] {
  return cutIntoCharts(mesh, topology, seams, faces).map((chart) => chart.faces);
}

/** Turned shells of so many triangles aren't thinned: their rings and lines are all that comes into question. */
const MOST_TURNED = 12_000;

/** A shell of so many times its target isn't thinned. */
const NEARLY = 1.2;

function planShell(
  shell: Shell,
  {
    bound,
    worth,
    share,
    plane,
    target,
    onProgress,
  }: {
    readonly bound: number;
    readonly worth: number;
    readonly share: number;
    readonly plane: SymmetryPlane;
    readonly target: number;
    readonly onProgress: (done: number) => void;
  },
): PlannedShell {
  const { mesh, topology, seams, wishes, faces } = shell;
  const isTurned = faces.length <= MOST_TURNED && turnedShape(mesh, topology) !== null;
  const found = isTurned ? null : evenMesh(mesh, topology, plane);
  // Who wishes for a seam on one side only doesn't want both alike.
  const even = found && isAlike(wishes, topology, found.map.ofVertex) ? found : null;
  const work = even ?? { mesh, topology };
  const coarse = coarsen(work.mesh, work.topology, {
    // What would be thinned by little only is worth more as it is.
    target: isTurned || faces.length <= NEARLY * target ? faces.length : target,
    fixed: even ? sameEdges(seams, topology, even.topology) : seams,
    mirror: even?.map.ofVertex ?? null,
  });
  onProgress(THINNED);
  const own = topologyOf(coarse.mesh);
  const fixed = linesOf(coarse, own);
  const costs = coarseCosts(coarse, own, shell);
  const both = even && mirrorOver(coarse.mesh, own, plane);
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
    plan: { faces, coarse, start: start.cuts, steps, isEven: both !== null, isTurned: rings !== null },
    area: sums.areas.reduce((sum, a) => sum + a, 0),
    strain: strains.reduce((sum, x) => sum + x, 0),
    islands: start.charts.length,
    lengths: edgeLengths(own, coarse.mesh.positions),
  };
}

/** The steps of all shells, always the one of the least price, as long as the stretch stays within the bound. */
function inOrder(shells: readonly PlannedShell[], bound: number): PlanStep[] {
  const area = shells.reduce((sum, s) => sum + s.area, 0);
  const budget = (bound ** 2 - 1) * area;
  let spent = shells.reduce((sum, s) => sum + s.strain, 0);
  let islands = shells.reduce((sum, s) => sum + s.islands, 0);
  let seamLength = shells.reduce(
    (sum, { plan, lengths }) => sum + lengths.reduce((own, l, e) => own + (plan.start[e] ? l : 0), 0),
    0,
  );
  const next = shells.map(() => 0);
  // What follows a dear step can't be had for less than that.
  const dearest = shells.map(({ plan }) => {
    let most = -Infinity;
    return plan.steps.map(({ price }) => (most = Math.max(most, price)));
  });
  const out: PlanStep[] = [];
  for (;;) {
    let best = -1;
    next.forEach((n, s) => {
      const price = dearest[s]![n];
      if (price === undefined || spent + shells[s]!.plan.steps[n]!.strain > budget) return;
      if (best < 0 || price < dearest[best]![next[best]!]!) best = s;
    });
    if (best < 0) return out;
    const { strain, fewer, gone } = shells[best]!.plan.steps[next[best]!]!;
    next[best]!++;
    spent += strain;
    islands -= fewer;
    for (const e of gone) seamLength -= shells[best]!.lengths[e]!;
    out.push({ shell: best, stretchL2: Math.sqrt(1 + Math.max(0, spent) / area), islands, seamLength });
  }
}

/** Parts of the work that are done when a shell is thinned out and its sides are known, and when it is divided. */
const [THINNED, DIVIDED] = [0.12, 0.3];

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

/** What a seam along each edge of the coarse mesh costs: as much is seen, and wished for, as at the same places of the fine one. */
export function coarseCosts(
  { mesh, vertexOf }: CoarseMesh,
  own: Topology,
  { topology, wishes, seen }: Shell,
): Float64Array {
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
