import { z } from 'zod';
import type { Follower } from '../follow';
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

/** Two specs measure the same thing exactly when their keys are equal. */
export const cueKey = (spec: CueSpec): string => cueKind(spec).key(spec);

/** A spec when the model changes. */
export const followCue = (spec: CueSpec, model: Follower): CueSpec =>
  cueKind(spec).follow?.(spec, model) ?? spec;
