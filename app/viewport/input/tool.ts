import type { ReactNode } from 'react';
import type { Hit } from '../view/picker';
import type { PanePoint, StageView } from '../view/stage-view';

/** The pointer on the picture. */
export interface PointerAt extends PanePoint {
  /** In the whole picture, CSS pixels. */
  readonly screenX: number;
  readonly screenY: number;
  /** 0..1; a mouse presses fully. */
  readonly pressure: number;
  /** How far the pen leans, 0 upright to 1 lying flat, and where to: radians from upward on the picture, against the clock. */
  readonly tilt: number;
  readonly azimuth: number;
  /** When it was there, ms. */
  readonly time: number;
  readonly shift: boolean;
  /** The other end of the pen is down. */
  readonly eraser: boolean;
}

/** What a press of the pointer became, until it is let go. */
export interface Gesture {
  /** Every point that the pointer went through is told, not one a frame. */
  readonly isFine?: boolean;
  move(at: PointerAt): void;
  end(at: PointerAt): void;
  /** As if it had never begun. */
  cancel(): void;
}

/** What the pointer does on the picture. Each stage brings its own. */
export interface Tool {
  readonly name: string;
  /** As CSS writes it. */
  readonly cursor: string;
  /** The pointer is over the picture, or has left it; `hit` is left out while a gesture is under way that finds its own. */
  hover?(
    at: (PanePoint & { readonly screenX: number; readonly screenY: number }) | null,
    hit?: Hit | null,
  ): void;
  /**
   * The main button, a pen's tip or a finger goes down.
   *
   * @returns what the drag is; `done` if a press was all; null if it isn't the tool's business and turns or moves the view
   */
  press?(at: PointerAt, hit: Hit | null): Gesture | 'done' | null;
  /** Escape, when no gesture is under way. @returns whether there was something to leave */
  leave?(): boolean;
  /** What lies over the picture. */
  overlay?(): ReactNode;
}

/** Makes a tool for a view. It is made anew when the view is. */
export type ToolMaker = (view: StageView) => Tool;

/** Every press turns or moves the view. */
export const LOOK_TOOL: ToolMaker = () => ({ name: 'look', cursor: 'default' });
