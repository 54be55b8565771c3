import {
  AmbientLight,
  Box3,
  DirectionalLight,
  PerspectiveCamera,
  Scene,
  Vector3,
  WebGLRenderer,
  WebGLRenderTarget,
  SRGBColorSpace,
} from 'three';
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js';
import { meanOfSamples } from '../../core/engine';
import type { Picture } from '../../core/formats';
import { DeliveredModel, type EngineLook, type EnginePose } from './delivered-model';
import type { Extent, Move } from './stand';

/** Field of view from top to bottom, degrees. */
const FIELD = 30;

/** From where one model is looked at first: a little from its left and from above. A row of them is seen straight on. */
const FROM = new Vector3(0.32, 0.16, 1).normalize();
const STRAIGHT = new Vector3(0, 0.12, 1).normalize();

/** Samples a pixel, each way, of pictures that are kept. */
const SAMPLES = 2;

/** A place in the view, CSS pixels from the upper left. */
export interface Foot {
  readonly x: number;
  readonly y: number;
}

/** Shows GLB files as an engine does: read from their bytes, textures mipmapped and filtered. Draws when something changes. */
export class EngineScene {
  private readonly renderer: WebGLRenderer;
  private readonly scene = new Scene();
  private readonly camera = new PerspectiveCamera(FIELD, 1, 0.01, 1000);
  private readonly controls: OrbitControls;
  private models: readonly DeliveredModel[] = [];
  private boxes: readonly Box3[] = [];
  private frame = 0;
  private reading = 0;
  private readonly onDrawn: () => void;

  private backdrops: boolean;
  private posed: EnginePose | null = null;

  /**
   * @param onDrawn told after each frame
   * @param backdrops whether flat backdrops of the first model are seen; those of others never are
   */
  constructor(canvas: HTMLCanvasElement, onDrawn: () => void, backdrops = false) {
    this.backdrops = backdrops;
    this.renderer = new WebGLRenderer({ canvas, antialias: true, alpha: true, preserveDrawingBuffer: true });
    this.renderer.setClearColor(0, 0);
    this.controls = new OrbitControls(this.camera, canvas);
    this.controls.addEventListener('change', () => this.draw());
    const sun = new DirectionalLight('#ffffff', 2.2);
    sun.position.set(0.4, 0.8, 0.6);
    this.scene.add(sun, new AmbientLight('#ffffff', 1));
    this.onDrawn = onDrawn;
  }

  /**
   * Reads files and shows them in the place of those before.
   *
   * @param scales how large each is shown; 1 where left out
   * @param stand where each stands, by their boxes
   * @returns whether they are more or fewer than before
   * @throws whatever the reader throws; those before stay then
   */
  async show(
    glbs: readonly Uint8Array[],
    look: EngineLook,
    scales: readonly number[] = [],
    stand: (extents: readonly Extent[]) => readonly Move[] = (all) => all.map(() => [0, 0, 0]),
  ): Promise<boolean> {
    const turn = ++this.reading;
    const read = await Promise.all(glbs.map((glb) => DeliveredModel.read(glb, this.renderer)));
    // Others were asked for meanwhile.
    if (turn !== this.reading) {
      for (const model of read) model.dispose();
      return false;
    }
    const before = this.models.length;
    for (const model of this.models) {
      this.scene.remove(model.group);
      model.dispose();
    }
    this.models = read;
    read.forEach(({ group }, i) => group.scale.setScalar(scales[i] ?? 1));
    const moves = stand(read.map((model) => extentOf(model.box())));
    read.forEach(({ group }, i) => {
      group.position.set(...moves[i]!);
      group.updateMatrixWorld(true);
      this.scene.add(group);
    });
    this.boxes = read.map((model) => model.box());
    this.showBackdrops(this.backdrops);
    if (this.posed) read[0]?.pose(this.posed);
    this.dress(look);
    if (before === 0) this.stand(null);
    return before !== read.length;
  }

  showBackdrops(areShown: boolean): void {
    this.backdrops = areShown;
    this.models.forEach((model, i) => model.showBackdrops(areShown && i === 0));
    this.draw();
  }

  /** The first model in a pose; a turntable shows it so too. */
  pose(pose: EnginePose): void {
    this.posed = pose;
    this.models[0]?.pose(pose);
    this.draw();
  }

  dress(look: EngineLook): void {
    for (const model of this.models) model.dress(look);
    this.draw();
  }

  resize(width: number, height: number): void {
    this.renderer.setPixelRatio(devicePixelRatio);
    this.renderer.setSize(width, height, false);
    this.camera.aspect = width / Math.max(1, height);
    this.camera.updateProjectionMatrix();
    this.draw();
  }

  /**
   * Looks from in front.
   *
   * @param pixels how high the first stands, CSS pixels; null: as all of them fill the view
   * @param isRow they stand side by side
   */
  stand(pixels: number | null, isRow = false): void {
    const view = this.renderer.domElement.clientHeight || 1;
    const box = pixels === null ? this.whole() : (this.boxes[0] ?? this.whole());
    const centre = box.getCenter(new Vector3());
    const distance = this.distanceFor(box, this.camera.aspect, pixels === null ? null : pixels / view);
    this.camera.near = distance / 100;
    this.camera.far = distance * 20;
    this.camera.updateProjectionMatrix();
    this.camera.position.copy(centre).addScaledVector(isRow ? STRAIGHT : FROM, distance);
    this.controls.target.copy(centre);
    this.controls.update();
    this.draw();
  }

