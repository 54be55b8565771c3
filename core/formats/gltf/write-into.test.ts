import { existsSync, readdirSync, readFileSync } from 'node:fs';
import validator from 'gltf-validator';
import { Texture, Vector2 } from 'three';
import { describe, expect, it } from 'vitest';
import {
  farthestFrom,
  jsonOf,
  placesInClips,
  stage,
  stageWithTags,
  strip,
  withJson,
} from '../../../tests/rigged';
import { inverse, type Placing } from '../../math';
import {
  diagonalOf,
  boundsOf,
  placedMesh,
  requireUvs,
  withBackdrops,
  type Mesh,
  type UvMesh,
} from '../../mesh';
import { hullOf } from '../../delivery';
import {
  applyLayoutEdit,
  cornerUvs,
  doneHere,
  mendMesh,
  seamCorners,
  unwrapping,
  withCornerUvs,
} from '../../unwrap';
import { encodePng } from '../png';
import { importModel } from '../read-model';
import type { GlbLook } from './look';
import { writeGlb } from './write';

const MOMENTS = 20;
const BARE: GlbLook = { name: 'Stage', albedos: [], material: 'unlit' };
const PNG = encodePng({ width: 2, height: 2, rgba: new Uint8Array(16).fill(180) });

const laidOut = (mesh: Mesh): UvMesh => doneHere(unwrapping(mesh, { size: 256, margin: 4, seams: 'auto' }));

/** Seams led straight through triangles, so that some are cut. */
const cutThrough = (mesh: UvMesh): UvMesh =>
  applyLayoutEdit(mesh, {
    do: 'cut-through',
    seams: seamCorners(mesh),
    how: { margin: 4, arrange: 'tightest', weights: new Map() },
    sizes: [256],
    sheet: null,
  });

const WAYS: readonly [what: string, (mesh: Mesh) => UvMesh][] = [
  ['unchanged', requireUvs],
  ['laid out anew', laidOut],
  ['cut through triangles', (mesh) => cutThrough(laidOut(mesh))],
  ['mended', (mesh) => mendMesh(requireUvs(mesh), { do: 'merge-doubles' }).mesh],
  ['with other normals', (mesh) => mendMesh(requireUvs(mesh), { do: 'normals', angle: 0.5 }).mesh],
];

async function into(file: Uint8Array, change: (mesh: Mesh) => UvMesh, look = BARE): Promise<Uint8Array> {
  const { mesh, file: kept } = await importModel('stage.glb', file);
  return writeGlb(change(mesh), look, { bytes: kept!, placing: null });
}

async function complaints(glb: Uint8Array): Promise<string[]> {
  const { issues } = await validator.validateBytes(glb);
  return issues.messages.filter((m) => m.severity < 2).map((m) => m.code);
}

