import { create } from 'zustand';
import { CoreError } from '../../core/errors';
import type { CarryLoss } from '../../core/model';

/** A change of model that would lose paint, before it is taken. */
interface LossReview {
  /** What is about to be done. */
  readonly label: string;
  readonly loss: CarryLoss;
  readonly answer: (takes: boolean) => void;
}

/** The change that is being looked at. */
export const useLossReview = create<{ readonly review: LossReview | null }>(() => ({ review: null }));

/**
 * Where islands lose paint, shows which and waits for the artist's word.
 *
 * @throws CoreError `cancelled` where the model is to stay as it is, or the work was stopped
 */
export async function reviewLoss(label: string, loss: CarryLoss, signal: AbortSignal): Promise<void> {
  if (loss.damaged.length === 0) return;
  useLossReview.getState().review?.answer(false);
  const takes = await new Promise<boolean>((resolve) => {
    const answer = (given: boolean): void => {
      // Another one may be looked at by now.
      if (useLossReview.getState().review?.answer === answer) useLossReview.setState({ review: null });
      resolve(given);
    };
    if (signal.aborted) return resolve(false);
    signal.addEventListener('abort', () => answer(false), { once: true });
    useLossReview.setState({ review: { label, loss, answer } });
  });
  if (!takes) throw new CoreError('cancelled', `“${label}” was left. Nothing was changed.`);
}
