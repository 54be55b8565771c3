import type { TwinsBy } from '../../core/layers';

/** What derived paint makes of texels that several places share, in words. */
export const TWIN_CHOICES: readonly (readonly [TwinsBy, string])[] = [
  ['alike', 'all alike'],
  ['first', 'first side only'],
];

export const TWIN_TITLE =
  'Light and cues on texels that mirrored or stacked islands share: the mean of all their places, or what the first has';
