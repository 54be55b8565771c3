import type { Carried } from '../../core/model';
import type { ModelPatch } from '../../core/engine';
import { lostWords } from '../shared/lost-words';
import { CoreError, sentenceOf } from '../../core/errors';
import { backdropSheets, splitFaces, type UvMesh } from '../../core/mesh';
import { boxOf, moveFaces, sheetMove, type LayoutEdit, type SheetMove } from '../../core/unwrap';
import { islandsFor, useLayout } from '../shared/layout-store';
import { notify } from '../shared/notify';
import { jobPool } from '../shared/platform';
import { activeSheet, joinAll, subjectNow, type Session, sheetSizes, useProject } from '../project';
import { withTask } from '../shared/tasks';
import { seamsTaken, tellUnwanted } from './natural-cut';

/** Whether the seams of a layout were found by themselves: they become seams of the project. */
const isFound = (edit: LayoutEdit): edit is LayoutEdit & { readonly do: 'unwrap' } =>
  edit.do === 'unwrap' && edit.how.seams === 'auto';

/** Places share texels after it because they are meant to. */
const isStacked = (edit: LayoutEdit): boolean =>
  edit.do === 'stack' || (edit.do === 'unwrap' && edit.how.stack !== undefined);

export const NOTHING_TO_LAY_OUT =
  'A backdrop lies flat on this sheet: there is nothing to lay out. Choose a sheet of the model.';

function isBackdropSheet(sheet: number): boolean {
  const { mesh } = useProject.getState();
  return mesh !== null && backdropSheets(mesh).has(sheet);
}

/** Changes the layout in a worker; paint follows. */
export async function editLayout(
  session: Session,
  label: string,
  edit: LayoutEdit,
  patch: ModelPatch = {},
): Promise<void> {
  if ('sheet' in edit && edit.sheet !== null && isBackdropSheet(edit.sheet))
    return notify(NOTHING_TO_LAY_OUT);
  const overlapped = isStacked(edit) ? Infinity : overlappedTexels();
  let made: UvMesh | null = null;
  const carried = await session.changeModel(label, async (mesh, document, signal, onProgress) => {
    made = await jobPool.run('editLayout', { mesh, edit }, { signal, onProgress });
    return {
      mesh: made,
      patch: { ...patch, ...(isFound(edit) ? seamsTaken(made, document, edit.sheet) : {}) },
    };
  });
  tell(session, label, carried, overlapped);
  if (made && isFound(edit)) afterFound(session, made, edit.sheet, carried);
}

/** Puts all of the model on one sheet; paint follows. */
export const joinSheets = async (session: Session): Promise<void> =>
  tell(session, 'One sheet', await joinAll(session, useLayout.getState().margin));

/** What follows when a layout with seams that were found was taken. */
function afterFound(session: Session, made: UvMesh, sheet: number | null, carried: Carried | null): void {
  const { document } = useProject.getState();
  const mesh = subjectNow();
  if (!mesh || !document) return;
  // It is the layout that is there already: only its seams are new.
  if (!carried && isSameLayout(mesh, made)) {
    session.command({ do: 'set-layout', ...seamsTaken(made, document, sheet) });
    notify('The layout is as it was; its seams are marked.');
  }
  if (carried) tellUnwanted(made, document);
}

const isSameLayout = (a: UvMesh, b: UvMesh): boolean =>
  a.uvs.length === b.uvs.length && a.uvs.every((x, i) => x === b.uvs[i]);

/** Which of the layouts that were asked for is the last; what comes later of another isn't shown any more. */
let lastLook = 0;

/** Makes a layout and shows it without taking it. */
export async function previewLayout(label: string, edit: LayoutEdit): Promise<void> {
  const mesh = subjectNow();
  if (!mesh) return;
  const mine = ++lastLook;
  try {
    const made = await withTask(label, (signal, onProgress) =>
      jobPool.run('editLayout', { mesh, edit }, { signal, onProgress }),
    );
    if (mine !== lastLook || subjectNow() !== mesh) return;
    const marks = isFound(edit) ? { sheet: edit.sheet } : null;
    useLayout.setState({
      preview: { mesh: made, label, marks, stacked: isStacked(edit) },
      chosen: new Set(),
    });
    const { document } = useProject.getState();
    if (document && marks) tellUnwanted(made, document);
  } catch (error) {
    if (!(error instanceof CoreError && error.code === 'cancelled')) notify(sentenceOf(error));
  }
}

/** Puts the layout that is looked at away. */
export function dismissPreview(): void {
  lastLook++;
  useLayout.setState({ preview: null });
}

/** Takes the layout that is looked at. */
export async function takePreview(session: Session): Promise<void> {
  const { preview } = useLayout.getState();
  if (!preview) return;
  lastLook++;
  const overlapped = preview.stacked ? Infinity : overlappedTexels();
  const carried = await session.changeModel(preview.label, (_mesh, document) =>
    Promise.resolve({
      mesh: preview.mesh,
      patch: preview.marks ? seamsTaken(preview.mesh, document, preview.marks.sheet) : {},
    }),
  );
  useLayout.setState({ preview: null });
  tell(session, preview.label, carried, overlapped);
  if (preview.marks) afterFound(session, preview.mesh, preview.marks.sheet, carried);
}

/** Moves the chosen triangles on the sheet, all in the same way. */
export async function moveChosen(session: Session, label: string, move: SheetMove): Promise<void> {
  const { chosen } = useLayout.getState();
  await moveEach(session, label, (f) => (chosen.has(f) ? move : null));
}

