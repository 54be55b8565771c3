import type { CarryLoss } from '../../core/model';

/** @param share 0..1 */
export const shareWords = (share: number): string =>
  `${share < 0.01 ? 'Less than 1' : Math.round(share * 100)} %`;

/** How much of the paint hasn't come along to another model or layout, in a sentence. */
export const lostWords = ({ lost, worst }: Pick<CarryLoss, 'lost' | 'worst'>): string =>
  `${shareWords(lost)} of the painted places are bare now, or look quite otherwise${worst === null ? '' : `, most of them on “${worst}”`}.`;
