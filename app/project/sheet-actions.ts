import type { Carried } from '../../core/model';
import type { Sheet } from '../../core/document';
import { sentenceOf } from '../../core/errors';
import { backdropSheets, MAX_SHEETS, putOnSheet, sheetOfPart, withoutSheet } from '../../core/mesh';
import { isSheetSize, SHEET_SIZES, type SheetSize } from '../../core/surface';
import { activeSheet } from './active-sheet';
import { notify } from '../shared/notify';
import { jobPool } from '../shared/platform';
import { useProject } from './project-store';
import type { Session } from './session';
import { useUi } from '../shared/ui-store';

/** A name that no sheet has yet. */
function freshName(sheets: readonly Sheet[]): string {
  const taken = new Set(sheets.map((s) => s.name));
  let n = sheets.length + 1;
  while (taken.has(`Sheet ${n}`)) n++;
  return `Sheet ${n}`;
}

/** Puts parts on a sheet, or on a new one of the shown sheet's size. Their islands keep their places. */
export async function putParts(
  session: Session,
  parts: readonly number[],
  to: number | 'new',
): Promise<void> {
  const { document, mesh } = useProject.getState();
  if (!document || !mesh) return;
  const { sheets } = document;
  if (to === 'new' && sheets.length >= MAX_SHEETS) {
    notify(`A project has up to ${MAX_SHEETS} sheets. Use one of those that are there.`);
    return;
  }
  const sheet = to === 'new' ? sheets.length : to;
  if (backdropSheets(mesh).has(sheet)) {
    notify('A backdrop has that sheet for itself. Choose another one, or a new one.');
    return;
  }
  if (parts.every((p) => sheetOfPart(mesh, p) === sheet)) return;
  const size = activeSheet()?.size ?? 1024;
  const more: Sheet[] = to === 'new' ? [...sheets, { name: freshName(sheets), size }] : [...sheets];
  const carried = await session.changeModel('Put on another sheet', (m) =>
    Promise.resolve({ mesh: putOnSheet(m, parts, sheet), patch: { sheets: more } }),
  );
  if (!carried) return;
  useUi.setState({ sheet });
  notify(`On “${more[sheet]!.name}” now. Pack that sheet at the Unwrap stage to give its islands room.`);
}

/** @returns what became of the paint; null where nothing changed */
export async function resizeSheet(session: Session, sheet: number, size: number): Promise<Carried | null> {
  const { document } = useProject.getState();
  const old = document?.sheets[sheet];
  if (!document || !old || !isSheetSize(size) || old.size === size) return null;
  const sheets = document.sheets.with(sheet, { ...old, size });
  return session.changeModel(`${old.name} of ${size}`, (mesh) =>
    Promise.resolve({ mesh, patch: { sheets } }),
  );
}

export async function removeSheet(session: Session, sheet: number): Promise<void> {
  const { document, mesh: whole } = useProject.getState();
  if (!document || !whole || document.sheets.length < 2) return;
  if (backdropSheets(whole).has(sheet)) {
    notify(
      'A backdrop lies on that sheet. Remove the backdrop at the Model stage, and its sheet goes with it.',
    );
    return;
  }
  const sheets = document.sheets.filter((_, s) => s !== sheet);
  await session.changeModel('Remove a sheet', (mesh) => {
    try {
      return Promise.resolve({
        mesh: withoutSheet(mesh, sheet),
        patch: { sheets },
        backdrops: (stood) => stood.map((b) => ({ ...b, sheet: b.sheet - (b.sheet > sheet ? 1 : 0) })),
      });
    } catch (error) {
      notify(sentenceOf(error));
      return Promise.resolve({ mesh });
    }
  });
}

/** The sheet that holds as many texels as some others together. */
export function sizeForAll(sizes: readonly number[]): SheetSize {
  const side = Math.sqrt(sizes.reduce((sum, size) => sum + size * size, 0));
  return SHEET_SIZES.find((size) => size >= side * 0.99) ?? SHEET_SIZES.at(-1)!;
}

/** All of the model on one sheet that has as many texels; backdrops keep theirs. */
export async function joinAll(session: Session, margin: number): Promise<Carried | null> {
  const { document, mesh: whole } = useProject.getState();
  if (!document || !whole) return null;
  const flat = backdropSheets(whole);
  const { sheets, weights } = document;
  const size = sizeForAll(sheets.filter((_, s) => !flat.has(s)).map((s) => s.size));
  const behind = sheets.flatMap((_, s) => (flat.has(s) ? [s] : []));
  const carried = await session.changeModel('One sheet', async (mesh, _document, signal) => ({
    mesh: await jobPool.run(
      'editLayout',
      { mesh, edit: { do: 'join', how: { size, margin, weights: new Map(weights) } } },
      { signal },
    ),
    patch: { sheets: [{ ...sheets[0]!, size }, ...behind.map((s) => sheets[s]!)] },
    backdrops: (stood) => stood.map((b) => ({ ...b, sheet: 1 + behind.indexOf(b.sheet) })),
  }));
  if (carried) useUi.setState({ sheet: 0 });
  return carried;
}
