import { z } from 'zod';
import { CoreError } from '../errors';
import type { LayerKindOf } from './layer-kind';
import { LAYER_KINDS } from './list';

function schemasOf<const K extends readonly { readonly schema: unknown }[]>(kinds: K) {
  return kinds.map((kind) => kind.schema) as { -readonly [I in keyof K]: K[I]['schema'] };
}

export const layerSchemas = schemasOf(LAYER_KINDS);
export const layerSchema = z.discriminatedUnion('kind', layerSchemas);

export type Layer = z.infer<typeof layerSchema>;

const byName: ReadonlyMap<string, LayerKindOf<Layer>> = new Map(LAYER_KINDS.map((kind) => [kind.kind, kind]));

/** What is known of a layer's kind. */
export function kindOf(layer: Layer): LayerKindOf<Layer> {
  const kind = byName.get(layer.kind);
  if (!kind) throw new CoreError('bad-argument', `There is no kind of layer called “${layer.kind}”.`);
  return kind;
}
