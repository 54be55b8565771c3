import { useEffect, useMemo, useState } from 'react';
import type { Pattern } from '../../../core/document';
import { faceRuns, type UvMesh } from '../../../core/mesh';
import { copiesOf, SEEN_SIDE, type BrushedStyle } from '../../../core/paint';
import { compose, IDENTITY, inverse, placeDirection } from '../../../core/math';
import { pictureRows } from '../../../core/match';
import { matchedReference, type Session, untouchedParts, useProject } from '../../project';
import { notify } from '../../shared/notify';
import { jobPool } from '../../shared/platform';
import {
  lookThroughReference,
  paneMatrix,
  pictureInPane,
  seesFace,
  WHOLE_PICTURE,
  type Gesture,
  type PointerAt,
  type StageView,
} from '../../viewport';
import { useUi } from '../../shared/ui-store';
import { usePaint, type ReferencePlace, type Through } from '../paint-store';
import { symmetryFor } from '../symmetry';
import { throughStroke, targetOrTold } from './stroke-style';

/** What of a pattern is asked for. */
type Known = Pick<Pattern, 'id' | 'width' | 'height'>;

/** A reference among the project's pictures, no larger than a pattern; it is brought there once. Null if it can't be, which is told. */
export async function patternOfReference(session: Session, reference: number): Promise<Known | null> {
  const { document } = useProject.getState();
  const found = document?.references.find((r) => r.id === reference);
  if (!document || !found) return null;
  const name = `Through: ${found.name}`.slice(0, 80);
  const known = document.patterns.find((p) => !p.listed && p.name === name);
  if (known) return known;
  const file = await session.file(reference);
  if (!file) {
    notify('That reference can’t be read. Add it again.');
    return null;
  }
  const { png, width, height } = await jobPool.run('patternPng', { file });
  const pattern = { name, width, height, listed: false };
  const done = await session.attach({ do: 'add-pattern', pattern }, png);
  const [id] = done?.ids ?? [];
  return id === undefined ? null : { id, width, height };
}

/**
 * Takes a reference as the picture to paint through: a copy of it, no larger than a pattern, is kept with the project, so that strokes can
 * be made again.
 */
export async function chooseThrough(session: Session, view: StageView, reference: number): Promise<void> {
  const { document } = useProject.getState();
  const pane = view.pane('model');
  if (!document || !pane) return;
  const pattern = await patternOfReference(session, reference);
  if (!pattern) return;
  // As high as the pane, in its middle.
  const height = pane.height * 0.9;
  const width = (height * pattern.width) / pattern.height;
  usePaint.setState({
    through: {
      reference,
      pattern: pattern.id,
      x: (pane.width - width) / 2,
      y: (pane.height - height) / 2,
      width,
      opacity: 0.4,
      bound: false,
    },
  });
}

/**
 * Takes the chosen reference as the picture to paint through, as its own camera sees the model, and looks through that. What is painted from
 * elsewhere goes where the picture has it all the same.
 */
export async function chooseThroughCamera(session: Session, view: StageView): Promise<void> {
  const reference = matchedReference();
  if (!reference?.match?.camera) {
    notify('Where that reference was drawn from isn’t known yet. Match finds it.');
    return;
  }
  const pattern = await patternOfReference(session, reference.id);
  if (!pattern) return;
  lookThroughReference(view);
  usePaint.setState({
    through: {
      reference: reference.id,
      pattern: pattern.id,
      x: 0,
      y: 0,
      width: 0,
      opacity: 0.25,
      bound: true,
    },
    movesThrough: false,
  });
}

/** What takes places of the model to the picture's pixels, as it lies over the model now. */
export function throughView(
  view: StageView,
  { pattern, reference, x, y, width, bound }: Through,
): number[] | null {
  const { document } = useProject.getState();
  const picture = document?.patterns.find((p) => p.id === pattern);
  if (!picture) return null;
  if (bound) {
    const match = document?.references.find((r) => r.id === reference)?.match;
    return match?.camera ? pictureRows(match.camera, match.mirror, picture) : null;
  }
  const k = picture.width / width;
  const m = paneMatrix(view.rig);
  return m.map((v, i) => (i < 4 ? (v - x * m[i + 8]!) * k : i < 8 ? (v - y * m[i + 4]!) * k : v));
}

