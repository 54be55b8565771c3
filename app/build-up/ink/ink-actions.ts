import {
  closeLine,
  joinLines,
  followLine,
  removePoint,
  reverseLine,
  smoothLine,
  splitLine,
  usualInk,
  type InkLine,
  type InkStyle,
  type InkWish,
} from '../../../core/ink';
import { NODE_DEFAULTS, type InkLayer } from '../../../core/layers';
import { placeOf } from '../../../core/document';
import { subjectDiagonal } from '../../../core/mesh';
import { copiesOf, type Symmetry } from '../../../core/paint';
import { scaleOf, placed } from '../../../core/math';
import { activeNode, useProject, type Session, type Commander } from '../../project';
import { newGesture } from '../../shared/gesture';
import { useInk } from '../../shared/ink-store';
import { notify } from '../../shared/notify';
import { useUi } from '../../shared/ui-store';

/** A line is so wide at first, parts of the model's diagonal. */
const USUAL_WIDTH = 0.004;

/** The ink layer in hand. */
export function inkLayer(): InkLayer | null {
  const node = activeNode();
  return node?.kind === 'ink' ? node : null;
}

/** Lines of the layer in hand that are chosen. */
export function chosenLines(): readonly InkLine[] {
  const { chosen } = useInk.getState();
  return inkLayer()?.lines.filter((line) => chosen.includes(line.id)) ?? [];
}

export function modelDiagonal(): number {
  const { mesh } = useProject.getState();
  return (mesh && subjectDiagonal(mesh)) || 1;
}

/** How the next line is drawn. */
export const nextInk = (): InkStyle =>
  useInk.getState().style ?? { ...usualInk(modelDiagonal() * USUAL_WIDTH), color: useUi.getState().color };

/** Puts lines into the layer in hand; where there is none, into a new one. @returns the numbers of new lines */
export async function putLines(
  session: Session,
  put: readonly InkWish[],
  { remove = [], gesture = null }: { remove?: readonly number[]; gesture?: string | null } = {},
): Promise<readonly number[] | null> {
  const edit = { do: 'edit-ink' as const, put: put.map((line) => ({ ...line })), remove: [...remove] };
  const known = inkLayer()?.id;
  if (known !== undefined) return (await session.command({ ...edit, layer: known }, gesture))?.ids ?? null;
  return session.deed('Draw a line', async (as) => {
    const layer = await oneNewLayer(as);
    return layer === null ? null : ((await as.command({ ...edit, layer }))?.ids ?? null);
  });
}

/** A layer that is being made: lines that are drawn meanwhile go into it too. */
let making: Promise<number | null> | null = null;

function oneNewLayer(session: Commander): Promise<number | null> {
  making ??= newInkLayer(session).finally(() => (making = null));
  return making;
}

async function newInkLayer(session: Commander): Promise<number | null> {
  const { document } = useProject.getState();
  if (!document) return null;
  const node = activeNode();
  const { into, at } = node
    ? placeOf(document.layers, node.id)
    : { into: null, at: document.layers.length - 1 };
  const done = await session.command({
    do: 'add-layer',
    layer: { ...NODE_DEFAULTS, mask: [], kind: 'ink', name: 'Ink' },
    into,
    at: at + 1,
  });
  const [layer] = done?.ids ?? [];
  if (layer === undefined) return null;
  useUi.setState({ target: { layer, channel: 'pixels' }, alsoChosen: new Set() });
  return layer;
}

/** Changes how the chosen lines are drawn, and the next one. */
export function changeInk(session: Session, patch: Partial<InkStyle>, gesture: string | null): void {
  useInk.setState({ style: { ...nextInk(), ...patch } });
  const lines = chosenLines();
  if (lines.length === 0) return;
  void putLines(
    session,
    lines.map((line) => ({ ...line, style: { ...line.style, ...patch } })),
    { gesture },
  );
}

/** Changes the chosen lines, each by itself. */
const changeEach = (session: Session, change: (line: InkLine) => InkLine): void =>
  void putLines(session, chosenLines().map(change));

