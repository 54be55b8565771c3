import type { Restored } from '../storage';
import type { AssetFacts, AssetSet, SetShared, SharedKind } from '../core/set';

/** A project of a set as it would leave. */
export interface SeenProject {
  readonly name: string;
  /** The unlit model with its albedo, at the sheets' own sizes. */
  readonly glb: Uint8Array;
  readonly facts: AssetFacts;
  /** A small picture of it, PNG, and the same in values. */
  readonly picture: Uint8Array;
  readonly values: Uint8Array;
}

/** What would become of a project that follows its set. */
export interface WouldFollow {
  /** What differs, in words; empty: nothing does. */
  readonly says: readonly string[];
  readonly before: Uint8Array;
  readonly after: Uint8Array;
  /** Part of the texels that change, 0..1, and by how much in the mean, CIEDE2000. */
  readonly changed: number;
  readonly by: number;
}

/** A picture of a set, by the hash of its content. */
export type SetPicture = readonly [hash: string, bytes: Uint8Array];

/** What is done to projects that aren't open. Where something is written no other tab may have the project open. */
export type SetMethods = {
  /** @param swatches colours of the set's palette */
  see: { params: { project: string; swatches: readonly string[] }; result: SeenProject };
  /** What a project has of a kind, as a set would share it; `pictures` are those that it names. */
  shareOf: {
    params: { project: string; kind: SharedKind };
    result: { shared: Partial<SetShared>; pictures: readonly SetPicture[] };
  };
  /** Kinds in which a project differs from a set. */
  differsIn: { params: { project: string; set: AssetSet }; result: readonly SharedKind[] };
  wouldFollow: {
    params: { project: string; set: AssetSet; kinds: readonly SharedKind[] };
    result: WouldFollow;
  };
  /** Does it, as steps of the project that can be undone there. */
  follow: {
    params: { project: string; set: AssetSet; kinds: readonly SharedKind[] };
    result: null;
  };
  /** Several projects on one sheet and in one model. */
  atlas: {
    params: {
      projects: readonly string[];
      name: string;
      size: number;
      margin: number;
      weights: readonly number[];
      /** How many units of the set one of each is. */
      scales: readonly number[];
    };
    result: { glb: Uint8Array; png: Uint8Array; fills: readonly { name: string; fill: number }[] };
  };
  /** A project as a file. */
  projectFile: { params: { project: string }; result: Uint8Array };
  /** Several projects, all that they share, as one file. What can't be read is left out and told. */
  backup: {
    params: { projects: readonly string[]; sets: readonly string[] };
    result: { file: Blob; problems: readonly string[] };
  };
  /** Puts what a backup holds beside what is there. */
  restore: { params: { bytes: Uint8Array }; result: Restored };
};
