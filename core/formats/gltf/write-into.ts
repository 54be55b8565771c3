import type { GLTF } from '@gltf-transform/core';
import { CoreError } from '../../errors';
import type { Placing } from '../../math';
import { backdropsOf, isBackdrop, sheetOfPart, subjectDiagonal, type UvMesh } from '../../mesh';
import { copyOf } from './container';
import { JsonWriter } from './json-writer';
import type { GlbLook } from './look';
import { NewMaterials, type Drawn } from './new-materials';
import { openGltf, type OpenGltf } from './open';
import { isFirstSet, piecesOf } from './read';
import { matrixOf, VertexData, type PieceVertices } from './vertex-data';

/** The file that a model was read from, as one GLB, and what was done to the model when it came in. */
export interface KeptFile {
  readonly bytes: Uint8Array;
  readonly placing: Placing | null;
}

/** Triangles of one piece of the file that are drawn with one material. */
interface Group {
  readonly drawn: Drawn;
  readonly mesh: UvMesh;
  readonly slot: number;
  readonly faces: number[];
  /** How wide the outline is at each vertex of the mesh, 0..1. */
  readonly widths?: Float32Array;
}

/**
 * The file that a model was read from with the UVs, vertices and materials of what was painted in the place of its own, and all else as it
 * was: nodes, names, skins, morph targets, clips, cameras, other materials, extras and extensions.
 *
 * @param painted with the origins of its vertices in that file
 * @throws CoreError `file-truncated`, `file-unsupported` if the file can't be read
 */
export async function writeIntoGltf(file: KeptFile, painted: UvMesh, look: GlbLook): Promise<Uint8Array> {
  const open = await openGltf(file.bytes, new Map());
  const json = copyOf(open.parts.json);
  const writer = new JsonWriter(json, open.parts.bin);
  const data = new VertexData(open, file.placing, subjectDiagonal(painted));
  const groups = groupsOf(painted, look, data);
  const materialOf = (slot: number): number => primitiveAt(open, open.parts.json, slot).material ?? -1;
  const uses = groups.flatMap(({ drawn, slot }) =>
    drawn.as === 'sheet' ? [{ sheet: drawn.sheet, material: materialOf(slot) }] : [],
  );
  const materials = new NewMaterials(writer, painted, look, uses);
  const asRead = slotsAsRead(open, data, groups);
  const primitives = groups.map((group) => {
    const was = primitiveAt(open, open.parts.json, group.slot);
    return asRead.has(group.slot) && group.drawn.as === 'sheet'
      ? primitiveAsRead(was, group, materials, look)
      : newPrimitive(open, writer, data, was, group, materials);
  });
  putPrimitives(open, json, writer, groups, primitives);
  place(json, writer, file.placing, look.name);
  addBackdrops(writer, painted, materials);
  return writer.write();
}

/** Triangles that belong together, piece by piece: what lies on sheets, then on the ramp sheet, then the outline. */
function groupsOf(painted: UvMesh, { ramps, hull }: GlbLook, data: VertexData): Group[] {
  const groups = new Map<string, Group>();
  const add = (mesh: UvMesh, as: Drawn['as'], widths?: Float32Array): void => {
    mesh.faceParts.forEach((part, f) => {
      if (isBackdrop(mesh, part)) return;
      const slot = data.slotOf(mesh, mesh.indices[f * 3]!);
      // Never a model with holes in it.
      if (slot < 0) {
        throw new CoreError(
          'file-truncated',
          'The file that the model came in doesn’t fit it: triangles come from vertices that it hasn’t got. Deliver without “Rig and scene”, or replace the model by that file.',
        );
      }
      const drawn: Drawn = as === 'sheet' ? { as, sheet: sheetOfPart(mesh, part) } : { as };
      const key = `${slot} ${as} ${drawn.as === 'sheet' ? drawn.sheet : ''}`;
      let group = groups.get(key);
      if (!group) groups.set(key, (group = { drawn, mesh, slot, faces: [], ...(widths && { widths }) }));
      group.faces.push(f);
    });
  };
  add(painted, 'sheet');
  if (ramps) add(ramps.mesh, 'ramps');
  if (hull) add(hull.mesh, 'outline', hull.widths);
  return [...groups.values()];
}

const primitiveAt = ({ slots }: OpenGltf, json: GLTF.IGLTF, slot: number): GLTF.IMeshPrimitive => {
  const { mesh, primitive } = slots[slot]!.at;
  return json.meshes![mesh]!.primitives[primitive]!;
};