/** What can be done with chosen lines. */
export const INK_EDITS = {
  smooth: (session: Session) => changeEach(session, (line) => smoothLine(line, 0.5)),
  reverse: (session: Session) => changeEach(session, reverseLine),
  close: (session: Session) => {
    const lines = chosenLines();
    const shut = lines.some((line) => !line.closed);
    if (lines.every((line) => line.press.length < 3)) {
      notify('A closed line needs three points: put one more in, by a double press on the line.');
      return;
    }
    changeEach(session, (line) => closeLine(line, shut));
  },
  join: joinChosen,
  split: splitAtPoint,
  remove: removeChosen,
} as const;

/** Joins two lines, the nearest ends of them; one chosen alone with that whose end lies nearest. */
async function joinChosen(session: Session): Promise<void> {
  const lines = chosenLines().filter((line) => !line.closed);
  const [first] = lines;
  const second = lines[1] ?? (first && nearestOther(first));
  if (!first || !second) {
    notify('Choose two open lines to join; one alone is joined with the line whose end lies nearest.');
    return;
  }
  await putLines(session, [joinLines(first, second)], { remove: [second.id] });
  useInk.setState({ chosen: [first.id], point: null });
}

function nearestOther(line: InkLine): InkLine | undefined {
  const ends = ({ at }: InkLine): number[][] => [at.slice(0, 3), at.slice(-3)];
  const far = (other: InkLine): number =>
    Math.min(...ends(line).flatMap((a) => ends(other).map((b) => Math.hypot(...a.map((x, k) => x - b[k]!)))));
  const others = inkLayer()?.lines.filter((other) => other.id !== line.id && !other.closed) ?? [];
  return others.toSorted((a, b) => far(a) - far(b))[0];
}

async function splitAtPoint(session: Session): Promise<void> {
  const { point } = useInk.getState();
  const line = inkLayer()?.lines.find((l) => l.id === point?.line);
  if (!point || !line) {
    notify('Choose the point first at which the line is to be split.');
    return;
  }
  const parts = splitLine(line, point.index);
  if (parts.length === 1 && parts[0] === line) {
    notify('That point is an end already. Choose one between.');
    return;
  }
  const [first, ...others] = parts;
  const ids = await putLines(session, [first!, ...others.map((part) => ({ ...part, id: null }))]);
  useInk.setState({ chosen: [line.id, ...(ids ?? [])], point: null });
}

/** Removes the point in hand, or else the chosen lines. */
async function removeChosen(session: Session): Promise<void> {
  const { point, chosen } = useInk.getState();
  const line = inkLayer()?.lines.find((l) => l.id === point?.line);
  if (point && line) {
    const less = removePoint(line, point.index);
    useInk.setState({ point: null, ...(!less && { chosen: [] }) });
    await (less ? putLines(session, [less]) : putLines(session, [], { remove: [line.id] }));
    return;
  }
  if (chosen.length === 0) return;
  useInk.setState({ chosen: [], point: null });
  await putLines(session, [], { remove: chosen });
}

/** Copies of the chosen lines wherever a symmetry says, beside them. */
export async function copyOver(session: Session, symmetry: Symmetry): Promise<void> {
  const ways = copiesOf(symmetry).slice(1);
  const lines = chosenLines();
  if (ways.length === 0 || lines.length === 0) return;
  const ids = await putLines(
    session,
    ways.flatMap((way) =>
      lines.map((line) => ({ ...followLine(line, (at) => placed(at, way), scaleOf(way)), id: null })),
    ),
  );
  useInk.setState(({ chosen }) => ({ chosen: [...chosen, ...(ids ?? [])] }));
}

/** Takes the lines that the form draws by itself over for editing. */
export async function takeOver(session: Session): Promise<void> {
  const layer = inkLayer();
  if (!layer?.own) return;
  const lines = await session.ownLines(layer.id);
  if (!lines) return;
  if (lines.length === 0) {
    notify('There are no lines to take over: nothing on the model is as it says here.');
    return;
  }
  const done = await session.command(
    {
      do: 'several',
      label: `Make ${lines.length} lines to be changed`,
      commands: [
        { do: 'edit-ink', layer: layer.id, put: lines.map((line) => ({ ...line, id: null })) },
        { do: 'patch-layer', layer: layer.id, patch: { own: null } },
      ],
    },
    newGesture(),
  );
  if (done) useInk.setState({ mode: 'change', chosen: [], point: null });
}
