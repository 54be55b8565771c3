import type { StageName } from './ui-store';

/** Something that can be done by key, or found in the command list by a few letters. */
export interface ListedCommand {
  readonly id: string;
  readonly title: string;
  /** As react-hotkeys-hook writes it; empty for none. */
  readonly keys: string;
  /** Where it belongs, the stage first that it is done in when it is chosen elsewhere; left out: everywhere. */
  readonly stages?: readonly StageName[];
  readonly run: () => void;
}

/** Commands that belong to some stages only: what they do is seen there. */
export const inStages = (
  stages: readonly StageName[],
  commands: readonly Omit<ListedCommand, 'stages'>[],
): ListedCommand[] => commands.map((command) => ({ ...command, stages }));
