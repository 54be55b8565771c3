import { z } from 'zod';
import { checkDocument, type ProjectDocument } from '../document';
import { readAs } from '../read-as';
import type { Applied, CommandKind } from './command';
import { COMMANDS } from './list';

function schemasOf<const K extends readonly { readonly schema: unknown }[]>(kinds: K) {
  return kinds.map((kind) => kind.schema) as { -readonly [I in keyof K]: K[I]['schema'] };
}

const single = schemasOf(COMMANDS);
const oneCommand = z.discriminatedUnion('do', single);

/** The interface, the tests and the command line all speak these. */
export const commandSchema = z.discriminatedUnion('do', [
  ...single,
  /** Several that are one step. */
  z.strictObject({
    do: z.literal('several'),
    label: z.string().min(1).max(120),
    commands: z.array(oneCommand).min(1).max(1000),
  }),
]);

/** As it is given. */
export type Command = z.input<typeof commandSchema>;
/** As it is done, with all that was left out filled in. */
export type CheckedCommand = z.output<typeof commandSchema>;
export type SingleCommand = z.output<typeof oneCommand>;

const byName: ReadonlyMap<string, CommandKind<SingleCommand>> = new Map(
  COMMANDS.map(({ schema, kind }) => [schema.shape.do.value, kind]),
);

/** What is known of a command. */
export const commandKind = (command: SingleCommand): CommandKind<SingleCommand> => byName.get(command.do)!;

/** What a step is called where it can be undone. */
export const commandLabel = (command: CheckedCommand, before: ProjectDocument): string =>
  command.do === 'several' ? command.label : commandKind(command).label(command, before);

/** A drag changes one thing: what it is done to belongs to its name. */
export function gestureKind(command: CheckedCommand): string {
  if (command.do === 'several') return command.do;
  const of = commandKind(command).gesture?.(command);
  return of === undefined ? command.do : `${command.do} ${of}`;
}

/** @throws CoreError `bad-argument` if it isn't a command */
export const checkCommand = (input: Command): CheckedCommand =>
  readAs(commandSchema, input, 'bad-argument', (_, says) => `That can't be done: ${says}.`);

/**
 * The document after a command; pixels are the engine's business.
 *
 * @throws CoreError `layer-missing` if the command names a layer that isn't there, `bad-argument` or `document-invalid` if it
 * can't be done; the sentence says why
 */
export function applyToDocument(document: ProjectDocument, command: SingleCommand): Applied {
  const applied = commandKind(command).apply?.(document, command) ?? { document, ids: [] };
  // What comes to hold more than can be opened again is refused here.
  if (applied.document !== document) checkDocument(applied.document, document);
  return applied;
}
