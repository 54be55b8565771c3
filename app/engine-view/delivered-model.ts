import {
  AnimationMixer,
  type AnimationClip,
  Box3,
  DataTexture,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshBasicMaterial,
  MeshToonMaterial,
  NearestFilter,
  RedFormat,
  WireframeGeometry,
  type Group,
  type Material,
  type Object3D,
  type Texture,
  Vector3,
  type WebGLRenderer,
} from 'three';
import { GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { basisTextures } from './basis-textures';

/** How an engine shows paint: alone, in values only, or under one lamp in steps; or the mesh alone. */
export type EngineLook = 'unlit' | 'values' | 'toon' | 'wire';

/** A moment of a clip, by its number in the file, and morph weights: of a node, by its name, and the target's number. */
export interface EnginePose {
  /** -1: none. */
  readonly clip: number;
  /** Seconds. */
  readonly time: number;
  readonly morphs: readonly (readonly [node: string, target: number, weight: number])[];
}

/** Most that a texture is read at a slant. */
const ANISOTROPY = 8;

/** Tones of a light in steps. */
const STEPS = new DataTexture(new Uint8Array([150, 255]), 2, 1, RedFormat);
STEPS.minFilter = STEPS.magFilter = NearestFilter;
STEPS.needsUpdate = true;

const UP = new Vector3(0, 1, 0);

/** A GLB file as a graphics card has it. */
export class DeliveredModel {
  readonly group: Group;
  /** Flat planes behind and before it: they stand with it, but aren't turned, measured or dressed. */
  private readonly backdrops: readonly Object3D[];
  private readonly stood = new Map<Object3D, Vector3>();
  private readonly clips: readonly AnimationClip[];
  private readonly mixer: AnimationMixer;
  /** Morph weights as the file has them. */
  private readonly weights = new Map<Mesh, readonly number[]>();

  private constructor(group: Group, clips: readonly AnimationClip[]) {
    this.group = group;
    this.clips = clips;
    this.mixer = new AnimationMixer(group);
    const found: Object3D[] = [];
    group.traverse((node) => {
      if ((node.userData as { backdrop?: unknown }).backdrop === true) found.push(node);
    });
    this.backdrops = found;
    group.traverse((node) => {
      if (node instanceof Mesh && node.morphTargetInfluences)
        this.weights.set(node, [...node.morphTargetInfluences]);
    });
  }

  /** Takes a pose; a clip that the file doesn't have leaves it at rest. */
  pose({ clip, time, morphs }: EnginePose): void {
    this.mixer.stopAllAction();
    for (const [mesh, weights] of this.weights) mesh.morphTargetInfluences = [...weights];
    const played = this.clips[clip];
    if (played) {
      this.mixer.clipAction(played).play();
      this.mixer.setTime(time);
    }
    this.group.traverse((node) => {
      // The loader keeps names that aren't its own beside those that it gives.
      const name = (node.userData as { name?: string }).name ?? node.name;
      for (const [of, target, weight] of morphs) {
        if (of !== name) continue;
        for (const mesh of [node, ...node.children])
          if (mesh instanceof Mesh && mesh.morphTargetInfluences) mesh.morphTargetInfluences[target] = weight;
      }
    });
  }

  /** The box of the model alone. */
  box(): Box3 {
    const box = new Box3();
    this.group.updateMatrixWorld(true);
    this.group.traverse((node) => {
      if (node instanceof Mesh && !this.isBackdrop(node)) box.expandByObject(node);
    });
    return box;
  }

  /** Shows the backdrops, or the model alone. */
  showBackdrops(areShown: boolean): void {
    for (const node of this.backdrops) node.visible = areShown;
  }

  /** Turns the backdrops about an upright line, from how they stand in the file. @param angle radians */
  turnBackdrops(angle: number, { x, z }: Vector3): void {
    for (const node of this.backdrops) {
      const stood = (this.stood.get(node) ?? node.position.clone()).clone();
      this.stood.set(node, stood.clone());
      const axis = new Vector3(x, 0, z);
      node.position.copy(stood.sub(axis).applyAxisAngle(UP, angle).add(axis));
      node.rotation.y = angle;
      node.updateMatrixWorld(true);
    }
  }

  private isBackdrop(node: Object3D): boolean {
    for (let at: Object3D | null = node; at; at = at.parent) if (this.backdrops.includes(at)) return true;
    return false;
  }

  /** @throws whatever the reader throws */
  static async read(glb: Uint8Array, renderer: WebGLRenderer): Promise<DeliveredModel> {
    const loader = new GLTFLoader().register(basisTextures);
    const { scene, animations } = await loader.parseAsync(glb.slice().buffer, '');
    const anisotropy = Math.min(ANISOTROPY, renderer.capabilities.getMaxAnisotropy());
    scene.traverse((node) => {
      if (!(node instanceof Mesh)) return;
      // A pose may take it out of the box that it has at rest.
      node.frustumCulled = false;
      const { map } = node.material as MeshBasicMaterial;
      if (map) map.anisotropy = anisotropy;
    });
    return new DeliveredModel(scene, animations);
  }

  dress(look: EngineLook): void {
    this.group.traverse((node) => {
      if (!(node instanceof Mesh)) return;
      const known = node.userData as { read?: MeshBasicMaterial };
      const read = (known.read ??= node.material as MeshBasicMaterial);
      const before = node.material as Material;
      // The outline keeps its colour; its width is in the vertices' alpha, which nothing opaque reads.
      const isHull = node.geometry.hasAttribute('color');
      // No lamp falls on a backdrop, and it has no form to be drawn in lines.
      const isPlain = look === 'unlit' || (look !== 'values' && this.isBackdrop(node));
      node.visible = !(isHull && look === 'wire');
      node.material = isPlain || (isHull && look === 'toon') ? read : dressed(read, look);
      if (before !== read) before.dispose();
      lines(node, look === 'wire' && !isHull && !isPlain);
    });
  }

  dispose(): void {
    this.group.traverse((node) => {
      if (!(node instanceof Mesh)) return;
      node.geometry.dispose();
      const { read } = node.userData as { read?: MeshBasicMaterial };
      for (const material of new Set([node.material as Material, read])) {
        (material as { map?: Texture | null } | undefined)?.map?.dispose();
        material?.dispose();
      }
    });
  }
}

/** The edges of a mesh, drawn over it or taken away. */
function lines(mesh: Mesh, isWanted: boolean): void {
  const known = mesh.children.find((child) => child instanceof LineSegments);
  if (known instanceof LineSegments && !isWanted) {
    mesh.remove(known);
    known.geometry.dispose();
    (known.material as Material).dispose();
  } else if (!known && isWanted) {
    const material = new LineBasicMaterial({ color: '#2a2730' });
    mesh.add(new LineSegments(new WireframeGeometry(mesh.geometry), material));
  }
}

function dressed(read: MeshBasicMaterial, look: 'values' | 'toon' | 'wire'): Material {
  if (look === 'wire') {
    const offset = { polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1 };
    return new MeshBasicMaterial({ color: '#d8d5d0', ...offset });
  }
  if (look === 'toon') return new MeshToonMaterial({ map: read.map, gradientMap: STEPS });
  const material = read.clone();
  // What is drawn is linear until here; its luminance by ITU-R BT.709.
  material.onBeforeCompile = (shader) => {
    shader.fragmentShader = shader.fragmentShader.replace(
      '#include <colorspace_fragment>',
      'gl_FragColor.rgb = vec3( dot( gl_FragColor.rgb, vec3( 0.2126, 0.7152, 0.0722 ) ) );\n#include <colorspace_fragment>',
    );
  };
  return material;
}
