import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import type { Hit } from '../view/picker';
import { useViewport } from '../view/viewport-context';

/** A press that moves less than this is a click, pixels. */
const STILL = 5;

interface Point {
  readonly x: number;
  readonly y: number;
}

/** What comes of something that can be clicked, or dragged onto the model. */
export interface DragOnto {
  readonly click: () => void;
  readonly drop: (hit: Hit) => void;
}

/**
 * Lets an element be dragged onto the model: a line is drawn around the part under it. A press that doesn't move is a click, and so are
 * Enter and Space.
 *
 * @returns where it is held while it is dragged, CSS pixels of the window, and what the element needs
 */
export function useDragOntoModel({ click, drop }: DragOnto) {
  const viewport = useViewport();
  const from = useRef<Point | null>(null);
  const [at, setAt] = useState<Point | null>(null);
  const hitAt = ({ x, y }: Point): Hit | null => {
    const place = viewport.view?.fromWindow(x, y);
    return (place && viewport.view?.pick(place)) ?? null;
  };
  /** Lets go. @returns whether it was dragged */
  const end = (): boolean => {
    from.current = null;
    setAt(null);
    if (at) viewport.view?.outline(-1);
    return at !== null;
  };
  const handlers = {
    onPointerDown: (e: PointerEvent<HTMLElement>): void => {
      if (e.button !== 0) return;
      from.current = { x: e.clientX, y: e.clientY };
      e.currentTarget.setPointerCapture(e.pointerId);
    },
    onPointerMove: ({ clientX: x, clientY: y }: PointerEvent): void => {
      if (!from.current || (!at && Math.hypot(x - from.current.x, y - from.current.y) < STILL)) return;
      setAt({ x, y });
      viewport.view?.outline(hitAt({ x, y })?.part ?? -1);
    },
    onPointerUp: ({ clientX: x, clientY: y }: PointerEvent): void => {
      if (!from.current) return;
      if (!end()) {
        click();
        return;
      }
      const hit = hitAt({ x, y });
      if (hit) drop(hit);
    },
    onPointerCancel: (): void => void end(),
    onKeyDown: (e: KeyboardEvent): void => {
      if (e.key !== 'Enter' && e.key !== ' ') return;
      e.preventDefault();
      click();
    },
  };
  return { at, handlers };
}
