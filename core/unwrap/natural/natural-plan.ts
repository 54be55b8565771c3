import { faceGeometry, type Mesh, type SymmetryPlane, type Topology } from '../../mesh';
import { cutIntoCharts } from '../segment/chart';
import { mirrorPlane } from './mirror-map';
import { worthOf } from './natural-pieces';
import { componentOf, type PlannedComponent, type ComponentPlan } from './component';
import { planned, type Working } from './component-work';
import { sightOf } from './sight';
import { TwinComponents } from './twin-components';

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
  readonly component: number;
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
  readonly components: readonly ComponentPlan[];
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

/** Finds out in which order seams may go. Of shells that mirror one another one is planned. */
export function* planCuts(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  topology: Topology,
  { bound, seams, faces, wishes = null, onProgress }: PlanOptions,
): Working<CutPlan> {
  const plane = mirrorPlane(mesh);
  const all = mesh.indices.length / 3;
  const coarse = Math.max(COARSE_LEAST, Math.min(COARSE_MOST, COARSE_PART * all));
  const seen = sightOf(mesh, topology);
  const worth = worthOf(faceGeometry(mesh).areas.reduce((sum, a) => sum + a, 0));
  const components = cutIntoCharts(mesh, topology, seams, faces).map((chart) =>
    componentOf(mesh, topology, chart.faces, { seams, wishes, seen }),
  );
  const taskOf = (i: number) => {
    const component = components[i]!;
    const share = component.faces.length / all;
    return {
      component,
      bound,
      worth,
      share,
      plane,
      target: Math.max(COARSE_SHELL, coarse * Math.sqrt(share)),
    };
  };
  const twins = new TwinComponents(mesh, topology, plane, components.length > 1 && !wishes);
  const ofTwin = twins.pairs(components);
  const plans = new Array<PlannedComponent>(components.length);
  const own = [...components.keys()].filter((i) => ofTwin[i]! < 0);
  const first = yield* planned(own.map(taskOf), (done) => onProgress?.(done));
  own.forEach((i, k) => (plans[i] = first[k]!));
  const odd: number[] = [];
  ofTwin.forEach((twin, i) => {
    const alike = twin < 0 ? null : twins.mirrored(components[i]!, components[twin]!, plans[twin]!, twin);
    if (alike) plans[i] = alike;
    else if (twin >= 0) odd.push(i);
  });
  if (odd.length > 0) {
    const rest = yield* planned(odd.map(taskOf), () => undefined);
    odd.forEach((i, k) => (plans[i] = rest[k]!));
  }
  return { components: plans.map(({ plan }) => plan), steps: inOrder(plans, bound), plane, bound };
}

/** How many steps may be gone so that the stretch stays within a bound. */
export function stepsWithin({ steps }: CutPlan, bound: number): number {
  for (let k = steps.length; k > 0; k--) if (steps[k - 1]!.stretchL2 <= bound) return k;
  return 0;
}

/** How many shells go with the steps of each: a pair with those of its leader. */
export function pairWeights(components: readonly ComponentPlan[]): number[] {
  const out = components.map(({ leader }) => (leader < 0 ? 1 : 0));
  for (const { leader } of components) if (leader >= 0) out[leader]!++;
  return out;
}

/** The steps of all shells, always the one of the least price, as long as the stretch stays within the bound. */
function inOrder(components: readonly PlannedComponent[], bound: number): PlanStep[] {
  const area = components.reduce((sum, s) => sum + s.area, 0);
  const budget = (bound ** 2 - 1) * area;
  let spent = components.reduce((sum, s) => sum + s.strain, 0);
  let islands = components.reduce((sum, s) => sum + s.islands, 0);
  let seamLength = components.reduce(
    (sum, { plan, lengths }) => sum + lengths.reduce((own, l, e) => own + (plan.start[e] ? l : 0), 0),
    0,
  );
  const weights = pairWeights(components.map(({ plan }) => plan));
  const next = components.map(() => 0);
  // What follows a dear step can't be had for less than that.
  const dearest = components.map(({ plan }) => {
    let most = -Infinity;
    return plan.steps.map(({ price }) => (most = Math.max(most, price)));
  });
  const out: PlanStep[] = [];
  for (;;) {
    let best = -1;
    next.forEach((n, s) => {
      const price = dearest[s]![n];
      const strain = weights[s]! * (components[s]!.plan.steps[n]?.strain ?? 0);
      if (price === undefined || weights[s] === 0 || spent + strain > budget) return;
      if (best < 0 || price < dearest[best]![next[best]!]!) best = s;
    });
    if (best < 0) return out;
    const { strain, fewer, gone } = components[best]!.plan.steps[next[best]!]!;
    next[best]!++;
    spent += weights[best]! * strain;
    islands -= weights[best]! * fewer;
    for (const e of gone) seamLength -= weights[best]! * components[best]!.lengths[e]!;
    out.push({ component: best, stretchL2: Math.sqrt(1 + Math.max(0, spent) / area), islands, seamLength });
  }
}
