import { CoreError, sentenceOf } from '../../../core/errors';
import { matchedReference, type Session, useMatchView, useProject } from '../../project';
import { notify, undoable } from '../../shared/notify';
import { bitmapsOf } from './draw-looks';

/** Height of a look's picture, pixels. */
const HEIGHT = 320;

/** Keeps the painting as it is seen now through the reference's camera, with its distance. */
export async function keepLook(session: Session): Promise<void> {
  const reference = matchedReference();
  if (!reference || !useMatchView.getState().report) {
    notify('A look is kept with its distance to the reference: let the reference’s camera be found first.');
    return;
  }
  try {
    const report = await session.matcher.measureNow();
    const { painted, width, height } = bitmapsOf(
      await session.matcher.ask('look', { how: { as: 'colors' } }),
    );
    const canvas = new OffscreenCanvas(Math.max(1, Math.round((width * HEIGHT) / height)), HEIGHT);
    const context = canvas.getContext('2d')!;
    context.imageSmoothingQuality = 'high';
    context.drawImage(painted, 0, 0, canvas.width, canvas.height);
    const png = new Uint8Array(await (await canvas.convertToBlob({ type: 'image/png' })).arrayBuffer());
    const count = useProject.getState().document?.looks.length ?? 0;
    const { mean, p95 } = report.deltaE;
    const done = await session.attach(
      {
        do: 'add-look',
        look: {
          name: `Look ${count + 1}`,
          time: Date.now(),
          match: { reference: reference.id, mean, p95, iou: report.silhouette.iou },
        },
      },
      png,
    );
    undoable(session, `Kept: ΔE ${mean.toFixed(1)}.`)(done);
  } catch (error) {
    if (!(error instanceof CoreError && error.code === 'cancelled')) notify(sentenceOf(error));
  }
}

export const renameLook = (session: Session, look: number, name: string): Promise<unknown> =>
  session.command({ do: 'rename-look', look, name });

export async function removeLook(session: Session, look: number): Promise<void> {
  undoable(session, 'The look is removed.')(await session.command({ do: 'remove-look', look }));
}
