import { Document, WebIO, type Buffer, type Material, type Mesh, type Texture } from '@gltf-transform/core';
import { EXTTextureWebP, KHRMaterialsUnlit, KHRTextureBasisu } from '@gltf-transform/extensions';
import { hexToRgb, srgbToLinear } from '../../color';
import { backdropSheets, isBackdrop, sheetCount, sheetOfPart, type UvMesh } from '../../mesh';
import { uvFigures } from '../../surface';
import { isKtx2, pictureKind } from '../picture-kind';
import { CLAMP_TO_EDGE, REPEAT, type GlbDetail, type GlbExtras } from './look';

type Wrap = typeof CLAMP_TO_EDGE | typeof REPEAT;

/** A piece of the model with what it is drawn with. */
interface Piece {
  readonly mesh: UvMesh;
  readonly materialOf: (part: number) => Material;
  /** RGBA a vertex, linear. */
  readonly colors?: Float32Array;
}

/**
 * The model as GLB with `KHR_materials_unlit`: one node a part, one material a sheet, the albedo as its base colour. The nodes of flat backdrops
 * say so in their extras, and what is bare of them is cut out.
 *
 * @param albedos the texture of each sheet as a PNG, WebP or KTX2 file (the latter two by `EXT_texture_webp` and `KHR_texture_basisu`, without
 *   which the file can't be read then); a sheet that has none gets a material without one
 * @param extras `detail`: its textures stand where glTF has one for values that are no colours, occlusion, at strength 0: unlit viewers
 *   don't look at it, others do nothing with it, and importers bring it along. The extras of the material say what it holds. `ramps`: a
 *   part that lies on the ramp sheet in part has two primitives. `hull`: a node of its own for each part, “… outline”; its width stands in
 *   the alpha of the vertex colours, which are white otherwise, so that viewers that know nothing of it show the outline's colour
 */
export async function writeUnlitGlb(
  mesh: UvMesh,
  name: string,
  albedos: readonly Uint8Array[],
  extras: GlbExtras = {},
): Promise<Uint8Array> {
  const document = new Document();
  const root = document.createBuffer();
  document.getRoot().getAsset().generator = 'Zanahoria';
  const makeMaterial = materialMaker(document);
  const wrap = uvFigures(mesh).outOfRange > 0 ? REPEAT : CLAMP_TO_EDGE;
  const materials = Array.from({ length: sheetCount(mesh) }, (_, sheet) =>
    makeMaterial(sheet === 0 ? name : `${name} ${sheet + 1}`, 'albedo', albedos[sheet], wrap),
  );
  // One looks through what is bare of a backdrop (glTF 2.0, section 3.9.4), and past it from behind: glTF culls back faces.
  for (const sheet of backdropSheets(mesh)) materials[sheet]!.setAlphaMode('MASK').setAlphaCutoff(0.5);
  const { detail, ramps, hull } = extras;
  detail?.pngs.forEach((png, sheet) => {
    if (!backdropSheets(mesh).has(sheet)) addDetail(document, materials[sheet]!, png, detail, wrap);
  });
  const pieces: Piece[] = [{ mesh, materialOf: (part) => materials[sheetOfPart(mesh, part)]! }];
  if (ramps) {
    const material = makeMaterial(`${name} ramps`, '', ramps.png, CLAMP_TO_EDGE);
    pieces.push({ mesh: ramps.mesh, materialOf: () => material });
  }
  const scene = document.createScene(name);
  const addPart = (title: string, part: number, from: readonly Piece[]): void => {
    const shape = document.createMesh(title);
    for (const piece of from) addPrimitive(document, root, shape, piece, part);
    if (shape.listPrimitives().length === 0) return shape.dispose();
    const node = document.createNode(title).setMesh(shape);
    if (isBackdrop(mesh, part)) node.setExtras({ backdrop: true });
    scene.addChild(node);
  };
  for (const [part, title] of mesh.parts.entries()) addPart(title, part, pieces);
  if (hull) {
    const material = makeMaterial(`${name} outline`, '', undefined, wrap);
    const { r, g, b } = hexToRgb(hull.color);
    material.setBaseColorFactor([...[r, g, b].map((c) => srgbToLinear(c / 255)), 1] as Four);
    const colors = new Float32Array(hull.widths.length * 4).fill(1);
    hull.widths.forEach((width, v) => (colors[v * 4 + 3] = width));
    const piece = { mesh: hull.mesh, materialOf: () => material, colors };
    for (const [part, title] of mesh.parts.entries()) addPart(`${title} outline`, part, [piece]);
  }
  return new WebIO()
    .registerExtensions([KHRMaterialsUnlit, EXTTextureWebP, KHRTextureBasisu])
    .writeBinary(document);
}

