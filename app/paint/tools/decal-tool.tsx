import { Vector3 } from 'three';
import { NODE_DEFAULTS, type DecalLayer } from '../../../core/layers';
import { placeOf } from '../../../core/document';
import { usualDecal, type DecalSpec } from '../../../core/decal';
import { cross } from '../../../core/math';
import { centreOf, diagonalOf, subjectBounds, type UvMesh } from '../../../core/mesh';
import { activeNode, type Session, useActiveNode, useProject, type Commander } from '../../project';
import { patternOfWords } from '../../build-up';
import { newGesture } from '../../shared/gesture';
import { notify } from '../../shared/notify';
import { useUi } from '../../shared/ui-store';
import {
  useEveryPicture,
  type Gesture,
  type Hit,
  type PointerAt,
  type StageView,
  type ToolMaker,
} from '../../viewport';
import { usePaint } from '../paint-store';

type Vec3 = [number, number, number];

/** The corner by which a decal is turned and scaled is hit within so many pixels. */
const NEAR = 12;

/** A press sets a picture or words on the surface; the one that is chosen is dragged, and turned and scaled by its corner. */
export const decalTool =
  (session: Session): ToolMaker =>
  (view) => ({
    name: 'decal',
    cursor: 'move',
    press: (at, hit) => {
      if (at.pane !== 'model') return null;
      const chosen = chosenDecal();
      const isFresh = usePaint.getState().decalFresh;
      if (chosen && !isFresh) {
        const corner = cornersOf(view, chosen.decal)[2]!;
        if (Math.hypot(corner.x - at.x, corner.y - at.y) <= NEAR) return turning(session, view, chosen, at);
        if (!hit) return null;
        return moving(session, view, chosen.id);
      }
      if (!hit) return null;
      void setNew(session, view, hit);
      return 'done';
    },
    leave: () => {
      usePaint.setState({ tool: 'brush', decalFresh: false });
      return true;
    },
    overlay: () => <DecalFrame view={view} />,
  });

/** The decal in hand. */
function chosenDecal(): DecalLayer | null {
  const node = activeNode();
  return node?.kind === 'decal' ? node : null;
}

const frames = new WeakMap<UvMesh, { readonly centre: Vec3; readonly diagonal: number }>();

function frameOf(mesh: UvMesh) {
  let known = frames.get(mesh);
  if (!known) {
    const bounds = subjectBounds(mesh);
    known = { centre: [...centreOf(bounds)] as Vec3, diagonal: diagonalOf(bounds) || 1 };
    frames.set(mesh, known);
  }
  return known;
}

/** Where a decal that is set here stands, upright on the picture. */
function placeAt(view: StageView, hit: Hit): Pick<DecalSpec, 'at' | 'normal' | 'up'> {
  const { centre, diagonal } = frameOf(useProject.getState().mesh!);
  const { x, y, z } = hit.point;
  const up = new Vector3(0, 1, 0).applyQuaternion(view.rig.turn);
  const rounded = (v: Vector3): Vec3 => v.toArray().map((n) => Number(n.toFixed(5))) as Vec3;
  return {
    at: [x, y, z].map((v, k) => Number(((v - centre[k]!) / diagonal).toFixed(6))) as Vec3,
    normal: rounded(hit.normal.clone().normalize()),
    up: rounded(up),
  };
}

async function setNew(session: Session, view: StageView, hit: Hit): Promise<void> {
  const { decalPicture, decalWords } = usePaint.getState();
  const { color } = useUi.getState();
  const text = decalWords.trim();
  if (!text && decalPicture === null) {
    notify('Choose a picture, or write words, first; then press where it is to be set.');
    return;
  }
  const layer = await session.deed('Set a decal', (as) =>
    newDecal(as, view, hit, text ? { text, color } : null),
  );
  if (layer === undefined) return;
  useUi.setState({ target: { layer, channel: 'pixels' }, alsoChosen: new Set() });
  usePaint.setState({ decalFresh: false });
}

/** Sets a picture, or words, on the surface. @returns its layer; undefined if it can't be done, which is told */
async function newDecal(
  session: Commander,
  view: StageView,
  hit: Hit,
  words: DecalSpec['words'],
): Promise<number | undefined> {
  const picture = words
    ? await patternOfWords(session, words.text, words.color)
    : usePaint.getState().decalPicture;
  const { document } = useProject.getState();
  if (picture === null || !document) return undefined;
  const node = activeNode();
  const { into, at } = node
    ? placeOf(document.layers, node.id)
    : { into: null, at: document.layers.length - 1 };
  const name = words?.text ?? document.patterns.find((p) => p.id === picture)?.name ?? 'Decal';
  const done = await session.command({
    do: 'add-layer',
    layer: {
      ...NODE_DEFAULTS,
      mask: [],
      kind: 'decal',
      name: name.slice(0, 80),
      decal: usualDecal(picture, placeAt(view, hit), words),
    },
    into,
    at: at + 1,
  });
  return done?.ids[0];
}