export async function moveEach(
  session: Session,
  label: string,
  moveOf: (face: number) => SheetMove | null,
): Promise<void> {
  const overlapped = overlappedTexels();
  const carried = await session.changeModel(label, (mesh) =>
    Promise.resolve({ mesh: moveFaces(mesh, moveOf) }),
  );
  tell(session, label, carried, overlapped);
}

/** What is chosen becomes a part of its own. */
export async function splitChosen(session: Session): Promise<void> {
  const { chosen } = useLayout.getState();
  await session.changeModel('Split a part', (mesh) => {
    try {
      return Promise.resolve({ mesh: splitFaces(mesh, chosen) });
    } catch (error) {
      notify(sentenceOf(error));
      return Promise.resolve({ mesh });
    }
  });
}

/** Lays mirrored twins on one another, and says what that means for light. */
export async function stackTwins(session: Session, faces: readonly number[]): Promise<void> {
  const carried = await session.changeModel('Stack twins', async (mesh, _document, signal, onProgress) => ({
    mesh: await jobPool.run('editLayout', { mesh, edit: { do: 'stack', faces } }, { signal, onProgress }),
  }));
  if (!carried) return;
  notify(
    'Twins lie on one another now: what is painted on one shows on both. Light and cues are alike for both, or those of the first side only: see Twins.',
  );
}

/** Gives twins texels of their own, and packs the islands. @param faces of those that are meant; all if empty */
export function takeTwinsApart(session: Session, faces: readonly number[]): Promise<void> {
  const { document } = useProject.getState();
  if (!document) return Promise.resolve();
  const { margin, arrange } = useLayout.getState();
  return editLayout(session, 'Separate twins', {
    do: 'apart',
    faces,
    how: { margin, even: false, arrange, weights: new Map(document.weights), pins: document.pins },
    sizes: sheetSizes(),
    sheet: null,
  });
}

/** Packs the islands of the sheet in hand. @param even whether all get the same density first */
export function packIslands(session: Session, even: boolean): Promise<void> {
  const { document } = useProject.getState();
  if (!document) return Promise.resolve();
  const weights = new Map(document.weights);
  return editLayout(session, 'Pack the islands', {
    do: 'pack',
    how: {
      margin: useLayout.getState().margin,
      even,
      arrange: useLayout.getState().arrange,
      weights,
      pins: document.pins,
    },
    sizes: sheetSizes(),
    sheet: activeSheet()?.index ?? 0,
  });
}

const overlappedTexels = (): number =>
  useProject.getState().surface?.sheets.reduce((n, sheet) => n + sheet.overlappedTexels, 0) ?? 0;

/**
 * Says what became of the paint, if there was any, and whether islands have come to lie on one another.
 * @param overlapped texels that belonged to several places before
 */
export function tell(
  session: Session,
  label: string,
  carried: Carried | null,
  overlapped = overlappedTexels(),
): void {
  if (!carried) return;
  const { repainted, resampled, loss } = carried;
  const overlaps = overlappedTexels();
  // What has come to lie over something else is worth more words than what went well. Stacked twins were so before.
  if (overlaps > overlapped) {
    const { document } = useProject.getState();
    notify(
      `${label}: ${overlaps.toLocaleString('en')} texels now belong to more than one place of the model, which would share their paint. Pack the islands, or move them apart.`,
      document ? { label: 'Pack', run: () => void packIslands(session, true) } : undefined,
    );
    return;
  }
  if (repainted.length + resampled.length === 0) {
    notify(`${label}: done.`);
    return;
  }
  const layers = (n: number): string => `${n} ${n === 1 ? 'layer' : 'layers'}`;
  const parts = [
    repainted.length ? `${layers(repainted.length)} painted again from the strokes` : '',
    resampled.length ? `${layers(resampled.length)} resampled` : '',
  ].filter(Boolean);
  const measured =
    loss.lost > 0
      ? lostWords(loss)
      : `Paint differs by ${loss.mean.toFixed(1)} of 255 in the mean, and by no more than ${loss.most.toFixed(0)} on 99 of 100 places.`;
  notify(`${label}: ${parts.join(', ')}. ${measured}`);
}

/** The box round some triangles on the sheet. */
export function boxOnSheet(
  mesh: UvMesh,
  faces: Iterable<number>,
): { left: number; right: number; low: number; high: number } {
  const points: number[] = [];
  for (const f of faces) {
    for (let k = 0; k < 3; k++) {
      const v = mesh.indices[f * 3 + k]! * 2;
      points.push(mesh.uvs[v]!, mesh.uvs[v + 1]!);
    }
  }
  return boxOf(points);
}

/** Turns, scales and moves what is chosen round the middle of its box. */
export function moveAboutMiddle(
  session: Session,
  label: string,
  change: Parameters<typeof sheetMove>[1],
): void {
  const mesh = subjectNow();
  const { chosen } = useLayout.getState();
  if (!mesh || chosen.size === 0) return;
  const box = boxOnSheet(mesh, chosen);
  const middle = [(box.left + box.right) / 2, (box.low + box.high) / 2] as const;
  void moveChosen(session, label, sheetMove(middle, change));
}

/** Packing goes round the chosen islands; or no longer, if they are pinned. */
export function pinChosen(session: Session): void {
  const { document } = useProject.getState();
  const mesh = subjectNow();
  const faces = [...useLayout.getState().chosen];
  if (!mesh || !document || faces.length === 0) return;
  const { ofFace } = islandsFor(mesh);
  const islands = new Set(faces.map((f) => ofFace[f]));
  const others = document.pins.filter((f) => !islands.has(ofFace[f]));
  const firsts = [...islands].map((island) => faces.find((f) => ofFace[f] === island)!);
  const isPinned = faces.some((f) => document.pins.includes(f));
  void session.command({ do: 'set-layout', pins: isPinned ? others : [...others, ...firsts] });
}
