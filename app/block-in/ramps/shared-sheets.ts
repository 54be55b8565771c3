import { z } from 'zod';
import { projectRampSchema, projectRampsSchema, type ProjectRamps } from '../../../core/ramps';
import { type Session, useProject } from '../../project';
import { notify, undoable } from '../../shared/notify';
import { ask } from '../../shared/question';
import { store } from '../../shared/platform';

/** A ramp sheet that several projects share, as it is stored. */
const sharedSchema = z.strictObject({
  id: z.string(),
  name: z.string().min(1).max(60),
  /** Grows by one with every change. */
  state: z.int().nonnegative(),
  size: projectRampsSchema.shape.size,
  lie: projectRampsSchema.shape.lie,
  ramps: z.array(projectRampSchema.omit({ id: true })).min(2),
});
export type SharedSheet = z.infer<typeof sharedSchema>;

type Drawn = Pick<ProjectRamps, 'size' | 'lie' | 'ramps'>;

const bare = ({ size, lie, ramps }: Drawn): Pick<SharedSheet, 'size' | 'lie' | 'ramps'> => ({
  size,
  lie,
  ramps: ramps.map(({ name, colors }) => ({ name, colors })),
});

/** The sheets that are shared; those that can't be read are left out. @throws what storage throws */
export async function sharedSheets(): Promise<SharedSheet[]> {
  const rows = await store.rampSheets.toArray();
  return rows.flatMap((row) => {
    const parsed = sharedSchema.safeParse(row);
    return parsed.success ? [parsed.data] : [];
  });
}

/** Names of the other projects that share a sheet; null if that can't be told. */
async function othersWith(id: string): Promise<string[] | null> {
  const own = useProject.getState().id;
  const rows = await store.projects.toArray().catch(() => null);
  if (!rows) return null;
  return rows
    .filter((row) => row.id !== own && row.deletedAt === null && sharedIdIn(row.document) === id)
    .map((row) => row.name);
}

const documentWithShared = z.looseObject({
  ramps: z.looseObject({ shared: z.looseObject({ id: z.string() }).nullable() }).nullable(),
});

function sharedIdIn(document: unknown): string | null {
  const parsed = documentWithShared.safeParse(document);
  return parsed.success ? (parsed.data.ramps?.shared?.id ?? null) : null;
}

/** Lets other projects have the sheet too. */
export async function shareSheet(session: Session, name: string): Promise<void> {
  const ramps = useProject.getState().document?.ramps;
  if (!ramps) return;
  const id = crypto.randomUUID();
  try {
    await store.rampSheets.put({ id, name, state: 1, ...bare(ramps) });
  } catch {
    notify(
      'The browser can’t write to its storage just now, so the sheet isn’t shared. Free some space and try again.',
    );
    return;
  }
  const done = await session.command({ do: 'set-ramps', shared: { id, name, state: 1 } });
  undoable(session, `“${name}” can be opened in other projects now. A change shows in all of them.`)(done);
}

/** Takes a shared sheet into the project; what lies on ramps of the same names stays on them. */
export async function openShared(session: Session, sheet: SharedSheet): Promise<void> {
  const present = useProject.getState().document?.ramps ?? null;
  const done = await session.command({ do: 'set-ramps', ...asCommand(sheet, present) });
  undoable(session, `The ramps are those of “${sheet.name}” now.`)(done);
}

/** A sheet's ramps, under the ids that the project has for their names. */
function asCommand({ id, name, state, size, lie, ramps }: SharedSheet, present: ProjectRamps | null) {
  const known = new Map(present?.ramps.map((r) => [r.name, r.id]));
  return {
    size,
    lie,
    shared: { id, name, state },
    ramps: ramps.map((ramp) => ({ ...ramp, id: known.get(ramp.name) ?? null })),
  };
}

/** The gesture during which it was said that all projects are to follow. */
let agreed: string | null = null;

/** Changes a shared sheet: in all of its projects, or in this one only, as the artist says. */
export async function changeShared(
  session: Session,
  present: ProjectRamps,
  patch: Partial<Drawn>,
  gesture: string | null,
): Promise<void> {
  const { shared } = present;
  if (!shared) return;
  const isAgreed = gesture !== null && gesture === agreed;
  const others = isAgreed ? [] : await othersWith(shared.id);
  const everywhere =
    others?.length === 0
      ? true
      : await ask({
          title: `Change “${shared.name}” everywhere?`,
          text: `${sharersWords(others)} these ramps too. A change shows there when they are opened next. If it is for this project only, its sheet is its own from now on.`,
          yes: 'Change it everywhere',
          no: 'Only here',
        });
  if (everywhere === null) return;
  agreed = everywhere ? gesture : null;
  if (!everywhere) {
    await session.command({ do: 'set-ramps', ...patch, shared: null }, gesture);
    return;
  }
  const state = shared.state + 1;
  const done = await session.command({ do: 'set-ramps', ...patch, shared: { ...shared, state } }, gesture);
  if (!done) return;
  const now = useProject.getState().document?.ramps;
  await store.rampSheets
    .put({
      id: shared.id,
      name: shared.name,
      state,
      ...bare({ ...present, ...patch, ...(now && bareOf(now)) }),
    })
    .catch(() =>
      notify(
        'The change is in this project, but the browser couldn’t keep it for the others. Free some space and change it again.',
      ),
    );
}

const sharersWords = (others: readonly string[] | null): string => {
  if (!others) return 'Which other projects share it can’t be read just now; some may have';
  return others.length === 1 ? `“${others[0]}” has` : `${others.length} other projects have`;
};

const bareOf = ({ size, lie, ramps }: ProjectRamps): Drawn => ({ size, lie, ramps });

/** Takes over what other projects did to the sheet since. */
export async function followShared(session: Session): Promise<void> {
  const present = useProject.getState().document?.ramps;
  const shared = present?.shared;
  if (!present || !shared) return;
  const sheets = await sharedSheets().catch(() => null);
  if (!sheets)
    return notify(
      `Whether “${shared.name}” was changed in another project can’t be read just now. Its ramps are as they were here.`,
    );
  const sheet = sheets.find((s) => s.id === shared.id);
  if (!sheet) {
    // The project came from elsewhere: here it is the first that has the sheet.
    const { id, name, state } = shared;
    try {
      await store.rampSheets.put({ id, name, state, ...bare(present) });
      notify(
        `The shared ramp sheet “${name}” wasn’t in this browser. Its ramps came with the project; other projects can open it from here now.`,
      );
    } catch {
      // The project has its ramps all the same; it is tried again at the next opening.
    }
    return;
  }
  if (sheet.state <= shared.state) return;
  const done = await session.command({ do: 'set-ramps', ...asCommand(sheet, present) });
  undoable(session, `The ramps of “${sheet.name}” were changed in another project, and show here too.`)(done);
}
