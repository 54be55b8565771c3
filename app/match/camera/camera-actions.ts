import { CoreError, sentenceOf } from '../../../core/errors';
import {
  LEAST_PAIRS,
  SHIFT_PAIRS,
  NO_MATCH,
  mirroredMatch,
  type DrawnHow,
  type MatchCamera,
  type MaskMark,
  type PictureMatch,
} from '../../../core/match';
import type { Reference } from '../../../core/document';
import { matchedReference, type Session } from '../../project';
import { notify } from '../../shared/notify';
import { withTask } from '../../shared/tasks';
import {
  cameraThrough,
  lookThroughReference,
  pictureInPane,
  type ViewportContext,
  type StageView,
} from '../../viewport';
import { useMatch } from '../match-ui';

export const matchOf = (reference: Reference | undefined): PictureMatch => reference?.match ?? NO_MATCH;

/** Changes come one after the other: each begins from what the one before has left. */
let line: Promise<unknown> = Promise.resolve();

/** Changes how the chosen reference goes with the model. @returns whether there was one */
export function patchMatch(
  session: Session,
  change: (match: PictureMatch, reference: Reference) => Partial<PictureMatch>,
  gesture: string | null = null,
): Promise<boolean> {
  const done = line.then(async () => {
    const reference = matchedReference();
    if (!reference) {
      notify('Add a reference picture on the easel first.');
      return false;
    }
    const match = matchOf(reference);
    const next = { ...match, ...change(match, reference) };
    const patch = { match: next };
    return (
      (await session.command({ do: 'patch-reference', reference: reference.id, patch }, gesture)) !== null
    );
  });
  line = done.catch(() => undefined);
  return done;
}

/** What is asked of the worker, with its refusal told. @returns null if it was refused or stopped */
async function told<T>(work: Promise<T>): Promise<T | null> {
  try {
    return await work;
  } catch (error) {
    if (!(error instanceof CoreError && error.code === 'cancelled')) notify(sentenceOf(error));
    return null;
  }
}

/** Whether a camera's picture was bent by a lens, or cut out of a larger one. */
export const pictureOf = (camera: MatchCamera | null) => ({
  lens: camera?.lens !== undefined,
  shifted: camera?.shift.some((s) => s !== 0) ?? false,
});

/** The camera that fits the pairs that are set. @param picture how the picture is taken to be; as before, if left out */
export async function fitFromPairs(session: Session, picture?: ReturnType<typeof pictureOf>): Promise<void> {
  const reference = matchedReference();
  const { pairs, how } = matchOf(reference);
  const { lens, shifted } = picture ?? pictureOf(matchOf(reference).camera);
  const fitted = await told(
    session.matcher.ask('fitPairs', {
      pairs,
      how,
      lens: lens && pairs.length >= SHIFT_PAIRS,
      shifted: shifted && pairs.length >= SHIFT_PAIRS,
    }),
  );
  if (!fitted) return;
  // Pairs that were changed meanwhile are fitted by themselves.
  await patchMatch(session, (now) => (now.pairs === pairs ? { camera: fitted.camera } : {}));
  if (fitted.isMirrored) {
    notify(
      'These pairs don’t fit the picture as it is, but in a mirror they do: turn Mirror on, or look whether left and right are mixed up.',
    );
  } else if (fitted.leftOut !== null) {
    notify(
      `Pair ${fitted.leftOut + 1} doesn’t go with the others and was left out: it is ${fitted.residuals[fitted.leftOut]!.toFixed(0)} pixels off. Set it again, or remove it.`,
    );
  }
}

/** Long work of the worker that can be stopped. */
function task<T>(
  session: Session,
  label: string,
  work: (onProgress: (done: number) => void) => Promise<T>,
): Promise<T | null> {
  return told(
    withTask(label, (signal, progress) => {
      signal.addEventListener('abort', () => session.matcher.cancel());
      return work(progress);
    }),
  );
}