function patchDecal(session: Session, id: number, patch: Partial<DecalSpec>, gesture: string): void {
  const now = chosenDecal();
  if (now?.id !== id) return;
  const decal = { ...now.decal, ...patch };
  void session.command({ do: 'patch-layer', layer: id, patch: { decal } }, gesture);
}

function moving(session: Session, view: StageView, id: number): Gesture {
  const gesture = newGesture();
  const before = chosenDecal()!.decal;
  return {
    move: (to) => {
      const hit = view.pick(to);
      if (!hit) return;
      const { at, ...facing } = placeAt(view, hit);
      // Thrown straight it keeps its direction.
      patchDecal(session, id, before.lies === 'straight' ? { at } : { at, ...facing }, gesture);
    },
    end: () => undefined,
    cancel: () => patchDecal(session, id, before, gesture),
  };
}

/** Throws the decal in hand straight onto the form, from where it is looked at. */
export function throwFromHere(session: Session, view: StageView): void {
  const chosen = chosenDecal();
  if (!chosen) return;
  const [right, up] = view.axes();
  const rounded = ([x, y, z]: readonly [number, number, number]): Vec3 =>
    [x, y, z].map((n) => Number(n.toFixed(5))) as Vec3;
  const normal = rounded(cross(right, up) as Vec3);
  patchDecal(
    session,
    chosen.id,
    { lies: 'straight', normal, up: rounded(up as Vec3), turn: 0 },
    newGesture(),
  );
}

function turning(session: Session, view: StageView, { id, decal }: DecalLayer, from: PointerAt): Gesture {
  const gesture = newGesture();
  const { x, y } = middleOnScreen(view, decal);
  const [dx, dy] = [from.x - x, from.y - y];
  const begun = Math.max(4, Math.hypot(dx, dy));
  return {
    move: (to) => {
      const [ex, ey] = [to.x - x, to.y - y];
      const width = Math.min(4, Math.max(0.005, (decal.width * Math.hypot(ex, ey)) / begun));
      // Rows of the screen go downward: against the clock is the other way round.
      const by = Math.atan2(dx * -ey - -dy * ex, dx * ex + dy * ey);
      const turn = decal.turn + by;
      const wrapped = turn - 2 * Math.PI * Math.round(turn / (2 * Math.PI));
      patchDecal(session, id, { width: Number(width.toFixed(4)), turn: Number(wrapped.toFixed(4)) }, gesture);
    },
    end: () => undefined,
    cancel: () => patchDecal(session, id, decal, gesture),
  };
}

function middleOnScreen(view: StageView, { at }: DecalSpec): { readonly x: number; readonly y: number } {
  const { centre, diagonal } = frameOf(useProject.getState().mesh!);
  return view.rig.project(new Vector3(...at.map((v, k) => centre[k]! + v * diagonal)));
}

/** A decal's corners on the picture, as if it lay flat: lower left, lower right, upper right, upper left. */
function cornersOf(view: StageView, decal: DecalSpec): { readonly x: number; readonly y: number }[] {
  const { mesh, document } = useProject.getState();
  const { centre, diagonal } = frameOf(mesh!);
  const picture = document?.patterns.find((p) => p.id === decal.picture);
  const wide = decal.width * diagonal;
  const tall = picture ? ((wide * picture.height) / picture.width) * decal.stretch : wide;
  const middle = new Vector3(...decal.at.map((v, k) => centre[k]! + v * diagonal));
  const normal = new Vector3(...decal.normal).normalize();
  const up = new Vector3(...decal.up).projectOnPlane(normal).normalize().applyAxisAngle(normal, decal.turn);
  const right = up.clone().cross(normal);
  return [
    [-1, -1],
    [1, -1],
    [1, 1],
    [-1, 1],
  ].map(([s, t]) =>
    view.rig.project(
      middle
        .clone()
        .addScaledVector(right, (s! * wide) / 2)
        .addScaledVector(up, (t! * tall) / 2),
    ),
  );
}

/** The frame of the decal in hand, and the corner that turns and scales it. */
function DecalFrame({ view }: { readonly view: StageView }) {
  useEveryPicture(view);
  const node = useActiveNode();
  const isThere = useProject((s) => s.mesh !== null);
  const pane = view.pane('model');
  if (node?.kind !== 'decal' || !pane || !isThere) return null;
  const corners = cornersOf(view, node.decal);
  return (
    <svg className="decal-frame" style={{ left: pane.x }} width={pane.width} height={pane.height} aria-hidden>
      <polygon points={corners.map(({ x, y }) => `${x},${y}`).join(' ')} />
      <circle cx={corners[2]!.x} cy={corners[2]!.y} r={6} />
    </svg>
  );
}
