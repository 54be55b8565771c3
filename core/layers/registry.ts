import { z } from 'zod';
import { CoreError } from '../errors';
import { adjustKind } from './adjust';
import { decalKind } from './decal';
import type { LayerKindOf } from './layer-kind';
import { inkKind } from './ink';
import { lightKind } from './light';
import { localKind } from './local';
import { paintKind } from './paint';
import { patternKind } from './pattern';
import { toneKind } from './tone';
import { washKind } from './wash';

/** Every kind of layer. A new one is a file beside these and a line here. */
export const LAYER_KINDS = [
  localKind,
  washKind,
  lightKind,
  toneKind,
  patternKind,
  decalKind,
  inkKind,
  paintKind,
  adjustKind,
] as const;

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