  /** Goes round the middle of what is looked at. @param angle radians */
  goRound(angle: number): void {
    const { target } = this.controls;
    const arm = this.camera.position
      .clone()
      .sub(target)
      .applyAxisAngle(new Vector3(0, 1, 0), angle);
    this.camera.position.copy(target).add(arm);
    this.controls.update();
    this.draw();
  }

  /** The middle of each model's foot, as it is seen now. */
  feet(): Foot[] {
    const { clientWidth, clientHeight } = this.renderer.domElement;
    this.camera.updateMatrixWorld();
    return this.boxes.map((box) => {
      const { x, z } = box.getCenter(new Vector3());
      const at = new Vector3(x, box.min.y, z).project(this.camera);
      return { x: ((at.x + 1) / 2) * clientWidth, y: ((1 - at.y) / 2) * clientHeight };
    });
  }

  /**
   * The first model turned about its height, on a transparent ground, straight alpha: what a turntable shows. The view stays as it is.
   *
   * @param angle radians
   * @param tilt how far from above it is looked at, radians
   */
  turned(angle: number, width: number, height: number, tilt = 0.12): Picture {
    const box = this.boxes[0] ?? this.whole();
    const round = roundBox(box);
    const camera = new PerspectiveCamera(FIELD, width / height, 0.01, 1000);
    const distance = this.distanceFor(round, camera.aspect, null);
    camera.near = distance / 100;
    camera.far = distance * 20;
    camera.updateProjectionMatrix();
    const centre = round.getCenter(new Vector3());
    const from = new Vector3(
      Math.sin(angle) * Math.cos(tilt),
      Math.sin(tilt),
      Math.cos(angle) * Math.cos(tilt),
    );
    camera.position.copy(centre).addScaledVector(from, distance);
    camera.lookAt(centre);
    const others = this.models.slice(1);
    for (const { group } of others) group.visible = false;
    // The model turns, what stands behind it doesn't.
    this.models[0]?.turnBackdrops(angle, centre);
    try {
      return this.picture(camera, width, height);
    } finally {
      this.models[0]?.turnBackdrops(0, centre);
      for (const { group } of others) group.visible = true;
    }
  }

  /** What the view shows, as a picture of another size. */
  seen(width: number, height: number): Picture {
    const camera = this.camera.clone();
    camera.aspect = width / height;
    camera.updateProjectionMatrix();
    return this.picture(camera, width, height);
  }

  dispose(): void {
    this.reading++;
    cancelAnimationFrame(this.frame);
    this.controls.dispose();
    for (const model of this.models) model.dispose();
    this.renderer.dispose();
  }

  /** Drawn larger and made smaller: each pixel the mean of its samples, weighed by what they cover. */
  private picture(camera: PerspectiveCamera, width: number, height: number): Picture {
    const [w, h] = [width * SAMPLES, height * SAMPLES];
    const target = new WebGLRenderTarget(w, h, { colorSpace: SRGBColorSpace });
    const { renderer } = this;
    const rows = new Uint8Array(w * h * 4);
    try {
      renderer.setRenderTarget(target);
      renderer.clear();
      renderer.render(this.scene, camera);
      renderer.readRenderTargetPixels(target, 0, 0, w, h, rows);
    } finally {
      renderer.setRenderTarget(null);
      target.dispose();
    }
    return meanOfSamples(upright(rows, w), width, height, SAMPLES);
  }

  private whole(): Box3 {
    return this.boxes.reduce((all, box) => all.union(box), new Box3());
  }

  /** @param tall part of the view's height that the box takes; null: as it fills the view */
  private distanceFor(box: Box3, aspect: number, tall: number | null): number {
    const size = box.getSize(new Vector3());
    const part = tall ?? Math.min(0.82, (0.9 * aspect * size.y) / Math.max(size.x, 1e-6));
    return size.y / part / 2 / Math.tan((FIELD * Math.PI) / 360) + size.z / 2;
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

const extentOf = ({ min, max }: Box3): Extent => ({ min: [min.x, min.y, min.z], max: [max.x, max.y, max.z] });

/** A box that holds another however that is turned about its own height. */
function roundBox(box: Box3): Box3 {
  const size = box.getSize(new Vector3());
  const centre = box.getCenter(new Vector3());
  const across = Math.hypot(size.x, size.z);
  return new Box3().setFromCenterAndSize(centre, new Vector3(across, size.y, across));
}

/** Rows from the bottom to rows from the top. */
function upright(rows: Uint8Array, width: number): Uint8Array {
  const out = new Uint8Array(rows.length);
  const bytes = width * 4;
  for (let from = 0, to = rows.length - bytes; to >= 0; from += bytes, to -= bytes)
    out.set(rows.subarray(from, from + bytes), to);
  return out;
}
