import { Document, WebIO, type Accessor, type GLTF } from '@gltf-transform/core';
import { AnimationMixer, Vector3, type Mesh, type Object3D } from 'three';
import { GLTFLoader, type GLTF as LoadedGltf } from 'three/addons/loaders/GLTFLoader.js';

export interface Made {
  readonly document: Document;
  readonly write: () => Promise<Uint8Array<ArrayBuffer>>;
}

type Given = Float32Array<ArrayBuffer> | Uint16Array<ArrayBuffer> | Uint8Array<ArrayBuffer>;

function accessors(document: Document) {
  const buffer = document.getRoot().listBuffers()[0] ?? document.createBuffer();
  return (type: 'VEC2' | 'VEC3' | 'VEC4' | 'SCALAR' | 'MAT4', array: Given): Accessor =>
    document.createAccessor().setType(type).setArray(array).setBuffer(buffer);
}

/** A strip of four rungs on two joints that are bent and moved since it was bound; the node that holds it is moved too, which doesn't count. */
export function strip(weightTimes = 1): Made {
  const document = new Document();
  const accessor = accessors(document);
  const rungs = [0, 1, 2, 3];
  const positions = rungs.flatMap((y) => [-0.5, y, 0, 0.5, y, 0]);
  const weights = rungs.flatMap((y) => {
    const w = [(1 - y / 3) * weightTimes, (y / 3) * weightTimes, 0, 0];
    return [...w, ...w];
  });
  const indices = [0, 1, 2].flatMap((n) => [0, 1, 3, 0, 3, 2].map((i) => i + n * 2));
  const primitive = document
    .createPrimitive()
    .setIndices(accessor('SCALAR', Uint16Array.from(indices)))
    .setAttribute('POSITION', accessor('VEC3', Float32Array.from(positions)))
    .setAttribute('NORMAL', accessor('VEC3', Float32Array.from(rungs.flatMap(() => [0, 0, 1, 0, 0, 1]))))
    .setAttribute(
      'TEXCOORD_0',
      accessor('VEC2', Float32Array.from(rungs.flatMap((y) => [0.1, 0.1 + y / 5, 0.3, 0.1 + y / 5]))),
    )
    .setAttribute(
      'JOINTS_0',
      // The lowest rung is the root's alone.
      accessor(
        'VEC4',
        Uint8Array.from(rungs.flatMap((y) => [0, y > 0 ? 1 : 0, 0, 0, 0, y > 0 ? 1 : 0, 0, 0])),
      ),
    )
    .setAttribute('WEIGHTS_0', accessor('VEC4', Float32Array.from(weights)));
  const root = document.createNode('Root').setTranslation([1, 0, 0]);
  const tip = document
    .createNode('Tip')
    .setTranslation([0, 1.6, 0])
    .setRotation([0.5, 0, 0, Math.sqrt(0.75)]);
  root.addChild(tip);
  const bind = (y: number): number[] => [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, -y, 0, 1];
  const skin = document
    .createSkin()
    .addJoint(root)
    .addJoint(tip)
    .setInverseBindMatrices(accessor('MAT4', Float32Array.from([...bind(0), ...bind(1.5)])));
  const node = document
    .createNode('Strip')
    .setMesh(document.createMesh('Strip').addPrimitive(primitive))
    .setSkin(skin)
    .setTranslation([40, 0, 0]);
  document.createScene().addChild(root).addChild(node);
  return {
    document,
    write: async () => (await new WebIO().writeBinary(document)) as Uint8Array<ArrayBuffer>,
  };
}

/**
 * The strip with a clip, a blob that morphs, two lids that share one mesh (one of them mirrored), a camera, extras and materials of its own.
 */
