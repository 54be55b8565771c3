import { createContext, useContext, useSyncExternalStore } from 'react';
import { LOOK_TOOL, type ToolMaker } from '../input/tool';
import type { StageView } from './stage-view';
import { ZoomLink } from './zoom-link';

/** The picture of an open project, for whatever asks for it: the view that is on the screen, and the tool in hand. */
export class Room {
  readonly link = new ZoomLink();
  private current: StageView | null = null;
  private toolNow: ToolMaker = LOOK_TOOL;
  private readonly listeners = new Set<() => void>();

  get view(): StageView | null {
    return this.current;
  }

  get tool(): ToolMaker {
    return this.toolNow;
  }

  setView(view: StageView | null): void {
    this.current = view;
    this.tell();
  }

  setTool(tool: ToolMaker): void {
    if (tool === this.toolNow) return;
    this.toolNow = tool;
    this.tell();
  }

  private tell(): void {
    for (const listener of this.listeners) listener();
  }

  /** Calls back when another view or tool is there. @returns stops it */
  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
}

export const RoomContext = createContext<Room | null>(null);

export function useRoom(): Room {
  const room = useContext(RoomContext);
  if (!room) throw new Error('Only within an open project.');
  return room;
}

/** The view that is on the screen. */
export function useView(): StageView | null {
  const room = useRoom();
  return useSyncExternalStore(room.subscribe, () => room.view);
}

export function useTool(): ToolMaker {
  const room = useRoom();
  return useSyncExternalStore(room.subscribe, () => room.tool);
}

const NEVER = (): (() => void) => () => undefined;

/** Draws a component anew with every picture: for handles that lie over it. */
export function useEveryPicture(view: StageView | null): void {
  useSyncExternalStore(view?.whenDrawn ?? NEVER, () => view?.pictures ?? 0);
}
