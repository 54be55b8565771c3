import { z } from 'zod';
import type { ToolEffect, EffectSurface } from './tool-effect';

/** What is known of a tool. @typeParam S what it reads, as it stands in a stroke */
export interface Tool<S> {
  /** What a stroke of it is called where it can be undone. */
  label(style: S): string;
  /** How it makes paint of its dabs. */
  effect(style: S, ground: EffectSurface): ToolEffect;
  /** Ids of the project's patterns that it needs, besides its brush's; left out: none. */
  pictures?(style: S): readonly number[];
}

/** A tool, with the type of its style told by the fields that it reads. */
export function tool<F extends z.ZodRawShape & { readonly tool: z.ZodLiteral<string> }>(
  fields: F,
  rest: Tool<z.output<z.ZodObject<F, z.core.$strict>>>,
): { readonly fields: F } & Tool<z.output<z.ZodObject<F, z.core.$strict>>> {
  return { fields, ...rest };
}
