import { z } from 'zod';

/** Where a pattern is seen from: from the three sides of the model, or as it lies on the sheet. */
export const LAYS = ['sides', 'sheet'] as const;

/** How a picture is tiled over the form. */
export const patternSpec = z.strictObject({
  /** Id of one of the project's patterns. */
  pattern: z.int().nonnegative(),
  lay: z.enum(LAYS),
  /** Width of one tile: in parts of the model's diagonal, or of the sheet's side. */
  size: z.number().min(0.005).max(4),
  /** Counterclockwise as it is looked at, radians. */
  turn: z.number().min(-7).max(7),
  /** 1 as it is, 0 its mean everywhere. */
  contrast: z.number().min(0).max(3),
  /** How far the sides run into one another: 0 with a hard border, 1 all the way. */
  blend: z.number().min(0).max(1),
});

export type PatternSpec = z.infer<typeof patternSpec>;

/** Of a pattern's picture, pixels: larger ones are made smaller before they are kept. */
export const MAX_PATTERN_SIDE = 1024;

/** As a pattern is begun with. */
export const usualPattern = (pattern: number): PatternSpec => ({
  pattern,
  lay: 'sides',
  size: 0.25,
  turn: 0,
  contrast: 1,
  blend: 0.35,
});
