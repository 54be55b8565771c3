import type { ModelPatch } from '../../core/engine';
import type { ProjectDocument } from '../../core/document';
import { CoreError, sentenceOf } from '../../core/errors';
import { cornerOfEdge, faceMask, faceRuns, sheetOfFace, type UvMesh } from '../../core/mesh';
import {
  layoutSeams,
  sayUnwanted,
  stepsWithin,
  unwantedSeams,
  type PlanStep,
  type UnwrapOptions,
} from '../../core/unwrap';
import { subjectNow, useProject } from '../project';
import { topologyFor, useLayout, type LayoutState, type PlannedCut } from '../shared/layout-store';
import { notify } from '../shared/notify';
import { jobPool } from '../shared/platform';
import { withTask } from '../shared/tasks';

const NONE: readonly number[] = [];
const known = new WeakMap<object, { readonly found: object; readonly kept: readonly number[] }>();

/** Seams that were drawn or moved by hand; the same list as long as they are the same. */
export function ownSeams({
  seams,
  foundSeams,
}: Pick<ProjectDocument, 'seams' | 'foundSeams'>): readonly number[] {
  const last = known.get(seams);
  if (last?.found === foundSeams) return last.kept;
  const found = new Set(foundSeams);
  const kept = seams.filter((c) => !found.has(c));
  known.set(seams, { found: foundSeams, kept });
  return kept;
}

export const keptSeams = (document: Pick<ProjectDocument, 'seams' | 'foundSeams'>): readonly number[] =>
  useLayout.getState().keeps ? ownSeams(document) : NONE;

/** What shares texels when a model is laid out, and how large its parts shall be: where they differ nothing is shared. */
export function stackWish(
  mesh: UvMesh,
  { regions, weights }: Pick<ProjectDocument, 'regions' | 'weights'>,
  { stacks, apart }: Pick<LayoutState, 'stacks' | 'apart'>,
): Pick<UnwrapOptions, 'stack' | 'weights'> {
  const sizes = { weights: new Map(weights) };
  if (!stacks) return sizes;
  const kept = regions
    .filter(({ id }) => apart.has(id))
    .map(({ faces }) => faceMask(mesh.faceParts.length, faces));
  const isApart = (f: number): boolean =>
    apart.has(mesh.parts[mesh.faceParts[f]!]!) || kept.some((mask) => mask[f] === 1);
  return { ...sizes, stack: { apart: faceRuns(mesh.faceParts.length, isApart) } };
}

/** The plan that holds for the model as it is; null if there is none. */
export function planFor(
  planned: PlannedCut | null,
  mesh: UvMesh,
  document: Pick<ProjectDocument, 'seams' | 'foundSeams' | 'seamWishes'>,
  sheet: number | null,
  { keeps, stacks, apart }: Pick<LayoutState, 'keeps' | 'stacks' | 'apart'>,
): PlannedCut | null {
  const kept = keeps ? ownSeams(document) : NONE;
  const holds =
    planned?.mesh === mesh &&
    planned.sheet === sheet &&
    planned.kept === kept &&
    planned.wishes === document.seamWishes &&
    planned.shares.stacks === stacks &&
    planned.shares.apart === apart;
  return holds ? planned : null;
}

/** What a plan comes to at a stretch; null before its first step. */
export const stepAt = ({ plan }: PlannedCut, bound: number): PlanStep | null =>
  plan.steps[stepsWithin(plan, bound) - 1] ?? null;

/** Finds out where seams may go, from many to few. @returns null if it was stopped or couldn't be */
export async function planNatural(sheet: number | null): Promise<PlannedCut | null> {
  const { document } = useProject.getState();
  const mesh = subjectNow();
  if (!mesh || !document) return null;
  const [kept, wishes] = [keptSeams(document), document.seamWishes];
  const now = useLayout.getState();
  const ready = planFor(now.planned, mesh, document, sheet, now);
  if (ready) return ready;
  const shares = stackWish(mesh, document, now);
  try {
    const plan = await withTask('Looking for seams', (signal, onProgress) =>
      jobPool.run('planLayout', { mesh, sheet, kept, wishes, ...shares }, { signal, onProgress }),
    );
    const planned = { plan, mesh, sheet, kept, wishes, shares: now };
    useLayout.setState({ planned });
    return planned;
  } catch (error) {
    if (!(error instanceof CoreError && error.code === 'cancelled')) notify(sentenceOf(error));
    return null;
  }
}

/** The seams of a layout as seams of the project: those that were found before and not touched since give way to them. */
export function seamsTaken(
  made: UvMesh,
  { seams, foundSeams, paintEdges }: ProjectDocument,
  sheet: number | null,
): Required<Pick<ModelPatch, 'seams' | 'foundSeams' | 'paintEdges'>> {
  const topology = topologyFor(made);
  const corner = cornerOfEdge(topology);
  const isSeam = layoutSeams(made, topology);
  const isHere = (c: number): boolean => sheet === null || sheetOfFace(made, Math.floor(c / 3)) === sheet;
  const was = new Set(foundSeams);
  const own = new Set(seams.filter((c) => !was.has(c)));
  const found = new Set(foundSeams.filter((c) => !isHere(c)));
  isSeam.forEach((x, e) => {
    const c = corner[e]!;
    if (x && isHere(c) && !own.has(c)) found.add(c);
  });
  const sorted = (list: Iterable<number>): number[] => [...list].sort((a, b) => a - b);
  const all = new Set([...own, ...found]);
  return {
    seams: sorted(all),
    foundSeams: sorted(found),
    paintEdges: paintEdges.filter((c) => all.has(c)),
  };
}

/** Says so if seams of a layout run where none is wanted. */
export function tellUnwanted(made: UvMesh, { seamWishes }: Pick<ProjectDocument, 'seamWishes'>): void {
  const said = sayUnwanted(unwantedSeams(made, topologyFor(made), seamWishes));
  if (said) notify(said);
}
