import { z } from 'zod';
import type { Follower } from '../follow';
import type { InPoses } from '../motion';
import type { CueKind } from './cue-kind';
import { CUES } from './list';

type Named = { readonly [K in (typeof CUES)[number] as z.output<K['schema']>['cue']]: K };
type SchemasOf<K extends readonly { readonly schema: unknown }[]> = {
  -readonly [I in keyof K]: K[I]['schema'];
};

/** Every way to measure form, by its name. */
export const CUE_KINDS = Object.fromEntries(CUES.map((kind) => [kind.usual.cue, kind])) as never as Named;

/** What is measured. A cue's value is 0..1 a texel. */
export const cueSpec = z.discriminatedUnion('cue', CUES.map((kind) => kind.schema) as SchemasOf<typeof CUES>);

export type CueSpec = z.infer<typeof cueSpec>;
export type CueName = CueSpec['cue'];

/** Those that an artist chooses from; the others are what layers ask for themselves. */
export type OfferedCue = Exclude<CueName, 'bounce'>;
export const OFFERED_CUES = (Object.keys(CUE_KINDS) as CueName[]).filter(
  (name): name is OfferedCue => name !== 'bounce',
);

/** A spec's kind; it measures specs like that one. */
export const cueKind = (spec: CueSpec): CueKind<CueSpec> => CUE_KINDS[spec.cue] as CueKind<CueSpec>;

/** The poses over which a cue is measured; null: at rest. */
export const posesOf = (spec: CueSpec): InPoses | null => ('poses' in spec && spec.poses) || null;

/** Two specs measure the same thing exactly when their keys are equal. */
export function cueKey(spec: CueSpec): string {
  const poses = posesOf(spec);
  return `${cueKind(spec).key(spec)}${poses ? ` ${poses.take} of ${JSON.stringify(poses.at)}` : ''}`;
}

/** Whether a cue is measured on the model itself, also where there is a denser one: that one doesn't move. */
export const isOnOwnModel = (spec: CueSpec): boolean =>
  cueKind(spec).ownModel === true || posesOf(spec) !== null;

/** A spec when the model changes. */
export const followCue = (spec: CueSpec, model: Follower): CueSpec =>
  cueKind(spec).follow?.(spec, model) ?? spec;
