import { sizesKey, type SurfaceMap } from '../../surface';

/** A model with the surface that was measured of it. */
export interface ModelState {
  readonly hash: string;
  readonly surface: SurfaceMap;
}

/** What surfaces that no step at hand needs may take; they can be measured anew. */
const BUDGET = 128e6;

/** Names a model on sheets of these sizes. */
export const modelKey = (hash: string, sheets: readonly { readonly size: number }[]): string =>
  `${hash} ${sizesKey(sheets)}`;

const keyOf = ({ hash, surface }: ModelState): string => modelKey(hash, surface.sheets);

/** Models that steps of the history lead to, those used last. */
export class Models {
  private readonly known = new Map<string, ModelState>();

  /** Keeps a model; those used longest ago make room. */
  provide(model: ModelState): void {
    this.known.delete(keyOf(model));
    this.known.set(keyOf(model), model);
    let bytes = 0;
    for (const key of [...this.known.keys()].reverse()) {
      const { codes, subBounds } = this.known.get(key)!.surface;
      bytes += codes.byteLength + subBounds.byteLength;
      // The two newest stay in any case: the one in hand and the one before it.
      if (bytes > BUDGET && [...this.known.keys()].indexOf(key) < this.known.size - 2) this.known.delete(key);
    }
  }

  /** A model that is at hand. @param sheets sizes it was measured at */
  get(hash: string, sheets: readonly { readonly size: number }[]): ModelState | undefined {
    return this.known.get(modelKey(hash, sheets));
  }
}