/** Pieces of which neither triangles nor vertices nor UVs were touched, and that lie on one sheet: the file's own numbers hold for them. */
function slotsAsRead(open: OpenGltf, data: VertexData, groups: readonly Group[]): ReadonlySet<number> {
  const pieces = piecesOf(open);
  const out = new Set<number>();
  for (const group of groups) {
    const { slot, mesh, faces, drawn } = group;
    const piece = pieces[slot]!;
    if (drawn.as !== 'sheet' || !piece.uvs || !isFirstSet(open.slots[slot]!.primitive)) continue;
    if (faces.length * 3 !== piece.indices.length) continue;
    const isSame = faces.every((f, n) =>
      [0, 1, 2].every((k) => {
        const v = mesh.indices[f * 3 + k]!;
        const mix = data.mixOf(mesh, slot, v);
        const was = piece.indices[n * 3 + k]!;
        return (
          mix.length === 1 &&
          mix[0]![0] === was &&
          mesh.uvs[v * 2] === piece.uvs![was * 2] &&
          mesh.uvs[v * 2 + 1] === piece.uvs![was * 2 + 1] &&
          data.isAsRead({ mesh, slot }, v)
        );
      }),
    );
    if (isSame) out.add(slot);
  }
  // Parts of it that are drawn otherwise would stand in its place twice.
  for (const slot of [...out])
    if (groups.some((g) => g.slot === slot && g.drawn.as === 'ramps')) out.delete(slot);
  return out;
}

function primitiveAsRead(
  was: GLTF.IMeshPrimitive,
  group: Group,
  materials: NewMaterials,
  { albedos, material }: GlbLook,
): GLTF.IMeshPrimitive {
  const number = materials.of(group.drawn, was.material ?? -1, 0);
  if (number === null) return was;
  const isPainted = material === 'unlit' || (group.drawn.as === 'sheet' && albedos[group.drawn.sheet]);
  return { ...was, material: number, attributes: isPainted ? unshaded(was.attributes) : was.attributes };
}

/** Without colours of vertices: they would be laid over the paint, which holds them already. */
function unshaded(attributes: GLTF.IMeshPrimitive['attributes']): GLTF.IMeshPrimitive['attributes'] {
  return Object.fromEntries(Object.entries(attributes).filter(([name]) => !name.startsWith('COLOR_')));
}

function newPrimitive(
  open: OpenGltf,
  writer: JsonWriter,
  data: VertexData,
  was: GLTF.IMeshPrimitive,
  group: Group,
  materials: NewMaterials,
): GLTF.IMeshPrimitive {
  const { mesh, slot, drawn, faces, widths } = group;
  const { primitive } = open.slots[slot]!;
  const list: number[] = [];
  const numbers = new Map<number, number>();
  const round = data.isMirrored(slot) ? [0, 2, 1] : [0, 1, 2];
  const indices = faces.flatMap((f) =>
    round.map((k) => {
      const v = mesh.indices[f * 3 + k]!;
      let n = numbers.get(v);
      if (n === undefined) numbers.set(v, (n = list.push(v) - 1));
      return n;
    }),
  );
  const vertices: PieceVertices = { mesh, list, slot };
  const attributes: Record<string, number> = {
    POSITION: writer.attribute(data.positions(vertices), true),
  };
  const normals = data.normals(vertices);
  if (normals) attributes['NORMAL'] = writer.attribute(normals);
  const uvs = new Float32Array(list.length * 2);
  list.forEach((v, i) => uvs.set([mesh.uvs[v * 2]!, 1 - mesh.uvs[v * 2 + 1]!], i * 2));
  attributes['TEXCOORD_0'] = writer.attribute({ array: uvs, type: 'VEC2' });
  const semantics = primitive.listSemantics();
  const sets = semantics.filter((name) => name.startsWith('TEXCOORD_')).length;
  for (const name of semantics) {
    // Tangents go by the UVs that they were made for.
    const isNew = /^(POSITION|NORMAL|TANGENT|TEXCOORD_0|JOINTS_\d+|WEIGHTS_\d+)$/.test(name);
    if (isNew || (name.startsWith('COLOR_') && drawn.as === 'outline')) continue;
    attributes[name] = writer.attribute(data.raw(primitive.getAttribute(name)!, vertices));
  }
  for (const [name, numbersOf] of data.influences(vertices)) attributes[name] = writer.attribute(numbersOf);
  // Other textures of a material that stays are read by the UVs that they were made for.
  const former = primitive.getAttribute('TEXCOORD_0');
  const material = materials.of(drawn, was.material ?? -1, former && drawn.as === 'sheet' ? sets : 0);
  if (former && material !== null && needsSet(writer.json.materials![material]!, sets))
    attributes[`TEXCOORD_${sets}`] = writer.attribute(data.raw(former, vertices));
  if (widths) {
    const colors = new Float32Array(list.length * 4).fill(1);
    list.forEach((v, i) => (colors[i * 4 + 3] = widths[v]!));
    attributes['COLOR_0'] = writer.attribute({ array: colors, type: 'VEC4' });
  }
  const targets = primitive.listTargets().map((target) =>
    Object.fromEntries(
      target
        .listSemantics()
        .filter((name) => /^(POSITION|NORMAL)$/.test(name))
        .map((name) => [
          name,
          writer.attribute(data.raw(target.getAttribute(name)!, vertices), name === 'POSITION'),
        ]),
    ),
  );
  const { mode: _mode, targets: _targets, extensions = {}, ...rest } = was;
  // How it was packed, and which triangles were one polygon, holds no more.
  const { KHR_draco_mesh_compression: _packed, FB_ngon_encoding: _polygons, ...others } = extensions;
  const isPainted = material !== null && drawn.as !== 'outline';
  return {
    ...rest,
    attributes: isPainted ? unshaded(attributes) : attributes,
    indices: writer.indices(indices, list.length),
    ...(material !== null && { material }),
    ...(targets.length > 0 && { targets }),
    ...(Object.keys(others).length > 0 && { extensions: others }),
  };
}

