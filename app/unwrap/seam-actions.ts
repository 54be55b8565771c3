import { create } from 'zustand';
import { cornerOfEdge, faceMask, faceRuns } from '../../core/mesh';
import {
  creases,
  facesOfParts,
  layoutSeams,
  partBorders,
  seamCorners,
  type LayoutEdit,
  type SuggestedSeams,
} from '../../core/unwrap';
import { CoreError, sentenceOf } from '../../core/errors';
import { subjectNow, type Session, sheetSizes, useProject } from '../project';
import { topologyFor, useLayout, type LayoutTool, type SeamWish } from '../shared/layout-store';
import { notify } from '../shared/notify';
import { jobPool } from '../shared/platform';
import { withTask } from '../shared/tasks';
import { chosenParts } from '../viewport';
import { markSeams } from './tools/seam-drawing';

/** What the seam commands go by. */
interface RunWish {
  /** Edges that turn by more than this count as creases, degrees. */
  readonly angle: number;
  /** Seams that were found and aren't marked yet. */
  readonly suggested: SuggestedSeams | null;
}

export const useSeamWish = create<RunWish>(() => ({ angle: 40, suggested: null }));

/** What a click does to the model, from now on. */
export const takeTool = (tool: LayoutTool): void => useLayout.setState({ tool, from: null, ahead: [] });

/** The edges that are marked in `marks`; only those of the chosen islands, if any are chosen. */
function edgesWhere(marks: Uint8Array): number[] {
  const mesh = subjectNow();
  if (!mesh) return [];
  const { chosen } = useLayout.getState();
  const { edges } = topologyFor(mesh);
  const inside = new Set([...chosen].flatMap((f) => [0, 1, 2].map((k) => edges.ofCorner[f * 3 + k]!)));
  return [...marks.keys()].filter((e) => marks[e] && (chosen.size === 0 || inside.has(e)));
}

/** Which edges a whole run of seams lies along. */
export const SEAM_RUNS = { creases: 'Creases', islands: 'Islands', parts: 'Parts' } as const;

/** Marks all edges of a kind, or unmarks them. */
export function markRun(session: Session, run: keyof typeof SEAM_RUNS): void {
  const mesh = subjectNow();
  if (!mesh) return;
  const topology = topologyFor(mesh);
  const { angle } = useSeamWish.getState();
  const marks = {
    creases: () => creases(mesh, topology, (angle * Math.PI) / 180),
    islands: () => layoutSeams(mesh, topology),
    parts: () => partBorders(mesh, topology),
  }[run]();
  markSeams(session, edgesWhere(marks));
}

/** Looks where seams would lie by themselves. */
export async function suggestSeams(): Promise<void> {
  const mesh = subjectNow();
  if (!mesh) return;
  const faces = [...useLayout.getState().chosen];
  try {
    const suggested = await withTask('Looking for seams', (signal, onProgress) =>
      jobPool.run('suggestSeams', { mesh, faces }, { signal, onProgress }),
    );
    useSeamWish.setState({ suggested });
  } catch (error) {
    if (!(error instanceof CoreError && error.code === 'cancelled')) notify(sentenceOf(error));
  }
}

/** Leads all seams straight, right through triangles; the model is cut and laid out along them, and they are the artist's own from then on. */
export async function cutSeamsThrough(session: Session): Promise<void> {
  const before = subjectNow()?.faceParts.length ?? 0;
  const carried = await session.changeModel(
    'Straighten seams through triangles',
    async (mesh, document, signal, onProgress) => {
      const edit: LayoutEdit = {
        do: 'cut-through',
        seams: document.seams,
        how: {
          margin: useLayout.getState().margin,
          arrange: useLayout.getState().arrange,
          weights: new Map(document.weights),
        },
        sizes: sheetSizes(),
        sheet: null,
      };
      const made = await jobPool.run('editLayout', { mesh, edit }, { signal, onProgress });
      const cuts = made.faceParts.length > mesh.faceParts.length;
      if (!cuts) notify('No seam has stairs that could be cut straight: nothing was changed.');
      return cuts
        ? { mesh: made, byTriangle: false, patch: { seams: seamCorners(made), foundSeams: [] } }
        : { mesh };
    },
  );
  if (!carried) return;
  const more = (subjectNow()?.faceParts.length ?? 0) - before;
  notify(
    `Seams run straight now; the model has ${more.toLocaleString('en')} more triangles. Undo brings the former model back.`,
  );
}

/** Says of some triangles what the brush says. */
export function setWish(
  session: Session,
  faces: Iterable<number>,
  wish: SeamWish = useLayout.getState().wish,
): void {
  const { document } = useProject.getState();
  const mesh = subjectNow();
  if (!mesh || !document) return;
  const count = mesh.faceParts.length;
  const never = faceMask(count, document.seamWishes.never);
  const gladly = faceMask(count, document.seamWishes.gladly);
  for (const f of faces) {
    never[f] = wish === 'never' ? 1 : 0;
    gladly[f] = wish === 'gladly' ? 1 : 0;
  }
  session.command({
    do: 'set-layout',
    seamWishes: {
      never: faceRuns(count, (f) => never[f] === 1),
      gladly: faceRuns(count, (f) => gladly[f] === 1),
    },
  });
}

/** The same of the chosen islands, or of the chosen parts if no island is. */
export function wishForChosen(session: Session, wish: SeamWish): void {
  const mesh = subjectNow();
  if (!mesh) return;
  const { chosen } = useLayout.getState();
  const faces = chosen.size ? chosen : facesOfParts(mesh, new Set(chosenParts()));
  if ([...faces].length === 0) {
    notify('Choose islands or a part first: what is wished for is said of them.');
    return;
  }
  setWish(session, faces, wish);
}

/** Unmarks every seam, or those of the chosen islands. */
export function clearSeams(session: Session): void {
  const { document } = useProject.getState();
  const mesh = subjectNow();
  if (!mesh || !document) return;
  const topology = topologyFor(mesh);
  const corner = cornerOfEdge(topology);
  const all = new Uint8Array(topology.edges.uses.length).fill(1);
  const gone = new Set(edgesWhere(all).map((e) => corner[e]!));
  void session.command({
    do: 'set-layout',
    seams: document.seams.filter((c) => !gone.has(c)),
    paintEdges: document.paintEdges.filter((c) => !gone.has(c)),
    foundSeams: document.foundSeams.filter((c) => !gone.has(c)),
  });
}
