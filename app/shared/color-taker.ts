import { useEffect, useId, useRef } from 'react';
import { create } from 'zustand';

/** Something that the next colour goes to which is picked from the easel, the palette or the picture. */
interface Taker {
  readonly id: string;
  readonly take: (color: string) => void;
}

export const useColorTaker = create<{ readonly taker: Taker | null }>(() => ({ taker: null }));

/**
 * Lets a field ask for the colours that are picked.
 *
 * @param take the field's present way to change its colour
 * @returns whether it is the one that they go to, and how that is turned on and off
 */
export function useTakesColor(take: (color: string) => void): {
  readonly takes: boolean;
  readonly toggle: () => void;
} {
  const id = useId();
  const now = useRef(take);
  now.current = take;
  const takes = useColorTaker((s) => s.taker?.id === id);
  useEffect(
    () => () => {
      if (useColorTaker.getState().taker?.id === id) useColorTaker.setState({ taker: null });
    },
    [id],
  );
  const toggle = (): void =>
    useColorTaker.setState({ taker: takes ? null : { id, take: (color) => now.current(color) } });
  return { takes, toggle };
}
