import { create } from 'zustand';

/** A menu of commands at a place on the screen. */
export interface ContextMenu {
  readonly x: number;
  readonly y: number;
  /** What was clicked. */
  readonly title: string;
  /** Commands by their ids, null for a line between. */
  readonly entries: readonly (string | null)[];
}

export const useContextMenu = create<{ readonly menu: ContextMenu | null }>(() => ({ menu: null }));

export const openMenu = (menu: ContextMenu): void => useContextMenu.setState({ menu });

export const closeMenu = (): void => useContextMenu.setState({ menu: null });
