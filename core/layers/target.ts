import { z } from 'zod';
import type { RegionShape } from '../region';
import type { LayerInputs } from './layer-kind';

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

/** Which of some things holds for texels: by part, and, over that, by region. */
export interface Chosen {
  /** Index of the thing that holds for each part; -1 for none. */
  readonly ofPart: Int32Array;
  /** Things of regions, the later over the earlier. */
  readonly over: readonly { readonly index: number; readonly shape: RegionShape }[];
}

/** Sorts targets for reading. @param targets one a thing, in order */
export function chosenBy(targets: readonly Target[], inputs: LayerInputs): Chosen {
  const { parts } = inputs.surface.mesh;
  const ofPart = new Int32Array(parts.length).fill(-1);
  const byName = new Map(parts.map((name, i) => [name, i]));
  const over: { index: number; shape: RegionShape }[] = [];
  targets.forEach((target, index) => {
    if ('part' in target) {
      const part = byName.get(target.part);
      if (part !== undefined) ofPart[part] = index;
      return;
    }
    const shape = inputs.region(target.region);
    if (shape) over.push({ index, shape });
  });
  return { ofPart, over };
}
