import { type FlatChart } from '../flatten/flatten';

/** A piece that is there, and what it weighs. */
export interface Piece {
  readonly flat: FlatChart;
  readonly area: number;
  /** Squared L² stretch above 1, times area. */
  readonly strain: number;
}

/** Seams that hang together, between two pieces or within one, with those that mirror them if these lie in the same joint. */
export interface Chain {
  readonly edges: readonly number[];
  /** Without those that mirror them. */
  readonly own: readonly number[];
  readonly cost: number;
}

/** Pieces that may become one, by taking some of the seams between them away; or one and a seam within it. */
export interface Joint {
  readonly pieces: readonly number[];
  /** Those on the other side, which are joined along with them in the same way. */
  readonly twins: readonly number[] | null;
  readonly chains: readonly Chain[];
  /** It is its own mirror image. */
  readonly isAcross: boolean;
  /** Strain for each unit of seam cost that goes; a guess until `result` is there. */
  price: number;
  result: Result | null;
}

export interface Result {
  readonly flat: FlatChart;
  readonly gone: readonly number[];
  readonly strain: number;
}

export type Found = Pick<Joint, 'price'> & { readonly result: Result };

/** Of a seam as much as may be paid for goes; of as much, what is had for less. */
export function isBetterPart(one: Found, best: Found, most: number): boolean {
  if (one.price > most !== best.price > most) return one.price <= most;
  const [own, other] = [one.result.gone.length, best.result.gone.length];
  return own > 1.2 * other || (own > 0.8 * other && one.price < best.price);
}