describe('a model that was painted, in the file that it came in', () => {
  // The judge is three's own loader, mixer and skinning.
  it.each(WAYS)('%s: every clip shows every vertex where it was', async (_what, change) => {
    const file = await stage();
    const glb = await into(file, change);
    const [was, now] = await Promise.all([placesInClips(file, MOMENTS), placesInClips(glb, MOMENTS)]);
    const { mesh } = await importModel('stage.glb', file);
    const near = diagonalOf(boundsOf(mesh.positions)) * 1e-5;
    expect(was[0]).toHaveLength(MOMENTS * 3);
    expect(farthestFrom(was, now)).toBeLessThan(near);
    // Where triangles were cut there are vertices that the file hadn't got.
    if (now.length <= was.length) expect(farthestFrom(now, was)).toBeLessThan(near);
  });

  it.each(WAYS)('%s: is sound by the validator, with all else as it was', async (_what, change) => {
    const file = await stage();
    const glb = await into(file, change, { ...BARE, albedos: [PNG] });
    expect(await complaints(glb)).toEqual(await complaints(file));
    const [was, now] = [jsonOf(file), jsonOf(glb)];
    const nodes = (json: typeof was) => json.nodes!.map(({ mesh: _, ...rest }) => rest);
    expect(nodes(now)).toEqual(nodes(was));
    expect(now.skins!.map((s) => s.joints)).toEqual(was.skins!.map((s) => s.joints));
    expect(now.animations!.map((a) => a.name)).toEqual(['Bend']);
    expect(now.cameras).toEqual(was.cameras);
    expect(now.asset.extras).toEqual({ by: 'nobody' });
    expect(now.meshes!.map((m) => m.name)).toEqual(expect.arrayContaining(['Strip', 'Blob', 'Lid']));
    expect(now.meshes!.find((m) => m.name === 'Blob')).toMatchObject({
      weights: [0.25],
      extras: { targetNames: ['Raise'] },
    });
  });

  it('keeps an extension that nobody knows, and whatever it may name by number', async () => {
    const glb = await into(await stageWithTags(), requireUvs, { ...BARE, albedos: [PNG] });
    const { extensions, extensionsUsed, materials } = jsonOf(glb);
    expect(extensions).toEqual({ TEST_tags: { says: 'kept', material: 1 } });
    expect(extensionsUsed).toEqual(['TEST_tags', 'KHR_materials_unlit']);
    expect(materials![1]!.name).toBe('Metal');
  });

  it('stands as it stood after it is read again, with the new UVs', async () => {
    const file = await stage();
    const { mesh } = await importModel('stage.glb', file);
    const own = laidOut(mesh);
    const again = await importModel('again.glb', await into(file, () => own));
    const corners = (m: Mesh) =>
      Array.from(m.indices, (v) => [
        ...m.positions.subarray(v * 3, v * 3 + 3),
        ...m.uvs!.subarray(v * 2, v * 2 + 2),
      ]);
    const sorted = (m: Mesh) =>
      corners(m)
        .map((c) => c.map((x) => x.toFixed(5)).join(' '))
        .sort();
    expect(sorted(again.mesh)).toEqual(sorted(own));
    expect(again.motion).toEqual({ skins: 1, joints: 2, clips: 1, morphs: 1 });
  });

  it('of which nothing was laid out keeps its own numbers: only the materials are others', async () => {
    const file = await stage();
    const glb = await into(file, requireUvs, { ...BARE, albedos: [PNG] });
    const [was, now] = [jsonOf(file), jsonOf(glb)];
    expect(now.accessors).toEqual(
      was.accessors!.map((a) => ({ ...a, bufferView: expect.any(Number) as number })),
    );
    // Both lids still share one mesh; what Skin was alone on keeps its being seen from both sides.
    expect(now.meshes).toHaveLength(3);
    expect(now.materials!.map((m) => [m.doubleSided ?? false, m.extensions])).toEqual([
      [true, { KHR_materials_unlit: {} }],
      [false, { KHR_materials_unlit: {} }],
    ]);
    expect(now.images).toHaveLength(1);
  });

  it('may keep its materials: they get the paint as base colour, and the colour that was under it is gone', async () => {
    const glb = await into(await stage(), requireUvs, { ...BARE, albedos: [PNG], material: 'kept' });
    const { materials } = jsonOf(glb);
    expect(materials!.map((m) => m.name)).toEqual(['Skin', 'Metal']);
    expect(materials![0]).toMatchObject({ doubleSided: true, extras: { sort: 'cloth' } });
    expect(materials![0]!.pbrMetallicRoughness).toEqual({ baseColorTexture: { index: 0 } });
    expect(materials![1]!.pbrMetallicRoughness).toMatchObject({ metallicFactor: 0.7 });
  });

  it('whose picture was read by another set of UVs, moved: is laid out as it was seen, and leaves so', async () => {
    const uri = `data:image/png;base64,${Buffer.from(PNG).toString('base64')}`;
    const [offset, rotation, scale] = [[0.1, 0.2], 0.4, [0.5, 0.5]] as const;
    const moved = withJson(await stage(), (json) => {
      json.images = [{ uri }];
      json.textures = [{ source: 0 }];
      json.extensionsUsed = ['KHR_texture_transform'];
      const { attributes } = json.meshes!.find((m) => m.name === 'Lid')!.primitives[0]!;
      // Its first set is another piece's.
      const other = json.meshes!.find((m) => m.name === 'Blob')!.primitives[0]!.attributes;
      Object.assign(attributes, { TEXCOORD_1: attributes['TEXCOORD_0'], TEXCOORD_0: other['TEXCOORD_0'] });
      const info = { index: 0, texCoord: 0 };
      json.materials!.find((m) => m.name === 'Metal')!.pbrMetallicRoughness = {
        baseColorTexture: {
          ...info,
          extensions: { KHR_texture_transform: { offset, rotation, scale, texCoord: 1 } },
        },
      };
    });
    const plain = (await importModel('stage.glb', await stage())).mesh;
    const { mesh, file } = await importModel('stage.glb', moved);
    // As three moves what its textures are read by.
    const texture = new Texture();
    texture.offset.set(...offset);
    texture.repeat.set(...scale);
    texture.rotation = rotation;
    texture.updateMatrix();
    const lid = mesh.parts.indexOf('Left lid');
    let compared = 0;
    for (let c = 0; c < mesh.indices.length; c++) {
      if (mesh.faceParts[Math.floor(c / 3)] !== lid) continue;
      const [v, w] = [mesh.indices[c]! * 2, plain.indices[c]! * 2];
      const wanted = new Vector2(plain.uvs![w], 1 - plain.uvs![w + 1]!).applyMatrix3(texture.matrix);
      expect(mesh.uvs![v]).toBeCloseTo(wanted.x, 6);
      expect(mesh.uvs![v + 1]).toBeCloseTo(1 - wanted.y, 6);
      compared++;
    }
    expect(compared).toBe(6);
    for (const material of ['unlit', 'kept'] as const) {
      const look: GlbLook = { ...BARE, albedos: [PNG], material };
      const glb = await writeGlb(requireUvs(mesh), look, { bytes: file!, placing: null });
      expect(await complaints(glb)).toEqual(await complaints(file!));
      expect(JSON.stringify(jsonOf(glb).materials)).not.toContain('KHR_texture_transform');
      const again = await importModel('again.glb', glb);
      const corners = (m: Mesh) => Array.from(m.indices, (v) => [...m.uvs!.subarray(v * 2, v * 2 + 2)]);
      expect(corners(again.mesh)).toEqual(corners(mesh));
    }
  });

  it('keeps other textures where they were when it is laid out anew', async () => {
    const { mesh, file } = await importModel('b.glb', await stage());
    // A texture that the strip had before: as its normal map.
    const uri = `data:image/png;base64,${Buffer.from(PNG).toString('base64')}`;
    const textured = withJson(file!, (json) => {
      json.images = [{ uri }];
      json.textures = [{ source: 0 }];
      json.materials![0]!.normalTexture = { index: 0 };
    });
    const look: GlbLook = { ...BARE, albedos: [PNG], material: 'kept' };
    const glb = await writeGlb(laidOut(mesh), look, { bytes: textured, placing: null });
    expect(await complaints(glb)).toEqual(await complaints(textured));
    const { materials, meshes } = jsonOf(glb);
    const own = materials!.find((m) => m.name === 'Skin')!;
    expect(own.normalTexture).toMatchObject({ texCoord: 1 });
    const [primitive] = meshes!.find((m) => m.name === 'Strip')!.primitives;
    expect(Object.keys(primitive!.attributes)).toContain('TEXCOORD_1');
    const again = await importModel('again.glb', glb);
    expect(again.mesh.uvs).not.toEqual(mesh.uvs);
  });

  it('brings its outline along: a hull that joints and morph targets move as they do the model', async () => {
    const file = await stage();
    const { mesh } = await importModel('stage.glb', file);
    const hull = hullOf(requireUvs(mesh), { width: 0.01, color: '#203040' });
    const glb = await into(file, requireUvs, { ...BARE, hull });
    expect(await complaints(glb)).toEqual(await complaints(await stage()));
    const { meshes, materials } = jsonOf(glb);
    const strip = meshes!.find((m) => m.name === 'Strip')!;
    expect(strip.primitives).toHaveLength(2);
    expect(materials![strip.primitives[1]!.material!]!.name).toBe('Stage outline');
    expect(Object.keys(strip.primitives[1]!.attributes)).toEqual(
      expect.arrayContaining(['JOINTS_0', 'WEIGHTS_0', 'COLOR_0']),
    );
    // It is as far from the model at every moment as it is at rest, and no farther.
    const reach = diagonalOf(boundsOf(mesh.positions)) * 0.01;
    const [was, now] = await Promise.all([placesInClips(file, MOMENTS), placesInClips(glb, MOMENTS)]);
    expect(farthestFrom(now, was)).toBeGreaterThan(reach * 0.3);
    expect(farthestFrom(now, was)).toBeLessThan(reach * 1.5);
  });

  it('that was turned and scaled when it came in leaves so, by one node over all', async () => {
    const file = await stage();
    const { mesh, file: kept } = await importModel('stage.glb', file);
    const placing: Placing = [0, -2, 0, 1, 2, 0, 0, 0, 0, 0, 2, 0];
    const turned = placedMesh(requireUvs(mesh), placing);
    const glb = await writeGlb(turned, BARE, { bytes: kept!, placing });
    expect(await complaints(glb)).toEqual(await complaints(await stage()));
    const again = await importModel('again.glb', glb);
    const back = placedMesh(again.mesh, inverse(placing));
    const places = (m: Mesh) =>
      Array.from({ length: m.positions.length / 3 }, (_, v) => [...m.positions.subarray(v * 3, v * 3 + 3)]);
    expect(farthestFrom(places(mesh), places(back))).toBeLessThan(1e-4);
  });

  it('is refused with a sentence where the file is another one: no triangle is left out', async () => {
    const { mesh } = await importModel('stage.glb', await stage());
    const other = await strip().write();
    await expect(writeGlb(requireUvs(mesh), BARE, { bytes: other, placing: null })).rejects.toMatchObject({
      code: 'file-truncated',
    });
  });

  it('has its backdrops beside it', async () => {
    const file = await stage();
    const { mesh } = await importModel('stage.glb', file);
    const behind = withBackdrops(requireUvs(mesh), [
      {
        name: 'Canal',
        sheet: 1,
        corners: [
          [-2, 0, -2],
          [2, 0, -2],
          [2, 2, -2],
          [-2, 2, -2],
        ],
      },
    ]);
    const glb = await into(file, () => behind, { ...BARE, albedos: [PNG, PNG] });
    expect(await complaints(glb)).toEqual(await complaints(await stage()));
    const { nodes, materials } = jsonOf(glb);
    const added = nodes!.find((n) => n.name === 'Canal')!;
    expect(added.extras).toEqual({ backdrop: true });
    expect(materials!.some((m) => m.alphaMode === 'MASK')).toBe(true);
  });
});

