import { useEffect, useMemo, useState } from 'react';
import { faceRuns } from '../../../core/mesh';
import { type Session, useProject } from '../../project';
import { notify } from '../../shared/notify';
import { jobPool } from '../../shared/platform';
import { paneMatrix, seesFace, type Gesture, type PointerAt, type StageView } from '../../viewport';
import { usePaint, type Through } from '../paint-store';
import { throughStroke, targetOrTold } from './stroke-style';

/**
 * Takes a reference as the picture to paint through: a copy of it, no larger than a pattern, is kept with the project, so that strokes can
 * be made again.
 */
export async function chooseThrough(session: Session, view: StageView, reference: number): Promise<void> {
  const { document } = useProject.getState();
  const found = document?.references.find((r) => r.id === reference);
  const pane = view.pane('model');
  if (!document || !found || !pane) return;
  const name = `Through: ${found.name}`.slice(0, 80);
  let pattern = document.patterns.find((p) => p.name === name) ?? null;
  if (!pattern) {
    const file = await session.file(reference);
    if (!file) {
      notify('That reference can’t be read. Add it again.');
      return;
    }
    const { png, width, height } = await jobPool.run('patternPng', { file });
    const done = await session.attach({ do: 'add-pattern', pattern: { name, width, height } }, png);
    const [id] = done?.ids ?? [];
    if (id === undefined) return;
    pattern = { id, name, width, height };
  }
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
    },
  });
}

/** What takes places of the model to the picture's pixels, as it lies over the model now. */
export function throughView(view: StageView, { pattern, x, y, width }: Through): number[] | null {
  const picture = useProject.getState().document?.patterns.find((p) => p.id === pattern);
  if (!picture) return null;
  const k = picture.width / width;
  const m = paneMatrix(view.rig);
  return m.map((v, i) => (i < 4 ? (v - x * m[i + 8]!) * k : i < 8 ? (v - y * m[i + 4]!) * k : v));
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
  const faces = faceRuns(mesh.faceParts.length, (f) => seesFace(view, mesh, f));
  await session.command(throughStroke(target, through.pattern, matrix, { faces, cuts: [] }));
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
  if (!through || !url || !pane || tool !== 'through') return null;
  const { x, y, width, opacity } = through;
  return (
    <div
      className="through-pane"
      style={{ left: pane.x, width: pane.width, height: pane.height }}
      aria-hidden
    >
      <img src={url} alt="" style={{ left: x, top: y, width, opacity }} />
    </div>
  );
}
