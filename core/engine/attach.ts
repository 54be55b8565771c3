import { commandKind, type CheckedCommand, type Command } from '../commands';

type PutPicture = Extract<Command, { do: 'put-picture' }>;

/** Commands that come with a file, and pictures that are laid as one step, each with its own. */
export type AttachCommand =
  | Extract<Command, { do: 'add-reference' | 'add-look' | 'add-pattern' | 'set-dense' }>
  | PutPicture
  | (Omit<Extract<Command, { do: 'several' }>, 'commands'> & { commands: PutPicture[] });

/** Looks at the file of a command before it is taken. @throws CoreError `file-not-a-picture` */
export function checkAttached(command: CheckedCommand, bytes: Uint8Array): void {
  const [one] = command.do === 'several' ? command.commands : [command];
  if (one) commandKind(one).file?.check?.(bytes);
}

/** Whether the file that a command came with stays with the project. */
export const keepsFile = (command: CheckedCommand): boolean =>
  command.do !== 'several' && commandKind(command).file?.isKept === true;
