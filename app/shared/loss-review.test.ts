import { afterEach, describe, expect, it } from 'vitest';
import type { CarryLoss } from '../../core/model';
import { reviewLoss, useLossReview } from './loss-review';

const LOSS: CarryLoss = {
  mean: 9,
  most: 200,
  places: 400,
  lost: 0.3,
  worst: 'Head',
  damaged: [{ part: 'Head', face: 4, lost: 0.3 }],
};

const never = (): AbortSignal => new AbortController().signal;
const label = (): string | undefined => useLossReview.getState().review?.label;

afterEach(() => useLossReview.setState({ review: null }));

describe('paint at risk', () => {
  it('is asked about only where islands lose paint', async () => {
    await reviewLoss('Lay out', { ...LOSS, damaged: [] }, never());
    expect(label()).toBeUndefined();
    const taken = reviewLoss('Lay out', LOSS, never());
    expect(label()).toBe('Lay out');
    useLossReview.getState().review!.answer(true);
    await taken;
    expect(label()).toBeUndefined();
  });

  it('of an earlier change is given up where another is looked at, which stays on the screen', async () => {
    const first = reviewLoss('First', LOSS, never());
    const second = reviewLoss('Second', LOSS, never());
    await expect(first).rejects.toMatchObject({ code: 'cancelled' });
    expect(label()).toBe('Second');
    useLossReview.getState().review!.answer(true);
    await second;
  });

  it('ends when the work is stopped, before or while it is looked at', async () => {
    await expect(reviewLoss('Stopped', LOSS, AbortSignal.abort())).rejects.toMatchObject({
      code: 'cancelled',
    });
    const stop = new AbortController();
    const waiting = reviewLoss('Lay out', LOSS, stop.signal);
    stop.abort();
    await expect(waiting).rejects.toMatchObject({ code: 'cancelled' });
    expect(label()).toBeUndefined();
  });
});