/** Whether a texture of a material is read by a set of UVs. */
function needsSet(material: GLTF.IMaterial, set: number): boolean {
  return JSON.stringify(material).includes(`"texCoord":${set}`);
}

/** Puts the primitives into the meshes of their nodes. Nodes that shared one still do, unless they show something else now. */
function putPrimitives(
  open: OpenGltf,
  json: GLTF.IGLTF,
  writer: JsonWriter,
  groups: readonly Group[],
  primitives: readonly GLTF.IMeshPrimitive[],
): void {
  const nodes = new Map<number, number>();
  for (const { at } of open.slots) nodes.set(at.node, at.mesh);
  const made = new Map<number, string>();
  for (const [node, mesh] of nodes) {
    const own = groups.flatMap((g, i) => (open.slots[g.slot]!.at.node === node ? [{ ...g, i }] : []));
    const { primitives: was, ...rest } = open.parts.json.meshes![mesh]!;
    const now = was.flatMap((primitive, p) => {
      const drawn = own.filter((g) => open.slots[g.slot]!.at.primitive === p && g.drawn.as !== 'outline');
      const isDrawn = open.slots.some((s) => s.at.mesh === mesh && s.at.primitive === p);
      return isDrawn ? drawn.map((g) => primitives[g.i]!) : [copyOf(primitive)];
    });
    now.push(...own.filter((g) => g.drawn.as === 'outline').map((g) => primitives[g.i]!));
    const text = JSON.stringify(now);
    const known = made.get(mesh);
    if (known === undefined) {
      made.set(mesh, text);
      json.meshes![mesh]!.primitives = now;
    } else if (known !== text) {
      json.nodes![node]!.mesh = writer.add('meshes', { ...copyOf(rest), primitives: now });
    }
  }
}

/** What was turned or scaled when it came in leaves so: by one node over all. */
function place(json: GLTF.IGLTF, writer: JsonWriter, placing: Placing | null, name: string): void {
  if (!placing) return;
  const scene = sceneOf(json);
  const isSkinned = (n: number): boolean =>
    json.nodes![n]!.skin !== undefined && !json.nodes![n]!.children?.length;
  // Joints move what is skinned, wherever its node stands.
  const over = (scene.nodes ?? []).filter((n) => !isSkinned(n));
  const matrix = matrixOf(placing) as GLTF.INode['matrix'] & object;
  const node = writer.add('nodes', {
    name: `${name} placed`,
    matrix,
    ...(over.length > 0 && { children: over }),
  });
  scene.nodes = [node, ...(scene.nodes ?? []).filter(isSkinned)];
}

/** The scene that is shown; one of all nodes that stand under none, where there is none. */
function sceneOf(json: GLTF.IGLTF): GLTF.IScene {
  const known = json.scenes?.[json.scene ?? 0];
  if (known) return known;
  const under = new Set(json.nodes?.flatMap((n) => n.children ?? []));
  const scene = { nodes: [...(json.nodes ?? []).keys()].filter((n) => !under.has(n)) };
  json.scenes = [scene];
  json.scene = 0;
  return scene;
}

/** Flat backdrops come from no file: each is a node of its own. */
function addBackdrops(writer: JsonWriter, painted: UvMesh, materials: NewMaterials): void {
  if (backdropsOf(painted).length === 0) return;
  const scene = sceneOf(writer.json);
  for (const [part, name] of painted.parts.entries()) {
    if (!isBackdrop(painted, part)) continue;
    const faces = [...painted.faceParts.keys()].filter((f) => painted.faceParts[f] === part);
    const corners = faces.flatMap((f) => [...painted.indices.subarray(f * 3, f * 3 + 3)]);
    const list = [...new Set(corners)];
    const pick = (of: Float32Array, size: number): Float32Array =>
      Float32Array.from(list.flatMap((v) => [...of.subarray(v * size, v * size + size)]));
    const uvs = pick(painted.uvs, 2).map((x, i) => (i % 2 ? 1 - x : x));
    const sheet = sheetOfPart(painted, part);
    const material = materials.of({ as: 'sheet', sheet }, -1, 0);
    const mesh = writer.add('meshes', {
      name,
      primitives: [
        {
          attributes: {
            POSITION: writer.attribute({ array: pick(painted.positions, 3), type: 'VEC3' }, true),
            NORMAL: writer.attribute({ array: pick(painted.normals, 3), type: 'VEC3' }),
            TEXCOORD_0: writer.attribute({ array: uvs, type: 'VEC2' }),
          },
          indices: writer.indices(
            corners.map((v) => list.indexOf(v)),
            list.length,
          ),
          ...(material !== null && { material }),
        },
      ],
    });
    (scene.nodes ??= []).push(writer.add('nodes', { name, mesh, extras: { backdrop: true } }));
  }
}
