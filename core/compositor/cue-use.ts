import { cueKey, type CueSpec } from '../cues';
import { masksOf, nodesOf, type ProjectDocument, isGroup } from '../document';
import { cuesOfMask, kindOf, masksUnder, type LayerInputs, type MaskStep } from '../layers';

/** Which nodes of a document are made from which cues, and from which masks of others. */
export class CueUse {
  private readonly masks: ReadonlyMap<number, readonly MaskStep[]>;
  /** Cues that layers are made from themselves, by the layer. */
  private readonly own: ReadonlyMap<number, readonly CueSpec[]>;

  constructor(document: ProjectDocument, inputs: LayerInputs) {
    this.masks = masksOf(document.layers);
    const own = new Map<number, readonly CueSpec[]>();
    for (const { node } of nodesOf(document.layers)) {
      if (isGroup(node)) continue;
      const kind = kindOf(node);
      const cues = kind.form === 'derived' ? kind.cues?.(node, inputs) : undefined;
      if (cues?.length) own.set(node.id, cues);
    }
    this.own = own;
  }

  get nodes(): ReadonlySet<number> {
    return new Set(this.masks.keys());
  }

  maskOf(node: number): readonly MaskStep[] {
    return this.masks.get(node) ?? [];
  }

  /** Cues that a layer is made from, besides those of its mask. */
  ofLayer(layer: number): readonly CueSpec[] {
    return this.own.get(layer) ?? [];
  }

  /** All of them, each once. */
  wanted(): CueSpec[] {
    const wanted = new Map<string, CueSpec>();
    for (const mask of this.masks.values()) {
      for (const spec of cuesOfMask(mask)) wanted.set(cueKey(spec), spec);
    }
    for (const specs of this.own.values()) for (const spec of specs) wanted.set(cueKey(spec), spec);
    return [...wanted.values()];
  }

  /** Nodes whose mask is made from a cue, directly or through other masks, and layers that are made from it themselves. */
  nodesWith(spec: CueSpec): { readonly masks: readonly number[]; readonly layers: readonly number[] } {
    const key = cueKey(spec);
    const isIt = (other: CueSpec): boolean => cueKey(other) === key;
    const uses = (mask: readonly MaskStep[]): boolean => cuesOfMask(mask).some(isIt);
    const masks = [...this.masks].flatMap(([id, mask]) => {
      const others = [...masksUnder(mask, (layer) => this.maskOf(layer))];
      return uses(mask) || others.some((o) => uses(this.maskOf(o))) ? [id] : [];
    });
    return { masks, layers: [...this.own].flatMap(([id, specs]) => (specs.some(isIt) ? [id] : [])) };
  }

  /** Nodes whose mask is made from another's, and that one itself. */
  nodesWithMask(layer: number): number[] {
    return [...this.masks].flatMap(([id, mask]) =>
      id === layer || masksUnder(mask, (o) => this.maskOf(o)).has(layer) ? [id] : [],
    );
  }
}
