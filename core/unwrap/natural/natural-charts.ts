import { faceGeometry, type Mesh, type SymmetryPlane, type Topology } from '../../mesh';
import type { Vec3 } from '../../math';
import type { FlatChart } from '../flatten/flatten';
import type { LayTask } from './lay-component';
import { cutRuns } from './lift-cuts';
import { worthOf } from './natural-pieces';
import { strainOf } from './seam-parts';
import { pairWeights, planCuts, stepsWithin, type CutPlan, type PlanOptions } from './natural-plan';
import { mirrored, placeOf } from './other-side';
import { cutsOf } from '../seams/seam-runs';
import { componentOf, type MeshComponent } from './component';
import { laidOut, type Working } from './component-work';
import { sightOf } from './sight';

/** Part of the work that is done when it is known where seams go. */
const PLANNED = 0.6;

/**
 * Cuts a surface as a practised hand would. It is thinned out and divided finely first, then seams go as long as the stretch stays within its
 * bound, those that are seen most first; what is left is led along the cheapest way and carried to the surface as it is.
 *
 * @returns also the plane over which both sides are cut alike, if there is one
 */
export function* naturalCharts(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  topology: Topology,
  options: PlanOptions,
): Working<{ charts: FlatChart[]; plane: SymmetryPlane | null }> {
  const { onProgress } = options;
  const plan = yield* planCuts(mesh, topology, {
    ...options,
    onProgress: (done) => onProgress?.(PLANNED * done),
  });
  const charts = yield* plannedCharts(mesh, topology, plan, {
    ...options,
    onProgress: (done) => onProgress?.(PLANNED + (1 - PLANNED) * done),
  });
  return { charts, plane: plan.plane };
}

/** How often steps are taken back if the whole comes out more stretched than it was planned. */
const CORRECTIONS = 4;

/** Part of the work that is left for them, and each time for those after. */
const LATER = 0.1;

/** Pieces are measured one by one, the whole at one scale: so much of the stretch is theirs. */
const WITHIN = 0.98;

/** The pieces of a plan, flat, after as many of its steps as the bound allows. */
export function* plannedCharts(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  topology: Topology,
  plan: CutPlan,
  { bound, seams, wishes = null, onProgress }: Omit<PlanOptions, 'faces'>,
): Working<FlatChart[]> {
  const seen = sightOf(mesh, topology);
  const { areas } = faceGeometry(mesh);
  const worth = worthOf(areas.reduce((sum, a) => sum + a, 0));
  const components = plan.components.map((own) =>
    componentOf(mesh, topology, own.faces, { seams, wishes, seen }),
  );
  const weights = pairWeights(plan.components);
  const counts = plan.components.map(() => 0);
  const taken = plan.steps.slice(0, stepsWithin(plan, bound));
  for (const { component } of taken) counts[component]!++;
  const laid = components.map((): readonly FlatChart[] => []);
  const strains = components.map(() => 0);
  const area = plan.components.reduce((sum, own) => own.faces.reduce((all, f) => all + areas[f]!, sum), 0);
  const taskOf = (i: number): LayTask => {
    const own = plan.components[i]!;
    const { leader } = own;
    return {
      component: components[i]!,
      plan: own,
      steps: counts[leader < 0 ? i : leader]!,
      plane: own.isEven ? plan.plane : null,
      lines: leader < 0 ? null : mirroredSeams(components[leader]!, laid[leader]!, plan.plane),
      bound: plan.bound,
      worth,
    };
  };
  let wanted = [...components.keys()];
  for (let round = 0; wanted.length > 0 && round <= CORRECTIONS; round++) {
    // Corrections are small beside the first round, and never told as a step back.
    const tell = (done: number): void => onProgress?.(1 - LATER ** round * (1 - done * (1 - LATER)));
    // What mirrors another has the seams that came of that.
    const leaders = wanted.filter((i) => plan.components[i]!.leader < 0);
    const followers = wanted.filter((i) => plan.components[i]!.leader >= 0);
    const part = leaders.length / wanted.length;
    for (const [some, from, to] of [
      [leaders, 0, part],
      [followers, part, 1],
    ] as const) {
      if (some.length === 0) continue;
      const answers = yield* laidOut(some.map(taskOf), (done) => tell(from + (to - from) * done));
      some.forEach((i, k) => {
        laid[i] = answers[k]!;
        strains[i] = answers[k]!.reduce((sum, chart) => sum + strainOf(chart), 0);
      });
    }
    let excess = strains.reduce((sum, x) => sum + x, 0) - WITHIN * (bound ** 2 - 1) * area;
    const changed = new Set<number>();
    while (excess > 0 && taken.length > 0) {
      const { component } = taken.pop()!;
      excess -= weights[component]! * plan.components[component]!.steps[--counts[component]!]!.strain;
      changed.add(component);
    }
    wanted = [...components.keys()].filter((i) => changed.has(i) || changed.has(plan.components[i]!.leader));
  }
  const out = laid.flatMap((charts, i) => {
    const { faces } = plan.components[i]!;
    return charts.map(({ chart, flat }) => ({
      chart: { ...chart, faces: chart.faces.map((f) => faces[f]!) },
      flat,
    }));
  });
  return out.sort((a, b) => a.chart.faces[0]! - b.chart.faces[0]!);
}

/** The seams of a shell as lines of places on the other side of a plane. */
function mirroredSeams(
  { mesh, topology, seams }: MeshComponent,
  charts: readonly FlatChart[],
  plane: SymmetryPlane,
): Vec3[][] {
  const cuts = cutsOf(charts, topology, seams).map((x, e) => (x && !seams[e] ? 1 : 0));
  return cutRuns(topology, cuts).map((run) => run.map((v) => mirrored(placeOf(mesh.positions, v), plane)));
}
