import type { Node, Primitive } from '@gltf-transform/core';

/** A primitive with triangles as one node of the scene draws it: the pieces of a model are these, in this order. */
export interface Slot {
  /** Where each stands in its list of the JSON; the primitive among those of its mesh. */
  readonly at: { readonly node: number; readonly mesh: number; readonly primitive: number };
  readonly node: Node;
  readonly primitive: Primitive;
  /** Three vertices a triangle. */
  readonly corners: Uint32Array;
}
