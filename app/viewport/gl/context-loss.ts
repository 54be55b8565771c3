import { useEffect, useState, type RefObject } from 'react';

/**
 * Watches a canvas whose graphics context may be taken away: by a driver that is started again, by a laptop that wakes up.
 *
 * @returns whether it is away now, and how often it has come back
 */
export function useContextLoss(canvas: RefObject<HTMLCanvasElement | null>): {
  readonly isLost: boolean;
  readonly returns: number;
} {
  const [state, setState] = useState({ isLost: false, returns: 0 });
  useEffect(() => {
    const element = canvas.current;
    if (!element) return;
    const lost = (e: Event): void => {
      // Otherwise it never comes back.
      e.preventDefault();
      setState((s) => ({ ...s, isLost: true }));
    };
    const restored = (): void => setState((s) => ({ isLost: false, returns: s.returns + 1 }));
    element.addEventListener('webglcontextlost', lost);
    element.addEventListener('webglcontextrestored', restored);
    return () => {
      element.removeEventListener('webglcontextlost', lost);
      element.removeEventListener('webglcontextrestored', restored);
    };
  }, [canvas]);
  return state;
}
