import type { GLTF } from '@gltf-transform/core';

/** Lists of a glTF whose entries others name by number. */
const LISTS = ['accessors', 'bufferViews', 'images', 'materials', 'meshes', 'samplers', 'textures'] as const;
type List = (typeof LISTS)[number];

type Json = Record<string, unknown>;

/** What is done with a number that names an entry of a list. */
type Visit = (list: List, number: number) => number;

/** Extensions that name nothing by number but what `renumber` knows of; those of materials name textures alone. */
const KNOWN =
  /^(KHR_materials_|KHR_texture_|EXT_texture_|KHR_mesh_quantization$|(EXT|KHR)_meshopt_compression$|KHR_draco_mesh_compression$|KHR_lights_punctual$|KHR_xmp|EXT_mesh_gpu_instancing$)/;

/** Goes through every number that names an entry, and puts another in its place (glTF 2.0, section 5). */
function renumber(json: GLTF.IGLTF, visit: Visit): void {
  const at = (holder: unknown, key: string, list: List): void => {
    const number = (holder as Json | undefined)?.[key];
    if (typeof number === 'number') (holder as Json)[key] = visit(list, number);
  };
  const all = (holder: unknown, list: List): void => {
    for (const key of Object.keys((holder as Json | undefined) ?? {})) at(holder, key, list);
  };
  const extension = (holder: { extensions?: object } | undefined, name: string): unknown =>
    (holder?.extensions as Json | undefined)?.[name];
  for (const accessor of json.accessors ?? []) {
    at(accessor, 'bufferView', 'bufferViews');
    at(accessor.sparse?.indices, 'bufferView', 'bufferViews');
    at(accessor.sparse?.values, 'bufferView', 'bufferViews');
  }
  for (const { samplers } of json.animations ?? []) {
    for (const sampler of samplers) {
      at(sampler, 'input', 'accessors');
      at(sampler, 'output', 'accessors');
    }
  }
  for (const skin of json.skins ?? []) at(skin, 'inverseBindMatrices', 'accessors');
  for (const node of json.nodes ?? []) {
    at(node, 'mesh', 'meshes');
    all((extension(node, 'EXT_mesh_gpu_instancing') as Json | undefined)?.['attributes'], 'accessors');
  }
  for (const { primitives } of json.meshes ?? []) {
    for (const primitive of primitives) {
      all(primitive.attributes, 'accessors');
      at(primitive, 'indices', 'accessors');
      at(primitive, 'material', 'materials');
      for (const target of primitive.targets ?? []) all(target, 'accessors');
      at(extension(primitive, 'KHR_draco_mesh_compression'), 'bufferView', 'bufferViews');
      const variants = extension(primitive, 'KHR_materials_variants') as
        { mappings?: { material?: number }[] } | undefined;
      for (const mapping of variants?.mappings ?? []) at(mapping, 'material', 'materials');
    }
  }
  for (const material of json.materials ?? [])
    everyTexture(material, (info) => at(info, 'index', 'textures'));
  for (const texture of json.textures ?? []) {
    at(texture, 'sampler', 'samplers');
    at(texture, 'source', 'images');
    for (const own of Object.values(texture.extensions ?? {})) at(own, 'source', 'images');
  }
  for (const image of json.images ?? []) at(image, 'bufferView', 'bufferViews');
}

/** What in a material names a texture: every `…Texture`, those of extensions too. */
export function everyTexture(material: object, visit: (info: GLTF.ITextureInfo, key: string) => void): void {
  for (const [key, value] of Object.entries(material) as [string, unknown][]) {
    if (typeof value !== 'object' || value === null || key === 'extras') continue;
    if (/Texture$/.test(key) && 'index' in value) visit(value as GLTF.ITextureInfo, key);
    else everyTexture(value, visit);
  }
}

/**
 * Takes out of a glTF what nothing in it uses any more, and what its buffer held of that. One with an extension that may name entries in
 * ways that aren't known stays as it is.
 *
 * @param bin its first buffer
 * @returns the buffer as it is now
 */
