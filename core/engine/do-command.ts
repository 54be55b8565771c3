import {
  applyToDocument,
  commandKind,
  commandLabel,
  gestureKind,
  type CheckedCommand,
  type SingleCommand,
} from '../commands';
import type { ProjectDocument } from '../document';
import { CoreError } from '../errors';
import { ontoGround } from '../ink';
import { picturesOf } from '../paint';
import { sameTile, type TileState } from '../pixels';
import { keepsFile } from './attach';
import type { CommandHow, CommandResult } from './commit';
import type { ProjectState } from './project-state';

/**
 * Does a checked command that isn't a stroke, or several as one step.
 *
 * @param files what its commands came with; the first id that is given keeps the first of them
 * @throws CoreError `bad-argument`, `layer-missing` or `document-invalid`; nothing is changed then
 */
export function doCommand(
  state: ProjectState,
  command: CheckedCommand,
  { gesture = null, deed = null }: CommandHow,
  files: readonly Uint8Array[] = [],
): CommandResult {
  const before = state.document;
  const [file] = files;
  const commands: readonly SingleCommand[] = command.do === 'several' ? command.commands : [command];
  if (commands.some((one) => one.do === 'stroke' || one.do === 'edit-strokes')) {
    throw new CoreError('bad-argument', 'Strokes are steps of their own.');
  }
  for (const one of commands) if (one.do === 'remove-pattern') requireUnpainted(state, one.pattern);
  const done = reckon(state, commands, files);
  const bases = done.rebased.flatMap((plane) => state.planes.baseIsNow(plane));
  const step = state.record({
    label: commandLabel(command, before),
    kind: gestureKind(command),
    after: withBases(state, done.document, done.rebased),
    tiles: [...done.tiles, ...bases],
    gesture,
    deed,
    files:
      file && keepsFile(command) && done.ids[0] !== undefined ? new Map([[done.ids[0], file]]) : done.came,
  });
  return { ids: done.ids, step };
}

/** What commands come to, one after the other. Later ones see what earlier ones did; at the end all is as it was. */
function reckon(state: ProjectState, commands: readonly SingleCommand[], files: readonly Uint8Array[]) {
  const { pixels, surface, picture } = state;
  const several = commands.length > 1;
  const tiles = new Map<string, TileState>();
  const former: TileState[] = [];
  const rebased: number[] = [];
  const ids: number[] = [];
  const came = new Map<number, Uint8Array>();
  let document = state.document;
  try {
    for (const one of commands) {
      const laid = one.do === 'edit-ink' ? ontoSurface(state, one) : one;
      const { document: after, ids: given, files: own } = applyToDocument(document, laid);
      for (const [id, bytes] of own ?? []) came.set(id, bytes);
      const ground = { before: document, after, ids: given, pixels, surface, picture, files };
      const work = commandKind(one).pixels?.(one, ground) ?? { tiles: [], rebased: [] };
      if (several) former.push(...state.present(work.tiles));
      for (const tile of work.tiles) {
        // What stays as it is needs no place in the history.
        if (!several && sameTile(tile.bytes, pixels.get(tile.plane, tile.tile))) continue;
        tiles.set(`${tile.plane} ${tile.tile}`, tile);
        if (several) pixels.put(tile);
      }
      rebased.push(...work.rebased);
      ids.push(...given);
      document = after;
      if (several) state.show(document);
    }
  } finally {
    former.reverse().forEach((tile) => pixels.put(tile));
    if (several) state.show(null);
  }
  return { document, ids, rebased, came, tiles: [...tiles.values()] };
}

/** Lines whose points lie on the surface. */
function ontoSurface(state: ProjectState, command: EditInk): EditInk {
  if (command.put.length === 0) return command;
  const ground = state.tiles.inkSurface();
  return { ...command, put: command.put.map((line) => ontoGround(line, ground)) };
}

type EditInk = Extract<SingleCommand, { do: 'edit-ink' }>;

/** @throws CoreError `bad-argument` if strokes were painted with or through a picture: they couldn't be made again without it */
function requireUnpainted({ planes, document }: ProjectState, picture: number): void {
  const some = planes
    .numbers()
    .some((plane) => planes.strokesOf(plane).some((stroke) => picturesOf(stroke).includes(picture)));
  if (!some) return;
  const name = document.patterns.find((p) => p.id === picture)?.name ?? 'that picture';
  throw new CoreError(
    'bad-argument',
    `Strokes were painted with “${name}”, and need it to be made again at another size. Remove those first.`,
  );
}

/** The document in which planes lie on what they are now. */
function withBases(
  state: ProjectState,
  document: ProjectDocument,
  planes: readonly number[],
): ProjectDocument {
  if (planes.length === 0) return document;
  const bases = planes.map((plane) => ({ plane, strokes: state.planes.strokesOf(plane).length }));
  return { ...document, bases: [...document.bases.filter((b) => !planes.includes(b.plane)), ...bases] };
}
