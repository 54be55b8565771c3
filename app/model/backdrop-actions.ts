import { CoreError } from '../../core/errors';
import {
  backdropsOf,
  cornersOf,
  subjectBounds,
  frameOfBackdrop,
  MAX_SHEETS,
  type Backdrop,
  type BackdropFrame,
} from '../../core/mesh';
import type { Vec3 } from '../../core/math';
import type { SheetSize } from '../../core/surface';
import { activeSheet, useProject, type Session } from '../project';
import { notify } from '../shared/notify';
import { useUi } from '../shared/ui-store';

/** Where a backdrop is put at first. */
export type Stand = 'behind' | 'before';

/** Of the model's longest side: how far from the model, how wide and high, and how far below its foot a new backdrop stands. */
const STANDS: Readonly<
  Record<Stand, { name: string; away: number; width: number; height: number; below: number }>
> = {
  behind: { name: 'Backdrop', away: 0.7, width: 3, height: 2.25, below: 0.5 },
  before: { name: 'Foreground', away: 0.35, width: 2.4, height: 0.6, below: 0.2 },
};

/** Of a backdrop's sheet, texels a side. */
const LEAST_SIZE = 1024;

function frameFor(stand: Stand): Omit<BackdropFrame, 'toward'> | null {
  const { mesh } = useProject.getState();
  if (!mesh) return null;
  const { min, max } = subjectBounds(mesh);
  const side = Math.max(...max.map((m, k) => m - min[k]!)) || 1;
  const { away, width, height, below } = STANDS[stand];
  const z = stand === 'behind' ? min[2] - away * side : max[2] + away * side;
  const y = min[1] - below * side + (height * side) / 2;
  const centre: Vec3 = [(min[0] + max[0]) / 2, y, z];
  return { centre, right: [1, 0, 0], up: [0, 1, 0], width: width * side, height: height * side };
}

/** Puts a plane behind or before the model, on a sheet of its own, and takes it in hand. */
export async function addBackdrop(session: Session, stand: Stand): Promise<void> {
  const { document, mesh } = useProject.getState();
  const frame = frameFor(stand);
  if (!document || !mesh || !frame) return;
  if (document.sheets.length >= MAX_SHEETS) {
    notify(
      `A project has up to ${MAX_SHEETS} sheets, and a backdrop needs one for itself. Remove one first.`,
    );
    return;
  }
  // It is larger than the model, and looked at as a picture.
  const size = Math.max(LEAST_SIZE, activeSheet()?.size ?? 0) as SheetSize;
  let added = { name: '', sheet: 0 };
  // What it is called and where it lies follows from what there is when it is made: another may have been added meanwhile.
  const done = await session.changeModel(`Add a ${STANDS[stand].name.toLowerCase()}`, (form, { sheets }) => {
    const sheet = sheets.length;
    let name = STANDS[stand].name;
    const names = new Set([...form.parts, ...sheets.map((s) => s.name)]);
    for (let n = 2; names.has(name); n++) name = `${STANDS[stand].name} ${n}`;
    added = { name, sheet };
    return Promise.resolve({
      mesh: form,
      patch: { sheets: [...sheets, { name, size }] },
      backdrops: (stood) => [...stood, { name, sheet, corners: cornersOf(frame) }],
    });
  });
  if (!done) return;
  useUi.setState({ backdrop: added.name, sheet: added.sheet });
  notify(
    `“${added.name}” is in hand: fill it at Block in, or paint on it. Where it is bare one looks through it.`,
  );
}

/** Changes how a backdrop stands, or what it is called. */
export async function changeBackdrop(
  session: Session,
  name: string,
  change: Partial<Pick<BackdropFrame, 'centre' | 'width' | 'height'>> & { readonly name?: string },
): Promise<void> {
  const { mesh } = useProject.getState();
  if (!mesh) return;
  const { name: wanted, ...place } = change;
  const called = wanted?.trim().slice(0, 80);
  if (called !== undefined && (called === '' || (called !== name && mesh.parts.includes(called)))) {
    notify(
      called
        ? `Another part is called “${called}” already. Choose another name.`
        : 'A backdrop needs a name.',
    );
    return;
  }
  const changed = (backdrop: Backdrop): Backdrop =>
    backdrop.name !== name
      ? backdrop
      : {
          ...backdrop,
          name: called ?? name,
          corners: cornersOf({ ...frameOfBackdrop(backdrop), ...place }),
        };
  const done = await session.changeModel(called ? 'Rename a backdrop' : 'Move a backdrop', (form) =>
    Promise.resolve({
      mesh: form,
      backdrops: (stood) => stood.map(changed),
      ...(called && called !== name ? { renamed: [[name, called] as const] } : {}),
    }),
  );
  if (done && called && useUi.getState().backdrop === name) useUi.setState({ backdrop: called });
}

/** Takes a backdrop away, with its sheet and what was painted on it; undo brings all of it back. */
export async function removeBackdrop(session: Session, name: string): Promise<void> {
  const { mesh } = useProject.getState();
  const goneFrom = (of: readonly Backdrop[]): number => of.find((b) => b.name === name)?.sheet ?? -1;
  const gone = mesh ? goneFrom(backdropsOf(mesh)) : -1;
  if (gone < 0) return;
  const after = (sheet: number): number => sheet - (sheet > gone ? 1 : 0);
  const done = await session.changeModel(`Remove “${name}”`, (form, { sheets }) =>
    Promise.resolve({
      mesh: form.partSheets ? { ...form, partSheets: form.partSheets.map(after) } : form,
      patch: { sheets: sheets.filter((_, k) => k !== gone) },
      backdrops: (stood) => {
        if (goneFrom(stood) !== gone) {
          throw new CoreError(
            'bad-argument',
            `“${name}” has changed meanwhile. Look at it, and remove it again.`,
          );
        }
        return stood.filter((b) => b.name !== name).map((b) => ({ ...b, sheet: after(b.sheet) }));
      },
    }),
  );
  if (done && useUi.getState().backdrop === name) useUi.setState({ backdrop: null, sheet: 0 });
}
