import type { CarryLoss } from '../../core/model';

/** How much of the paint hasn't come along to another model or layout, in a sentence. */
export const lostWords = ({ lost, worst }: Pick<CarryLoss, 'lost' | 'worst'>): string =>
  `${lost < 0.01 ? 'Less than 1' : Math.round(lost * 100)} % of the painted places are bare now, or look quite otherwise${worst === null ? '' : `, most of them on “${worst}”`}.`;
