import { useRef, type PointerEvent } from 'react';
import { create } from 'zustand';

/** Where a colour goes that is dragged out of the easel. */
export interface ColorReceiver {
  /** It is over a place of the window, CSS pixels; null: no longer. */
  over(at: { readonly x: number; readonly y: number } | null): void;
  drop(color: string, at: { readonly x: number; readonly y: number }): void;
}

interface ColorDrag {
  readonly dragged: { readonly color: string; readonly x: number; readonly y: number } | null;
  readonly receiver: ColorReceiver | null;
}

export const useColorDrag = create<ColorDrag>(() => ({ dragged: null, receiver: null }));

export function dragColor(color: string, x: number, y: number): void {
  useColorDrag.setState({ dragged: { color, x, y } });
  useColorDrag.getState().receiver?.over({ x, y });
}

/** Ends the drag. @param isDropped false: nothing comes of it */
export function endColorDrag(isDropped: boolean): void {
  const { dragged, receiver } = useColorDrag.getState();
  if (!dragged) return;
  useColorDrag.setState({ dragged: null });
  receiver?.over(null);
  if (isDropped) receiver?.drop(dragged.color, dragged);
}

/** A press that moves less than this is a click, pixels. */
const STILL = 5;

/** What an element needs so that its colour can be dragged onto the model. A click is told as before. */
export function useColorSource(color: string) {
  const from = useRef<{ readonly x: number; readonly y: number } | null>(null);
  const isDragged = (): boolean => useColorDrag.getState().dragged !== null;
  return {
    onPointerDown: (e: PointerEvent<HTMLElement>): void => {
      if (e.button !== 0) return;
      from.current = { x: e.clientX, y: e.clientY };
      e.currentTarget.setPointerCapture(e.pointerId);
    },
    onPointerMove: ({ clientX: x, clientY: y }: PointerEvent): void => {
      if (!from.current) return;
      if (isDragged() || Math.hypot(x - from.current.x, y - from.current.y) > STILL) dragColor(color, x, y);
    },
    onPointerUp: (): void => {
      from.current = null;
      endColorDrag(true);
    },
    onPointerCancel: (): void => {
      from.current = null;
      endColorDrag(false);
    },
  };
}