/** What takes places of the model to a reference that is copied from, as the two came to lie when this place was pressed. */
export function referenceView(view: StageView, at: PointerAt, { x, y, scale }: ReferencePlace): number[] {
  const m = paneMatrix(view.rig);
  return m.map((v, i) => {
    if (i < 4) return (v - at.x * m[i + 8]!) * scale + x * m[i + 8]!;
    return i < 8 ? (v - at.y * m[i + 4]!) * scale + y * m[i + 4]! : v;
  });
}

/** How the model is looked at, for strokes that change only what is seen. */
export function seenView(view: StageView, mesh: UvMesh): NonNullable<BrushedStyle['seen']> {
  const { width, height } = view.rig.paneSize;
  const m = paneMatrix(view.rig);
  const untouched = untouchedParts();
  const eye = view.rig.axis(2).toArray();
  return {
    view: m.map((v, i) => (i < 4 ? (v * SEEN_SIDE) / width : i < 8 ? (v * SEEN_SIDE) / height : v)),
    eye,
    hidden: faceRuns(mesh.faceParts.length, (f) => untouched.has(mesh.faceParts[f]!)),
  };
}

/** A drag moves the picture instead of painting. */
export function movesPicture(at: PointerAt): Gesture {
  const before = usePaint.getState().through!;
  return {
    move: (to) =>
      usePaint.setState({ through: { ...before, x: before.x + to.x - at.x, y: before.y + to.y - at.y } }),
    end: () => undefined,
    cancel: () => usePaint.setState({ through: before }),
  };
}

/** Lays all of the picture on what is seen. */
export async function layWhole(session: Session, view: StageView): Promise<void> {
  const { mesh } = useProject.getState();
  const { through } = usePaint.getState();
  const matrix = through && throughView(view, through);
  const target = targetOrTold();
  if (!mesh || !through || !matrix || !target) return;
  const { symmetry } = usePaint.getState();
  const { selectedPart } = useUi.getState();
  const seen = seenView(view, mesh);
  const count = mesh.faceParts.length;
  const copies = copiesOf(symmetryFor(symmetry, mesh, selectedPart) ?? undefined);
  await session.deed('Paint through a picture', async (as) => {
    // On each side as if it had been looked at from there; what is hidden there is told by what is seen.
    for (const copy of copies) {
      const isOwn = copy === IDENTITY;
      const back = inverse(copy);
      const faces = faceRuns(count, (f) => !isOwn || seesFace(view, view.shownMesh, f));
      const eye = { ...seen, view: compose(seen.view, back), eye: placeDirection(seen.eye, copy) };
      const on = { faces, cuts: [] };
      await as.command(throughStroke(target, through.pattern, compose(matrix, back), on, eye));
    }
  });
}

/** The picture over the model. */
export function ThroughPicture({ session, view }: { readonly session: Session; readonly view: StageView }) {
  const through = usePaint((s) => s.through);
  const tool = usePaint((s) => s.tool);
  const pattern = through?.pattern ?? null;
  const [bytes, setBytes] = useState<Uint8Array | null>(null);
  useEffect(() => {
    let isHere = true;
    if (pattern !== null) void session.file(pattern).then((file) => isHere && setBytes(file));
    return () => {
      isHere = false;
    };
  }, [session, pattern]);
  const url = useMemo(
    () => bytes && URL.createObjectURL(new Blob([bytes as Uint8Array<ArrayBuffer>], { type: 'image/png' })),
    [bytes],
  );
  useEffect(() => () => void (url && URL.revokeObjectURL(url)), [url]);
  const pane = view.pane('model');
  const reference = useProject((s) => s.document?.references.find((r) => r.id === through?.reference));
  if (!through || !url || !pane || tool !== 'through') return null;
  // From elsewhere than its camera the picture would lie wrongly.
  if (through.bound && (!view.camera.isThrough || !reference)) return null;
  const { opacity } = through;
  const place = through.bound && reference ? pictureInPane(pane, reference, WHOLE_PICTURE) : null;
  const { x, y } = place ?? through;
  const width = place && reference ? reference.width * place.scale : through.width;
  const flip = through.bound && reference?.match?.mirror ? 'scaleX(-1)' : undefined;
  return (
    <div
      className="through-pane"
      style={{ left: pane.x, width: pane.width, height: pane.height }}
      aria-hidden
    >
      <img src={url} alt="" style={{ left: x, top: y, width, opacity, transform: flip }} />
    </div>
  );
}