export async function stage(): Promise<Uint8Array<ArrayBuffer>> {
  const { document } = strip();
  const accessor = accessors(document);
  const root = document.getRoot();
  const [scene] = root.listScenes();
  const node = (name: string) => root.listNodes().find((n) => n.getName() === name)!;
  const skin = document
    .createMaterial('Skin')
    .setBaseColorFactor([0.5, 0.2, 0.1, 1])
    .setDoubleSided(true)
    .setExtras({ sort: 'cloth' });
  const metal = document.createMaterial('Metal').setMetallicFactor(0.7);
  root.listMeshes()[0]!.listPrimitives()[0]!.setMaterial(skin);
  node('Tip').setExtras({ bone: 7 });

  const plate = (y: number) => Float32Array.from([0, y, 0, 1, y, 0, 1, y, 1, 0, y, 1]);
  const up = Float32Array.from([0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1, 0]);
  const uv = (u: number) => Float32Array.from([u, 0.1, u + 0.1, 0.1, u + 0.1, 0.2, u, 0.2]);
  const two = Uint16Array.from([0, 2, 1, 0, 3, 2]);
  const flat = (u: number) =>
    document
      .createPrimitive()
      .setIndices(accessor('SCALAR', two))
      .setAttribute('POSITION', accessor('VEC3', plate(0)))
      .setAttribute('NORMAL', accessor('VEC3', up))
      .setAttribute('TEXCOORD_0', accessor('VEC2', uv(u)));
  const target = document
    .createPrimitiveTarget('Raise')
    .setAttribute(
      'POSITION',
      accessor('VEC3', Float32Array.from([0, 0, 0, 0, 0, 0, 0, 0.8, 0.2, 0, 0.4, 0])),
    );
  const blob = document
    .createNode('Blob')
    .setTranslation([-3, 0, 0])
    .setMesh(
      document
        .createMesh('Blob')
        .addPrimitive(flat(0.5).setMaterial(skin).addTarget(target))
        .setWeights([0.25])
        .setExtras({ targetNames: ['Raise'] }),
    );
  const lid = document.createMesh('Lid').addPrimitive(flat(0.7).setMaterial(metal));
  const left = document.createNode('Left lid').setMesh(lid).setTranslation([0, 0, 3]);
  const right = document.createNode('Right lid').setMesh(lid).setTranslation([0, 0, 3]).setScale([-1, 1, 1]);
  const camera = document
    .createNode('View')
    .setCamera(document.createCamera('Front').setType('perspective').setYFov(0.7).setZNear(0.1).setZFar(100));
  for (const child of [blob, left, right, camera]) scene!.addChild(child);

  const times = accessor('SCALAR', Float32Array.of(0, 0.5, 1));
  const clip = document.createAnimation('Bend');
  const channel = (on: string, path: 'rotation' | 'translation' | 'weights', values: Accessor): void => {
    const sampler = document.createAnimationSampler().setInput(times).setOutput(values);
    clip
      .addSampler(sampler)
      .addChannel(
        document.createAnimationChannel().setTargetNode(node(on)).setTargetPath(path).setSampler(sampler),
      );
  };
  const half = Math.SQRT1_2;
  channel(
    'Tip',
    'rotation',
    accessor('VEC4', Float32Array.of(0, 0, 0, 1, half, 0, 0, half, 0, 0, half, half)),
  );
  channel('Root', 'translation', accessor('VEC3', Float32Array.of(1, 0, 0, 1, 0.5, 0, 2, 0, 0)));
  channel('Blob', 'weights', accessor('SCALAR', Float32Array.of(0, 1, 0.3)));
  channel('Left lid', 'translation', accessor('VEC3', Float32Array.of(0, 0, 3, 0, 1, 3, 0, 0, 4)));
  const bytes = await new WebIO().writeBinary(document);
  return withJson(bytes, (json) => {
    json.asset.extras = { by: 'nobody' };
  });
}

/** The same with an extension that nobody knows. */
export const stageWithTags = async (): Promise<Uint8Array<ArrayBuffer>> =>
  withJson(await stage(), (json) => {
    json.extensionsUsed = [...(json.extensionsUsed ?? []), 'TEST_tags'];
    json.extensions = { TEST_tags: { says: 'kept', material: 1 } };
  });

/** The JSON of a GLB (glTF 2.0, section 4.4). */
export function jsonOf(glb: Uint8Array): GLTF.IGLTF {
  const length = new DataView(glb.buffer, glb.byteOffset).getUint32(12, true);
  return JSON.parse(new TextDecoder().decode(glb.subarray(20, 20 + length))) as GLTF.IGLTF;
}

/** A GLB with another JSON and the same bytes behind it. */
export function withJson(glb: Uint8Array, change: (json: GLTF.IGLTF) => void): Uint8Array<ArrayBuffer> {
  const json = jsonOf(glb);
  change(json);
  const rest = glb.subarray(20 + new DataView(glb.buffer, glb.byteOffset).getUint32(12, true));
  const plain = JSON.stringify(json);
  const text = new TextEncoder().encode(plain.padEnd(Math.ceil(plain.length / 4) * 4));
  const out = new Uint8Array(20 + text.length + rest.length);
  const view = new DataView(out.buffer);
  [0x46546c67, 2, out.length, text.length, 0x4e4f534a].forEach((word, i) =>
    view.setUint32(i * 4, word, true),
  );
  out.set(text, 20);
  out.set(rest, 20 + text.length);
  return out;
}

/** A GLB as three's loader reads it. */
export const loaded = async (glb: Uint8Array): Promise<LoadedGltf> =>
  new GLTFLoader().parseAsync(glb.slice().buffer, '');

/**
 * Where three has every vertex of every mesh in some clips at some moments, in the scene: one list of numbers a vertex, its places one
 * after the other.
 */
export async function placesInClips(glb: Uint8Array, moments: number): Promise<number[][]> {
  const { scene, animations } = await loaded(glb);
  const meshes: Mesh[] = [];
  scene.traverse((object: Object3D) => {
    const mesh = object as Mesh;
    if (mesh.isMesh) meshes.push(mesh);
  });
  const counts = meshes.map((m) => m.geometry.getAttribute('position').count);
  const out = counts.flatMap((count) => Array.from({ length: count }, (): number[] => []));
  const mixer = new AnimationMixer(scene);
  for (const clip of animations.toSorted((a, b) => (a.name < b.name ? -1 : 1))) {
    mixer.stopAllAction();
    const action = mixer.clipAction(clip);
    action.play();
    for (let k = 0; k < moments; k++) {
      mixer.setTime((clip.duration * (k + 0.5)) / moments);
      scene.updateMatrixWorld(true);
      let n = 0;
      for (const mesh of meshes) {
        for (let v = 0; v < mesh.geometry.getAttribute('position').count; v++) {
          const at = mesh.getVertexPosition(v, new Vector3()).applyMatrix4(mesh.matrixWorld);
          out[n++]!.push(at.x, at.y, at.z);
        }
      }
    }
  }
  return out;
}

/** How far the farthest of some vertices is from the nearest of others, over all their places. */
export function farthestFrom(some: readonly number[][], others: readonly number[][]): number {
  let most = 0;
  for (const a of some) {
    let least = Infinity;
    for (const b of others) {
      let far = 0;
      for (let i = 0; i < a.length && far < least; i++) far = Math.max(far, Math.abs(a[i]! - b[i]!));
      least = Math.min(least, far);
    }
    most = Math.max(most, least);
  }
  return most;
}
