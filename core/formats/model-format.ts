import type { Mesh } from '../mesh';
import type { Companions } from './gltf/container';
import type { ImportedModel } from './model-builder';

/** A file that a model is read from. */
export interface ModelFile {
  readonly name: string;
  readonly bytes: Uint8Array;
  /** Files that were chosen together with it. */
  readonly companions: Companions;
}

/** A way to write models: one file, one line in the list. */
export interface ModelFormat {
  /** What it is called. */
  readonly title: string;
  /** Without the dot, in small letters. */
  readonly ending: string;
  /** Endings of files that go with it. */
  readonly companions?: readonly string[];
  /** Whether a file is one, by what it holds, whatever it is called; left out: only its ending tells. */
  holds?(bytes: Uint8Array, ending: string): boolean;
  /** @throws CoreError with one of the `file-` or `model-` codes */
  read(file: ModelFile): ImportedModel | Promise<ImportedModel>;
}

/** The part's name where a file gives none. */
export const nameWithoutEnding = (name: string): string =>
  name.replace(/\.[^.]+$/, '').replace(/^.*[\\/]/, '');

/** A model alone, without colours. */
export const bare = (mesh: Mesh): ImportedModel => ({
  mesh,
  paint: { pictures: mesh.parts.map(() => null), colors: [], cornerColors: null },
});
