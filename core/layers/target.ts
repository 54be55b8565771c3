import { z } from 'zod';

/** What of the model something holds for: a part by its name, or a region by its id. */
export const targetSchema = z.union([
  z.strictObject({ part: z.string().max(200) }),
  z.strictObject({ region: z.int().nonnegative() }),
]);

export type Target = z.infer<typeof targetSchema>;

export const sameTarget = (a: Target, b: Target): boolean =>
  'part' in a ? 'part' in b && a.part === b.part : 'region' in b && a.region === b.region;

/** Regions among targets. */
export const regionsAmong = (targets: readonly Target[]): number[] =>
  targets.flatMap((t) => ('region' in t ? [t.region] : []));
