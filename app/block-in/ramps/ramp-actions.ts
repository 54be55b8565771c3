import {
  rampsFromColors,
  rampsFromSwatches,
  shadesAround,
  type NewRamp,
  type ProjectRamps,
  type RampAssignment,
} from '../../../core/ramps';
import type { Target } from '../../../core/layers';
import { freeRegionName, type Commander, type Session, useProject } from '../../project';
import { chooseNoFaces, someFacesChosen, useFaceChoice } from '../../shared/face-choice';
import { notify, undoable } from '../../shared/notify';
import { jobPool, quickPool } from '../../shared/platform';
import { useUi } from '../../shared/ui-store';
import { chosenParts } from '../../viewport';
import { changeShared } from './shared-sheets';
import { seatNow, useRampHand } from './ramp-hand';

const rampsNow = (): ProjectRamps | null => useProject.getState().document?.ramps ?? null;

/** A picture is looked at no larger than this, pixels a side: its main colours are the same. */
const LOOK = 256;

/** Ramps that a picture gives, and the colours that they are put together from. */
const PICTURE_RAMPS = 8;
const PICTURE_COLORS = 24;

async function makeSheet(session: Session, ramps: readonly NewRamp[], from: string): Promise<void> {
  if (ramps.length < 2) {
    notify(`${from} has fewer than two colours: there would be fewer than two ramps. Add colours first.`);
    return;
  }
  const size = ramps.length > 21 ? 256 : 64;
  const done = await session.command({
    do: 'set-ramps',
    size,
    ramps: ramps.map(({ name, colors }) => ({ id: null, name, colors: [...colors] })),
  });
  undoable(session, `A sheet of ${ramps.length} ramps. Drag one onto a part of the model.`)(done);
}

/** A ramp of shadow, colour and light for each colour of the palette. */
export async function rampsFromPalette(session: Session): Promise<void> {
  const { document } = useProject.getState();
  await makeSheet(session, rampsFromSwatches(document?.palette ?? []), 'The palette');
}

/** Ramps out of the main colours of the chosen reference. */
export async function rampsFromReference(session: Session): Promise<void> {
  const { document } = useProject.getState();
  const wanted = useUi.getState().reference;
  const reference = document?.references.find((r) => r.id === wanted) ?? document?.references[0];
  const bytes = reference && (await session.file(reference.id));
  if (!reference || !bytes) {
    notify('There is no reference on the easel. Add one, or make the ramps from the palette.');
    return;
  }
  const bitmap = await createImageBitmap(new Blob([bytes as Uint8Array<ArrayBuffer>]));
  const scale = Math.min(1, LOOK / Math.max(bitmap.width, bitmap.height));
  const [width, height] = [bitmap.width, bitmap.height].map((n) => Math.max(1, Math.round(n * scale))) as [
    number,
    number,
  ];
  const context = new OffscreenCanvas(width, height).getContext('2d')!;
  context.drawImage(bitmap, 0, 0, width, height);
  bitmap.close();
  const { data } = context.getImageData(0, 0, width, height);
  const colors = await quickPool.run('paletteOf', {
    rgba: new Uint8Array(data.buffer),
    count: PICTURE_COLORS,
  });
  await makeSheet(session, rampsFromColors(colors, PICTURE_RAMPS), `“${reference.name}”`);
}

/** Ramps of what is painted, as many as a sheet of 64 texels holds. */
const PAINT_RAMPS = 21;

/** Ramps out of what is painted on the parts. */
export async function rampsFromPaint(session: Session): Promise<void> {
  const { surface } = useProject.getState();
  const rows = await albedoRows(session);
  if (!surface || !rows) return;
  const ramps = await jobPool.run('rampsFromPaint', { surface, rows, most: PAINT_RAMPS });
  await makeSheet(session, ramps, 'The paint');
}

/** The albedo of every sheet; null if it can't be read, which is told. */
export async function albedoRows(session: Session): Promise<Uint8Array[] | null> {
  const { document } = useProject.getState();
  const rows: Uint8Array[] = [];
  for (const sheet of document?.sheets.keys() ?? []) {
    const picture = await session.sheetRows(sheet);
    if (!picture) return null;
    rows.push(picture);
  }
  return rows;
}

/** Two ramps around the colour in hand, to be gone on with. */
export const rampsByHand = (session: Session): Promise<void> => {
  const { color } = useUi.getState();
  return makeSheet(
    session,
    [
      { name: 'Ramp 1', colors: shadesAround(color) },
      { name: 'Ramp 2', colors: ['#2b2430', '#f3ece0'] },
    ],
    'The hand',
  );
};

