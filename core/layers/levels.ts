import { z } from 'zod';
import { clamp01 } from '../math';

/** How a value 0..1 becomes another: `low` and below gives 0, `high` and above 1, `gamma` bends what lies between. */
export const levelsSchema = z.strictObject({
  low: z.number().min(0).max(1),
  high: z.number().min(0).max(1),
  gamma: z.number().min(0.1).max(10),
});

export type Levels = z.infer<typeof levelsSchema>;

export const PLAIN_LEVELS: Levels = { low: 0, high: 1, gamma: 1 };

/** A value 0..1 after levels: stretched between low and high, bent by gamma, 0..1. */
export function applyLevels({ low, high, gamma }: Levels, x: number): number {
  const t = high > low ? clamp01((x - low) / (high - low)) : x >= low ? 1 : 0;
  return gamma === 1 ? t : t ** (1 / gamma);
}
