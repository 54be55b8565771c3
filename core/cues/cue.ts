import { z } from 'zod';
import type { Follower } from '../follow';
import type { CueKind } from './cue-kind';
import { alongKind } from './kinds/along';
import { bounceKind } from './kinds/bounce';
import { castKind } from './kinds/cast';
import { creaseKind, ridgeKind } from './kinds/curvature';
import { facingKind } from './kinds/facing';
import { grainKind } from './kinds/grain';
import { heightKind } from './kinds/height';
import { nearnessKind } from './kinds/nearness';
import { occlusionKind } from './kinds/occlusion';
import { thicknessKind } from './kinds/thickness';

/** Every way to measure form. */
export const CUE_KINDS = {
  occlusion: occlusionKind,
  height: heightKind,
  facing: facingKind,
  ridge: ridgeKind,
  crease: creaseKind,
  nearness: nearnessKind,
  along: alongKind,
  cast: castKind,
  thickness: thicknessKind,
  grain: grainKind,
  bounce: bounceKind,
} as const;

/** What is measured. A cue's value is 0..1 a texel. */
export const cueSpec = z.discriminatedUnion('cue', [
  occlusionKind.schema,
  heightKind.schema,
  facingKind.schema,
  ridgeKind.schema,
  creaseKind.schema,
  nearnessKind.schema,
  alongKind.schema,
  castKind.schema,
  thicknessKind.schema,
  grainKind.schema,
  bounceKind.schema,
]);

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