// Debian's assimp-testmodels: a skin, morph targets, cameras, odd materials, made by others.
const MODELS = '.cache/models/usr/share/assimp/models/glTF2';

describe.skipIf(!existsSync(MODELS))('models that were made by others', () => {
  it.each([
    'simple_skin/simple_skin.gltf',
    'glTF-Sample-Models/AnimatedMorphCube-glTF/AnimatedMorphCube.gltf',
    'cameras/Cameras.gltf',
    'BoxTexcoords-glTF/boxTexcoords.gltf',
    'textureTransform/TextureTransformTest.gltf',
    '2CylinderEngine-glTF-Binary/2CylinderEngine.glb',
    'draco/2CylinderEngine.gltf',
  ])('%s moves as it did, and is no less sound', async (name) => {
    const path = `${MODELS}/${name}`;
    const folder = path.slice(0, path.lastIndexOf('/'));
    const beside = new Map<string, Uint8Array>(
      readdirSync(folder).map((file) => [file, readFileSync(`${folder}/${file}`)]),
    );
    const read = await importModel(name, readFileSync(path), beside);
    const half = cornerUvs(withSomeUvs(read.mesh)).map((x) => x / 2 + 0.1);
    const own = withCornerUvs(read.mesh, half);
    for (const mesh of [withSomeUvs(read.mesh), own]) {
      const glb = await writeGlb(mesh, BARE, { bytes: read.file!, placing: null });
      const found = await complaints(read.file!);
      expect((await complaints(glb)).length).toBeLessThanOrEqual(found.length);
      const near = diagonalOf(boundsOf(mesh.positions)) * 1e-5;
      const again = await importModel('again.glb', glb);
      expect(again.motion).toEqual(read.motion);
      if (read.motion!.clips > 0)
        expect(
          farthestFrom(await placesInClips(read.file!, MOMENTS), await placesInClips(glb, MOMENTS)),
        ).toBeLessThan(near);
    }
  });

  it('packed with Draco hold what they hold unpacked', async () => {
    const [packed, plain] = await Promise.all(
      ['draco/2CylinderEngine.gltf', '2CylinderEngine-glTF-Binary/2CylinderEngine.glb'].map(async (name) => {
        const folder = `${MODELS}/${name.slice(0, name.indexOf('/'))}`;
        const beside = new Map(readdirSync(folder).map((file) => [file, readFileSync(`${folder}/${file}`)]));
        return (await importModel(name, readFileSync(`${MODELS}/${name}`), beside)).mesh;
      }),
    );
    // Its encoder leaves out triangles without area.
    expect(packed!.indices.length).toBeLessThanOrEqual(plain!.indices.length);
    expect(packed!.indices.length).toBeGreaterThan(plain!.indices.length * 0.85);
    const [a, b] = [boundsOf(packed!.positions), boundsOf(plain!.positions)];
    expect(Math.abs(diagonalOf(a) / diagonalOf(b) - 1)).toBeLessThan(0.01);
  });
});

const withSomeUvs = (mesh: Mesh): UvMesh =>
  mesh.uvs ? requireUvs(mesh) : { ...mesh, uvs: new Float32Array((mesh.positions.length / 3) * 2) };
