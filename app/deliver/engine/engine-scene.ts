import {
  AmbientLight,
  Box3,
  DataTexture,
  DirectionalLight,
  Mesh,
  MeshToonMaterial,
  NearestFilter,
  PerspectiveCamera,
  RedFormat,
  Scene,
  Vector3,
  WebGLRenderer,
  type Group,
  type Material,
  type MeshBasicMaterial,
  type Texture,
} from 'three';
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js';
import { GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { basisTextures } from './basis-textures';
import type { EngineLight } from './engine-store';

const FIELD = 30;

/** Shows a GLB file as an engine does: read from its bytes, its textures mipmapped and filtered. Draws when something changes. */
export class EngineScene {
  private readonly renderer: WebGLRenderer;
  private readonly scene = new Scene();
  private readonly camera = new PerspectiveCamera(FIELD, 1, 0.01, 1000);
  private readonly controls: OrbitControls;
  private readonly sun = new DirectionalLight('#ffffff', 2.2);
  private readonly sky = new AmbientLight('#ffffff', 1);
  private model: Group | null = null;
  private box = new Box3();
  private frame = 0;
  private reading = 0;

  /** @param onDrawn told after each frame */
  constructor(canvas: HTMLCanvasElement, onDrawn: () => void) {
    this.renderer = new WebGLRenderer({ canvas, antialias: true, alpha: true, preserveDrawingBuffer: true });
    this.renderer.setClearColor(0, 0);
    this.controls = new OrbitControls(this.camera, canvas);
    this.controls.addEventListener('change', () => this.draw());
    this.sun.position.set(0.4, 0.8, 0.6);
    this.scene.add(this.sun, this.sky);
    this.onDrawn = onDrawn;
  }

  private readonly onDrawn: () => void;

  /**
   * Reads a file and shows it in the place of the one before.
   *
   * @throws whatever the reader throws; the one before stays then
   */
  async show(glb: Uint8Array, light: EngineLight): Promise<void> {
    const turn = ++this.reading;
    const loader = new GLTFLoader().register(basisTextures);
    const bytes = glb.slice();
    const { scene: model } = await loader.parseAsync(bytes.buffer, '');
    // Another was asked for meanwhile.
    if (turn !== this.reading) return void release(model);
    const isFirst = this.model === null;
    if (this.model) {
      this.scene.remove(this.model);
      release(this.model);
    }
    this.model = model;
    model.traverse((node) => node instanceof Mesh && dress(node, light, this.renderer));
    this.box = new Box3().setFromObject(model);
    this.scene.add(model);
    if (isFirst) this.stand(null);
    else this.draw();
  }

  resize(width: number, height: number): void {
    this.renderer.setPixelRatio(devicePixelRatio);
    this.renderer.setSize(width, height, false);
    this.camera.aspect = width / Math.max(1, height);
    this.camera.updateProjectionMatrix();
    this.draw();
  }

  /** Looks at the model from in front. @param pixels how high it stands, CSS pixels; null: as it fills the view */
  stand(pixels: number | null): void {
    const centre = this.box.getCenter(new Vector3());
    const size = this.box.getSize(new Vector3());
    const view = this.renderer.domElement.clientHeight || 1;
    const tall =
      pixels === null
        ? Math.min(0.82, (0.9 * this.camera.aspect * size.y) / Math.max(size.x, 1e-6))
        : pixels / view;
    const distance = size.y / tall / 2 / Math.tan((FIELD * Math.PI) / 360) + size.z / 2;
    this.camera.near = distance / 100;
    this.camera.far = distance * 20;
    this.camera.updateProjectionMatrix();
    const back = new Vector3(0.32, 0.16, 1).normalize();
    this.camera.position.copy(centre).addScaledVector(back, distance);
    this.controls.target.copy(centre);
    this.controls.update();
    this.draw();
  }

  /** Turned by some radians about the model's own height. */
  turn(angle: number): void {
    const arm = this.camera.position
      .clone()
      .sub(this.controls.target)
      .applyAxisAngle(new Vector3(0, 1, 0), angle);
    this.camera.position.copy(this.controls.target).add(arm);
    this.controls.update();
    this.draw();
  }

  dispose(): void {
    this.reading++;
    cancelAnimationFrame(this.frame);
    this.controls.dispose();
    if (this.model) release(this.model);
    this.renderer.dispose();
  }

  private draw(): void {
    if (this.frame) return;
    this.frame = requestAnimationFrame(() => {
      this.frame = 0;
      this.renderer.render(this.scene, this.camera);
      this.onDrawn();
    });
  }
}

/** Tones of a light in steps. */
const STEPS = new DataTexture(new Uint8Array([150, 255]), 2, 1, RedFormat);
STEPS.minFilter = STEPS.magFilter = NearestFilter;
STEPS.needsUpdate = true;

function dress(mesh: Mesh, light: EngineLight, renderer: WebGLRenderer): void {
  const material = mesh.material as MeshBasicMaterial;
  const { map } = material;
  if (map) map.anisotropy = Math.min(8, renderer.capabilities.getMaxAnisotropy());
  // The outline keeps its colour; its width is in the vertices' alpha, which nothing opaque reads.
  const isHull = mesh.geometry.hasAttribute('color');
  if (light === 'unlit' || isHull) return;
  mesh.material = new MeshToonMaterial({ map, gradientMap: STEPS });
  material.dispose();
}

function release(model: Group): void {
  model.traverse((node) => {
    if (!(node instanceof Mesh)) return;
    node.geometry.dispose();
    const material = node.material as Material & { map?: Texture | null };
    material.map?.dispose();
    material.dispose();
  });
}
