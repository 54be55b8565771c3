import type { z } from 'zod';
import type { Detail, LayerNode, ProjectDocument } from '../document';
import type { PixelStore, TileState } from '../pixels';
import type { SurfaceMap } from '../surface';

/** A document with a command done, and the ids that were given on the way, in order. */
export interface Applied {
  readonly document: ProjectDocument;
  readonly ids: readonly number[];
  /** Files that came with it, by the ids that they were given. */
  readonly files?: ReadonlyMap<number, Uint8Array>;
}

/** The build-up as it looks. */
export interface SeenBuildUp {
  /** One tile of all of the albedo, or of a mask of the detail sheet. */
  composite(tile: number, out: Uint8Array, detail: Detail | null): void;
  /** One tile of some nodes as if nothing else was there. */
  compositeNodes(nodes: readonly LayerNode[], tile: number, out: Uint8Array): void;
}

/** What the pixel side of a command is reckoned from. */
export interface PixelSurface {
  readonly before: ProjectDocument;
  readonly after: ProjectDocument;
  /** Ids that the command gave. */
  readonly ids: readonly number[];
  readonly pixels: PixelStore;
  readonly surface: SurfaceMap;
  readonly picture: SeenBuildUp;
  /** What the command came with. */
  readonly files: readonly Uint8Array[];
}

/** What a command does to pixels, as states of tiles after it, and the planes that aren't only their strokes from then on. */
export interface PixelWork {
  readonly tiles: readonly TileState[];
  readonly rebased: readonly number[];
}

/** A command that a file comes with. */
interface Attached {
  /** Looks at the file before it is taken. @throws CoreError `file-not-a-picture` */
  check?(bytes: Uint8Array): void;
  /** Whether it stays with the project; of a picture that is laid on a sheet its pixels stay. */
  readonly isKept: boolean;
}

/** Something that can be done to a project: one file in `commands/`, with its schema, and one line in the list. */
export interface CommandKind<C> {
  /** What its step is called where it can be undone. */
  label(command: C, before: ProjectDocument): string;
  /**
   * The document after it; left out: it stays as it is.
   *
   * @throws CoreError `layer-missing`, `bad-argument` if it can't be done; the sentence says why
   */
  apply?(document: ProjectDocument, command: C): Applied;
  /**
   * The pixels that it touches, reckoned before anything is changed; left out: none.
   *
   * @throws CoreError `bad-argument` if it can't be done; the sentence says why
   */
  pixels?(command: C, ground: PixelSurface): PixelWork;
  /** What of the project it changes, where a drag does it again and again: steps of one drag on the same thing are one. */
  gesture?(command: C): number;
  readonly file?: Attached;
}

type CommandSchema = z.ZodType<{ readonly do: string }> & {
  readonly shape: { readonly do: z.ZodLiteral<string> };
};

/** A kind of command, with the type of its commands told by its schema. */
export const command = <S extends CommandSchema>(
  schema: S,
  kind: CommandKind<z.output<S>>,
): { readonly schema: S; readonly kind: CommandKind<z.output<S>> } => ({ schema, kind });

/** A document with some fields changed. */
export const changed = (document: ProjectDocument, patch: Partial<ProjectDocument>): Applied => ({
  document: { ...document, ...patch },
  ids: [],
});

/** A document to whose lists something new has come. @param patch what it is with an id of its own */
export function withNew(document: ProjectDocument, patch: (id: number) => Partial<ProjectDocument>): Applied {
  const id = document.nextId;
  return { document: { ...document, ...patch(id), nextId: id + 1 }, ids: [id] };
}