type Four = [number, number, number, number];

/** Makes unlit materials, with a texture of what is needed to read it. */
function materialMaker(document: Document) {
  const unlit = document.createExtension(KHRMaterialsUnlit).createUnlit();
  return (name: string, what: string, picture: Uint8Array | undefined, wrap: Wrap): Material => {
    const material = document
      .createMaterial(name)
      .setRoughnessFactor(1)
      .setMetallicFactor(0)
      .setExtension('KHR_materials_unlit', unlit);
    if (!picture) return material;
    material.setBaseColorTexture(makeTexture(document, what ? `${name} ${what}` : name, picture));
    material.getBaseColorTextureInfo()!.setWrapS(wrap).setWrapT(wrap);
    return material;
  };
}

function makeTexture(document: Document, name: string, picture: Uint8Array): Texture {
  const texture = document.createTexture(name).setImage(picture as Uint8Array<ArrayBuffer>);
  if (pictureKind(picture) === 'WebP') {
    document.createExtension(EXTTextureWebP).setRequired(true);
    return texture.setMimeType('image/webp');
  }
  if (isKtx2(picture)) {
    document.createExtension(KHRTextureBasisu).setRequired(true);
    return texture.setMimeType('image/ktx2');
  }
  return texture.setMimeType('image/png');
}

function addDetail(
  document: Document,
  material: Material,
  png: Uint8Array,
  { says }: GlbDetail,
  wrap: Wrap,
): void {
  const texture = makeTexture(document, `${material.getName()} detail`, png);
  material.setOcclusionTexture(texture).setOcclusionStrength(0);
  material.getOcclusionTextureInfo()!.setWrapS(wrap).setWrapT(wrap);
  material.setExtras({ detailTexture: { slot: 'occlusionTexture', ...says } });
}

function addPrimitive(
  document: Document,
  root: Buffer,
  shape: Mesh,
  { mesh, materialOf, colors }: Piece,
  part: number,
): void {
  const piece = extractPart(mesh, part, colors);
  if (piece.indices.length === 0) return;
  const accessor = (
    type: 'VEC2' | 'VEC3' | 'VEC4' | 'SCALAR',
    array: Float32Array | Uint32Array | Uint16Array,
  ) =>
    document
      .createAccessor()
      .setType(type)
      .setArray(array as Float32Array<ArrayBuffer>)
      .setBuffer(root);
  const primitive = document
    .createPrimitive()
    .setMaterial(materialOf(part))
    .setIndices(accessor('SCALAR', piece.indices))
    .setAttribute('POSITION', accessor('VEC3', piece.positions))
    .setAttribute('NORMAL', accessor('VEC3', piece.normals))
    .setAttribute('TEXCOORD_0', accessor('VEC2', piece.uvs));
  if (piece.colors) primitive.setAttribute('COLOR_0', accessor('VEC4', piece.colors));
  shape.addPrimitive(primitive);
}

/** One part with its own vertices; v is turned over, as glTF counts it from the upper left. */
function extractPart(mesh: UvMesh, part: number, colors?: Float32Array) {
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
  const own = colors && new Float32Array(renumbered.size * 4);
  for (const [v, n] of renumbered) {
    positions.set(mesh.positions.subarray(v * 3, v * 3 + 3), n * 3);
    normals.set(mesh.normals.subarray(v * 3, v * 3 + 3), n * 3);
    own?.set(colors!.subarray(v * 4, v * 4 + 4), n * 4);
    uvs[n * 2] = mesh.uvs[v * 2]!;
    uvs[n * 2 + 1] = 1 - mesh.uvs[v * 2 + 1]!;
  }
  return {
    positions,
    normals,
    uvs,
    colors: own,
    indices: renumbered.size > 65_535 ? Uint32Array.from(indices) : Uint16Array.from(indices),
  };
}