export function withoutUnused(json: GLTF.IGLTF, bin: Uint8Array): Uint8Array {
  forgetExtensions(json);
  if (!(json.extensionsUsed ?? []).every((name) => KNOWN.test(name) || namesNothing(json, name))) return bin;
  // What is used only by what isn't used goes in the next round.
  while (dropUnused(json));
  return packed(json, bin);
}

/** @returns whether anything was dropped */
function dropUnused(json: GLTF.IGLTF): boolean {
  const used = new Map<List, Set<number>>(LISTS.map((list) => [list, new Set()]));
  renumber(json, (list, number) => {
    used.get(list)!.add(number);
    return number;
  });
  const now = new Map<List, Map<number, number>>();
  let dropped = false;
  for (const list of LISTS) {
    const entries: unknown[] | undefined = json[list];
    if (!entries) continue;
    const kept = [...entries.keys()].filter((i) => used.get(list)!.has(i));
    if (kept.length === entries.length) continue;
    dropped = true;
    now.set(list, new Map(kept.map((i, n) => [i, n])));
    if (kept.length > 0) Object.assign(json, { [list]: kept.map((i) => entries[i]) });
    else delete json[list];
  }
  renumber(json, (list, number) => now.get(list)?.get(number) ?? number);
  return dropped;
}

/** Whether an extension says nothing with numbers in it, so that it can't name anything by number. */
function namesNothing(json: GLTF.IGLTF, name: string): boolean {
  const has = (value: unknown): boolean =>
    typeof value === 'number' ||
    (typeof value === 'string' && /\d/.test(value)) ||
    (typeof value === 'object' && value !== null && Object.values(value).some(has));
  const look = (value: unknown): boolean =>
    typeof value !== 'object' ||
    value === null ||
    Object.entries(value).every(([key, inner]: [string, unknown]) => {
      if (key !== 'extensions' || typeof inner !== 'object' || inner === null) return look(inner);
      return Object.entries(inner).every(([own, says]) => (own === name ? !has(says) : look(says)));
    });
  return look(json);
}

/** Names of extensions that stand nowhere any more. */
function forgetExtensions(json: GLTF.IGLTF): void {
  const met = new Set(['KHR_mesh_quantization']);
  const look = (value: unknown): void => {
    if (typeof value !== 'object' || value === null) return;
    for (const [key, inner] of Object.entries(value)) {
      if (key === 'extensions' && typeof inner === 'object' && inner !== null)
        for (const name of Object.keys(inner)) met.add(name);
      if (key !== 'extras') look(inner);
    }
  };
  look(json);
  for (const key of ['extensionsUsed', 'extensionsRequired'] as const) {
    const names = json[key]?.filter((name) => met.has(name));
    if (names?.length) json[key] = names;
    else delete json[key];
  }
}

/** The buffer with the bytes of the views that are left, one after the other. */
function packed(json: GLTF.IGLTF, bin: Uint8Array): Uint8Array {
  const views = json.bufferViews ?? [];
  type Place = { buffer?: number; byteOffset?: number; byteLength?: number };
  // Compressed views say in their extension where their bytes lie, and in themselves where they lie unpacked.
  const places = views.flatMap((view): Place[] => [
    view,
    ...Object.values(view.extensions ?? {}).filter(
      (own): own is Place => typeof own === 'object' && own !== null && 'byteLength' in own,
    ),
  ]);
  const out: Uint8Array[] = [];
  let length = 0;
  for (const place of places.filter((p) => (p.buffer ?? 0) === 0)) {
    const from = place.byteOffset ?? 0;
    out.push(bin.subarray(from, from + (place.byteLength ?? 0)));
    place.byteOffset = length;
    length = Math.ceil((length + (place.byteLength ?? 0)) / 4) * 4;
  }
  const bytes = new Uint8Array(length);
  let at = 0;
  for (const chunk of out) {
    bytes.set(chunk, at);
    at = Math.ceil((at + chunk.length) / 4) * 4;
  }
  return bytes;
}