/** The camera looked for from all around, by the silhouettes. */
export async function findCamera(session: Session, viewport: ViewportContext): Promise<void> {
  const began = matchedReference();
  const { how } = matchOf(began);
  const fit = await task(session, 'Finding the reference’s camera', (progress) =>
    session.matcher.ask('find', { how }, progress),
  );
  if (!fit || !isSamePicture(began)) return;
  await takeCamera(session, fit.camera);
  const mirrored =
    fit.mirroredIou === undefined
      ? ''
      : ` In a mirror they would share ${(fit.mirroredIou * 100).toFixed(0)} %: if the picture is the wrong way round, turn Mirror on.`;
  notify(`Found: the silhouettes share ${(fit.iou * 100).toFixed(0)} % of what either covers.${mirrored}`);
  lookThrough(viewport.view);
}

/** The present camera moved until the silhouettes lie on one another. */
export async function refineCamera(session: Session, viewport: ViewportContext): Promise<void> {
  const began = matchedReference();
  const { how, camera } = matchOf(began);
  if (!camera) return void findCamera(session, viewport);
  const fit = await task(session, 'Refining the camera by silhouettes', (progress) =>
    session.matcher.ask('refine', { camera, how }, progress),
  );
  if (!fit || !isSamePicture(began)) return;
  await takeCamera(session, fit.camera);
  notify(`Refined: the silhouettes share ${(fit.iou * 100).toFixed(0)} % of what either covers.`);
  lookThrough(viewport.view);
}

/** Whether the picture that long work began with is still the one that is matched, and the same way round; if not, that is told. */
function isSamePicture(began: Reference | undefined): boolean {
  const now = matchedReference();
  if (now?.id === began?.id && matchOf(now).mirror === matchOf(began).mirror) return true;
  notify('Another picture was chosen meanwhile, so its camera was left as it is.');
  return false;
}

const takeCamera = (session: Session, camera: MatchCamera): Promise<boolean> =>
  patchMatch(session, () => ({ camera }));

/** What is seen in the model's pane becomes the camera of the reference that lies over it. */
export async function takeView(session: Session, viewport: ViewportContext): Promise<void> {
  const { view } = viewport;
  const reference = matchedReference();
  const pane = view?.pane('model');
  if (!view || !pane || !reference) return;
  const place = pictureInPane(pane, reference, useMatch.getState().zoom);
  await takeCamera(session, cameraThrough(view.rig, place, reference));
  useMatch.setState({ tracing: null });
  lookThrough(view);
}

/** Looks through the chosen reference's camera, as near as the picture is seen. @returns whether it is known */
export const lookThrough = (view: StageView | null): boolean =>
  lookThroughReference(view, () => useMatch.getState().zoom);

/** Goes to the reference's camera, or from there back to where one was. */
export function toggleThrough(viewport: ViewportContext): void {
  const { view } = viewport;
  if (view?.camera.isThrough) view.camera.goBack();
  else if (!lookThrough(view)) {
    notify(
      'Where the reference was drawn from isn’t known yet. Match finds it, or lets you set pairs of places.',
    );
  }
}

/** The camera is fitted anew, by pairs where there are enough, else by the silhouettes. */
export async function setHow(session: Session, viewport: ViewportContext, how: DrawnHow): Promise<void> {
  if (!(await patchMatch(session, () => ({ how })))) return;
  const { pairs, camera } = matchOf(matchedReference());
  if (pairs.length >= LEAST_PAIRS) await fitFromPairs(session);
  else if (camera) await refineCamera(session, viewport);
}

/** Left and right changed; what is set on it goes along. */
export async function mirrorReference(session: Session): Promise<void> {
  await patchMatch(session, (match, { width }) => mirroredMatch(match, width));
  useMatch.setState({ half: null, pair: null });
  if (matchOf(matchedReference()).pairs.length >= LEAST_PAIRS) await fitFromPairs(session);
}

export const addMaskMark = (session: Session, mark: MaskMark): Promise<boolean> =>
  patchMatch(session, ({ mask }) => ({ mask: [...mask, mark] }));