/** Changes the sheet; one that is shared changes in all its projects, if that is wanted. */
export async function changeSheet(
  session: Session,
  patch: Partial<Pick<ProjectRamps, 'size' | 'lie' | 'ramps'>>,
  gesture: string | null = null,
): Promise<void> {
  const present = rampsNow();
  if (!present) return;
  if (present.shared) await changeShared(session, present, patch, gesture);
  else await session.command({ do: 'set-ramps', ...patch }, gesture);
}

export async function addRamp(session: Session): Promise<void> {
  const present = rampsNow();
  if (!present) return;
  const taken = new Set(present.ramps.map((r) => r.name));
  let n = present.ramps.length + 1;
  while (taken.has(`Ramp ${n}`)) n++;
  const colors = shadesAround(useUi.getState().color);
  await session.command({
    do: 'set-ramps',
    ...(present.shared && { shared: null }),
    ramps: [...present.ramps, { id: null, name: `Ramp ${n}`, colors }],
  });
  if (present.shared)
    notify(`The sheet has a ramp that “${present.shared.name}” hasn’t: it is this project’s own now.`);
}

/** How a run lies that nobody has turned yet: dark below, light above. */
const USUAL: Pick<RampAssignment, 'run' | 'from' | 'to' | 'rings'> = {
  run: { kind: 'straight', direction: [0, 1, 0] },
  from: 0,
  to: 1,
  rings: [],
};

/** Puts something on a ramp. What lies on one already keeps its run. */
export async function putOn(session: Commander, of: Target, ramp: number): Promise<void> {
  const present = rampsNow();
  const known = present?.seats.find((s) => JSON.stringify(s.of) === JSON.stringify(of));
  const { run, from, to, rings } = known ?? USUAL;
  const done = await session.command({ do: 'seat', of, ramp, run, from, to, rings });
  if (done?.ids[0] !== undefined) useRampHand.setState({ seat: done.ids[0] });
}

/** Puts chosen faces on a ramp, as a region. */
async function putFacesOn(session: Session, ramp: number): Promise<void> {
  const { faces, cuts } = useFaceChoice.getState();
  const region = {
    name: freeRegionName([...faces]),
    faces: [...faces].sort((a, b) => a - b),
    cuts: [...cuts],
  };
  const same = useProject
    .getState()
    .document?.regions.find((r) => r.faces.length === faces.size && r.faces.every((f) => faces.has(f)));
  if (same) {
    chooseNoFaces();
    return putOn(session, { region: same.id }, ramp);
  }
  const done = await session.command({ do: 'seat-faces', region, ramp, ...USUAL });
  const seat = done?.ids[1];
  if (seat === undefined) return;
  chooseNoFaces();
  useRampHand.setState({ seat });
  undoable(session, `“${region.name}” lies on its ramp now, and is kept as a region.`)(done);
}

/** Puts the chosen faces or parts on a ramp. */
export async function putChosenOn(session: Session, ramp: number): Promise<void> {
  const { mesh } = useProject.getState();
  if (someFacesChosen(useFaceChoice.getState())) return putFacesOn(session, ramp);
  const parts = chosenParts();
  if (!mesh || parts.length === 0) {
    notify('Choose a part or some faces first, or drag the ramp onto the model.');
    return;
  }
  await session.deed('Put on a ramp', async (as) => {
    for (const part of parts) await putOn(as, { part: mesh.parts[part]! }, ramp);
  });
}

/** A ramp was dropped on a triangle: what is chosen there lies on it, or else the whole part. */
export async function dropRamp(
  session: Session,
  ramp: number,
  hit: { face: number; part: number },
): Promise<void> {
  const { mesh } = useProject.getState();
  if (!mesh) return;
  if (useFaceChoice.getState().faces.has(hit.face)) return putFacesOn(session, ramp);
  const region = regionSeatAt(hit.face);
  await putOn(session, region ?? { part: mesh.parts[hit.part]! }, ramp);
}

/** The region on a ramp that a triangle belongs to. */
function regionSeatAt(face: number): Target | null {
  const { document } = useProject.getState();
  const found = document?.ramps?.seats.findLast(
    ({ of }) => 'region' in of && document.regions.find((r) => r.id === of.region)?.faces.includes(face),
  );
  return found?.of ?? null;
}

export function patchSeat(
  session: Session,
  seat: number,
  patch: Partial<Pick<RampAssignment, 'ramp' | 'run' | 'from' | 'to' | 'rings'>>,
  gesture: string | null = null,
): void {
  void session.command({ do: 'patch-seat', seat, patch }, gesture);
}

export function flipSeat(session: Session): void {
  const seat = seatNow();
  if (seat) patchSeat(session, seat.id, { from: seat.to, to: seat.from });
}

export function takeOff(session: Session): void {
  const seat = seatNow();
  if (!seat) return;
  useRampHand.setState({ seat: null });
  void session
    .command({ do: 'remove-seats', seats: [seat.id] })
    .then(undoable(session, 'It lies on its own sheet again, with the paint that it had.'));
}
