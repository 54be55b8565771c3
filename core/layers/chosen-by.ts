import type { RegionShape } from '../region';
import type { LayerInputs } from './layer-kind';
import { type Target } from './target';

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
