import { Document, WebIO } from '@gltf-transform/core';
import { KHRMaterialsUnlit } from '@gltf-transform/extensions';
import { sheetCount, sheetOfPart, type UvMesh } from '../mesh';
import { uvFigures } from '../surface';

/** glTF 2.0, section 5.26.3. A layout that stays on its sheet is clamped, so that mipmaps don't mix opposite borders. */
const CLAMP_TO_EDGE = 33071;
const REPEAT = 10497;

/** A second picture of the same layout, for a toon shader. */
export interface GlbDetail {
  /** One a sheet, PNG files. */
  readonly pngs: readonly Uint8Array[];
  /** What a shader has to know of it: goes into the material's extras as it is. */
  readonly says: Readonly<Record<string, unknown>>;
}

/** What lies on a ramp sheet: a mesh of its own with the same parts, and the sheet. */
export interface GlbRamps {
  readonly mesh: UvMesh;
  readonly png: Uint8Array;
}

export interface GlbExtras {
  readonly detail?: GlbDetail | undefined;
  readonly ramps?: GlbRamps | undefined;
}

/**
 * The model as GLB with `KHR_materials_unlit`: one node a part, one material a sheet, the albedo as its base colour.
 *
 * @param albedos the texture of each sheet as a PNG file; a sheet that has none gets a material without one
 * @param extras `detail`: its textures stand where glTF has one for values that are no colours, occlusion, at strength 0: unlit viewers
 *   don't look at it, others do nothing with it, and importers bring it along. The extras of the material say what it holds. `ramps`: a
 *   part that lies on the ramp sheet in part has two primitives
 */
export async function writeUnlitGlb(
  mesh: UvMesh,
  name: string,
  albedos: readonly Uint8Array[],
  { detail, ramps }: GlbExtras = {},
): Promise<Uint8Array> {
  const document = new Document();
  const root = document.createBuffer();
  document.getRoot().getAsset().generator = 'Zanahoria';
  const unlit = document.createExtension(KHRMaterialsUnlit).createUnlit();
  const wrap = uvFigures(mesh).outOfRange > 0 ? REPEAT : CLAMP_TO_EDGE;
  const materials = Array.from({ length: sheetCount(mesh) }, (_, sheet) => {
    const title = sheet === 0 ? name : `${name} ${sheet + 1}`;
    const material = document
      .createMaterial(title)
      .setRoughnessFactor(1)
      .setMetallicFactor(0)
      .setExtension('KHR_materials_unlit', unlit);
    const png = albedos[sheet];
    if (png) {
      const texture = document
        .createTexture(`${title} albedo`)
        .setMimeType('image/png')
        .setImage(png as Uint8Array<ArrayBuffer>);
      material.setBaseColorTexture(texture);
      material.getBaseColorTextureInfo()!.setWrapS(wrap).setWrapT(wrap);
    }
    return material;
  });
  detail?.pngs.forEach((png, sheet) => {
    const material = materials[sheet]!;
    const texture = document
      .createTexture(`${material.getName()} detail`)
      .setMimeType('image/png')
      .setImage(png as Uint8Array<ArrayBuffer>);
    material.setOcclusionTexture(texture).setOcclusionStrength(0);
    material.getOcclusionTextureInfo()!.setWrapS(wrap).setWrapT(wrap);
    material.setExtras({ detailTexture: { slot: 'occlusionTexture', ...detail.says } });
  });
  const onRamps = ramps && {
    mesh: ramps.mesh,
    material: document
      .createMaterial(`${name} ramps`)
      .setRoughnessFactor(1)
      .setMetallicFactor(0)
      .setExtension('KHR_materials_unlit', unlit)
      .setBaseColorTexture(
        document
          .createTexture(`${name} ramps`)
          .setMimeType('image/png')
          .setImage(ramps.png as Uint8Array<ArrayBuffer>),
      ),
  };
  onRamps?.material.getBaseColorTextureInfo()!.setWrapS(CLAMP_TO_EDGE).setWrapT(CLAMP_TO_EDGE);
  const scene = document.createScene(name);
  const accessor = (type: 'VEC2' | 'VEC3' | 'SCALAR', array: Float32Array | Uint32Array | Uint16Array) =>
    document
      .createAccessor()
      .setType(type)
      .setArray(array as Float32Array<ArrayBuffer>)
      .setBuffer(root);
  for (let part = 0; part < mesh.parts.length; part++) {
    const pieces = [
      { piece: extractPart(mesh, part), material: materials[sheetOfPart(mesh, part)]! },
      ...(onRamps ? [{ piece: extractPart(onRamps.mesh, part), material: onRamps.material }] : []),
    ].filter(({ piece }) => piece.indices.length > 0);
    if (pieces.length === 0) continue;
    const partName = mesh.parts[part]!;
    const shape = document.createMesh(partName);
    for (const { piece, material } of pieces) {
      shape.addPrimitive(
        document
          .createPrimitive()
          .setMaterial(material)
          .setIndices(accessor('SCALAR', piece.indices))
          .setAttribute('POSITION', accessor('VEC3', piece.positions))
          .setAttribute('NORMAL', accessor('VEC3', piece.normals))
          .setAttribute('TEXCOORD_0', accessor('VEC2', piece.uvs)),
      );
    }
    scene.addChild(document.createNode(partName).setMesh(shape));
  }
  return new WebIO().registerExtensions([KHRMaterialsUnlit]).writeBinary(document);
}

/** One part with its own vertices; v is turned over, as glTF counts it from the upper left. */
function extractPart(mesh: UvMesh, part: number) {
  const renumbered = new Map<number, number>();
  const indices: number[] = [];
  for (let c = 0; c < mesh.indices.length; c++) {
    if (mesh.faceParts[Math.floor(c / 3)] !== part) continue;
    const v = mesh.indices[c]!;
    let n = renumbered.get(v);
    if (n === undefined) renumbered.set(v, (n = renumbered.size));
    indices.push(n);
  }
  const positions = new Float32Array(renumbered.size * 3);
  const normals = new Float32Array(renumbered.size * 3);
  const uvs = new Float32Array(renumbered.size * 2);
  for (const [v, n] of renumbered) {
    positions.set(mesh.positions.subarray(v * 3, v * 3 + 3), n * 3);
    normals.set(mesh.normals.subarray(v * 3, v * 3 + 3), n * 3);
    uvs[n * 2] = mesh.uvs[v * 2]!;
    uvs[n * 2 + 1] = 1 - mesh.uvs[v * 2 + 1]!;
  }
  return {
    positions,
    normals,
    uvs,
    indices: renumbered.size > 65_535 ? Uint32Array.from(indices) : Uint16Array.from(indices),
  };
}
