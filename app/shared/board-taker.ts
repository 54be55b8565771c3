import { create } from 'zustand';

/** A place on a picture of the easel. */
export interface BoardSpot {
  readonly reference: number;
  /** Pixels of the picture from its upper left. */
  readonly x: number;
  readonly y: number;
  /** Pixels of the picture a pixel of the screen, as it is looked at. */
  readonly scale: number;
}

/** Who is told of the next press on a picture of the easel, instead of a colour being picked there. */
export const useBoardTaker = create<{ readonly take: ((spot: BoardSpot) => void) | null }>(() => ({
  take: null,
}));
