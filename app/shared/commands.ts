import { createContext, useContext } from 'react';
import type { StageName } from './ui-store';

/** Something that can be done by key, or found in the command list by a few letters. */
export interface ListedCommand {
  readonly id: string;
  readonly title: string;
  /** As react-hotkeys-hook writes it; empty for none. */
  readonly keys: string;
  /** Where it belongs, the stage first that it is done in when it is chosen elsewhere; left out: everywhere. */
  readonly stages?: readonly StageName[];
  readonly run: () => unknown;
}

/** Commands that belong to some stages only: what they do is seen there. */
export const inStages = (
  stages: readonly StageName[],
  commands: readonly Omit<ListedCommand, 'stages'>[],
): ListedCommand[] => commands.map((command) => ({ ...command, stages }));

export interface CommandBook {
  readonly commands: readonly ListedCommand[];
  /** Does a command wherever one is: one that belongs elsewhere is gone to first. */
  run(id: string): void;
  /** The keys as they are written on this machine's keyboard; empty for none. */
  keysOf(id: string): string;
}

export const CommandContext = createContext<CommandBook>({
  commands: [],
  run: () => undefined,
  keysOf: () => '',
});

export const useCommandBook = (): CommandBook => useContext(CommandContext);

/** A tooltip with the keys of a command behind it. */
export function useTip(): (says: string, id: string) => string {
  const { keysOf } = useCommandBook();
  return (says, id) => {
    const keys = keysOf(id);
    return keys ? `${says} (${keys})` : says;
  };
}
