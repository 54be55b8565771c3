import { createContext, useContext, useSyncExternalStore } from 'react';
import { LOOK_TOOL, type ToolMaker } from '../input/tool';
import type { StageView } from './stage-view';
import { ZoomLink } from './zoom-link';

/** The picture of an open project, for whatever asks for it: the view that is on the screen, and the tool in hand. */
export class ViewportContext {
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

export const ViewportReactContext = createContext<ViewportContext | null>(null);

export function useViewport(): ViewportContext {
  const viewport = useContext(ViewportReactContext);
  if (!viewport) throw new Error('Only within an open project.');
  return viewport;
}

/** The view that is on the screen. */
export function useView(): StageView | null {
  const viewport = useViewport();
  return useSyncExternalStore(viewport.subscribe, () => viewport.view);
}

export function useTool(): ToolMaker {
  const viewport = useViewport();
  return useSyncExternalStore(viewport.subscribe, () => viewport.tool);
}

const NEVER = (): (() => void) => () => undefined;

/** Draws a component anew with every picture: for handles that lie over it. */
export function useEveryPicture(view: StageView | null): void {
  useSyncExternalStore(view?.whenDrawn ?? NEVER, () => view?.pictures ?? 0);
}
