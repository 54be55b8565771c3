import { z } from 'zod';
import type { Follower } from '../follow';
import type { CueSurface } from './cue-surface';
import type { TileCaster } from './tile-caster';

interface KindBase<S extends { readonly cue: string }> {
  readonly schema: z.ZodType<S>;
  /** As it is begun with. */
  readonly usual: S;
  /** What it is good for, in a sentence. */
  readonly says: string;
  /** It is measured on the model itself, also where there is a denser one. */
  readonly ownModel?: boolean;
  /** Names all that its values depend on besides the surface: two specs of equal keys measure the same. */
  key(spec: S): string;
  /** The spec when the model changes: what it names of its places goes with it. Directions are the world's, as up and light are, and stay. */
  follow?(spec: S, model: Follower): S;
}

/** A cue that follows from where texels lie. */
export interface PlacedCue<S extends { readonly cue: string }> extends KindBase<S> {
  readonly form: 'placed';
  /** @returns 0..65535 a texel in the order of the map's codes, 0 where nothing lies */
  measure(ground: CueSurface, spec: S): Uint16Array;
}

/** A cue for which rays are cast, tile by tile; what comes of it is evened out over the pattern of the rays. */
export interface RayCue<S extends { readonly cue: string }> extends KindBase<S> {
  readonly form: 'rays';
  /** Rays a texel. */
  rays(spec: S): number;
  caster(ground: CueSurface, spec: S): TileCaster;
}

/** A way to measure form: one file in `kinds/`, one line in the list of kinds. */
export type CueKind<S extends { readonly cue: string }> = PlacedCue<S> | RayCue<S>;

/** A direction in model space, of any length but 0. */
export const directionSchema = z
  .tuple([z.number(), z.number(), z.number()])
  .refine((d) => d.some((n) => n !== 0), 'a direction is not 0 in all three numbers');
