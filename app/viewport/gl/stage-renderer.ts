import { UnsignedByteType, WebGLRenderTarget, type DataTexture, type WebGLRenderer } from 'three';
import type { Picture as RampPicture } from '../../../core/formats';
import type { Assigned } from '../../../core/ramps';
import { type Bounds, diagonalOf, subjectBounds, subjectOf, type UvMesh } from '../../../core/mesh';
import type { SheetMove } from '../../../core/unwrap';
import type { Pane } from '../../shared/panes';
import type { CameraRig } from '../view/camera-rig';
import { makeContext } from './context';
import { FlatMarks } from './flat-marks';
import { letteredSquares } from './lettered-squares';
import { HullPass } from './hull-pass';
import { LookupPass } from './lookup-pass';
import { coarsestTexel } from './coarsest-texel';
import { MELTS, type Reading } from './glsl';
import { ModelBuffers } from './model-buffers';
import { ModelLines } from './model-lines';
import { ModelPass, type ModelLook } from './model-pass';
import { ReachPass } from './reach-pass';
import { deviceRect, drawInto, type DeviceRect } from './screen-pass';
import { SheetPass, type SheetPlace } from './sheet-pass';
import { OffsetHullPass } from './offset-hull-pass';
import { SheetTextures } from './sheet-textures';
import { ViewTarget } from './view-target';

/** Pictures that colouring a view reads besides sheets: look-ups, kinds of places, parts, letters. */
const OTHER_TEXTURES = 7;

/** A texel may be longer than its area tells. */
const STRETCHED = 1.5;

/** One view of the model on the canvas. */
export interface ModelView {
  readonly pane: Pane;
  readonly rig: CameraRig;
  readonly target: ViewTarget;
  readonly look: ModelLook;
  /** Whether seams and what else is marked is drawn on it. */
  readonly marks: boolean;
  readonly wires: boolean;
}

export interface SheetView {
  readonly pane: Pane;
  readonly place: SheetPlace;
  readonly number: number;
}

export interface Picture {
  /** Those that come later lie over the earlier ones. */
  readonly models: readonly ModelView[];
  readonly sheet: SheetView | null;
  readonly look: ModelLook;
  /** The camera has come to rest: edges are drawn smooth. */
  readonly isAtRest: boolean;
}

/**
 * Draws the model and the sheet. The model's UVs are looked up once for each view of it; as long as the camera rests, paint
 * only costs a copy of the new tiles and one pass over the screen.
 */
export class StageRenderer {
  readonly sheets: SheetTextures;
  readonly buffers: ModelBuffers;
  readonly marks = new ModelLines();
  readonly wires = new ModelLines();
  readonly offsetHull: OffsetHullPass;
  readonly reach: ReachPass;
  private readonly renderer: WebGLRenderer;
  private readonly letters: DataTexture;
  private readonly lookup: LookupPass;
  private readonly model: ModelPass;
  private readonly sheet: SheetPass;
  private readonly hull: HullPass;
  private detail_: SheetTextures | null = null;
  private readonly flat: FlatMarks;
  private readonly bounds: Bounds;
  /** Length of the largest texel on the model, model units. */
  private coarsestTexel: number;

  /** @throws Error if the browser gives no WebGL2 context or no float targets */
  constructor(canvas: HTMLCanvasElement, mesh: UvMesh, sizes: readonly number[]) {
    this.renderer = makeContext(canvas);
    this.sheets = new SheetTextures(this.renderer, sizes);
    this.buffers = new ModelBuffers(mesh);
    this.letters = letteredSquares();
    this.offsetHull = new OffsetHullPass(subjectOf(mesh));
    this.reach = new ReachPass(this.buffers);
    this.lookup = new LookupPass(this.buffers, mesh, this.sheets.textures);
    this.model = new ModelPass(this.sheets.textures, this.buffers, this.letters);
    this.sheet = new SheetPass(this.letters);
    this.hull = new HullPass(subjectOf(mesh), this.buffers);
    this.flat = new FlatMarks(mesh, this.buffers);
    this.bounds = subjectBounds(mesh);
    this.coarsestTexel = coarsestTexel(mesh, sizes);
  }

  resize(width: number, height: number): void {
    this.renderer.setPixelRatio(window.devicePixelRatio);
    this.renderer.setSize(width, height, false);
  }

  /** Another layout of the same triangles. */
  setLayout(mesh: UvMesh): void {
    this.buffers.setUvs(mesh.uvs);
    this.flat.setLayout(mesh);
    const sizes = this.sheets.spans.map(({ size }) => size);
    this.coarsestTexel = coarsestTexel(mesh, sizes);
  }

  /** What lies on the ramp sheet. */
  setRamps(seated: Assigned | null, picture: RampPicture | null): void {
    this.buffers.setRamps(seated, picture);
  }

  /** The model in another pose, as light falls on it. */
  setPose(positions: Float32Array, normals: Float32Array): void {
    this.buffers.setPositions(positions);
    this.buffers.setNormals(normals);
    this.hull.setPositions(positions);
  }

  setMove(move: SheetMove): void {
    this.flat.setMove(move);
  }

  /** The detail sheet's picture; null while none is begun, or where the graphics can't read so many pictures in one pass. */
  get detail(): SheetTextures | null {
    return this.detail_;
  }

  /** Begins a picture of the detail sheet, or lets it go. @returns whether it can be shown */
  useDetail(isWanted: boolean): boolean {
    this.detail_?.dispose();
    this.detail_ = null;
    const sizes = this.sheets.spans.map(({ size }) => size);
    const fits = this.renderer.capabilities.maxTextures >= sizes.length * 2 + OTHER_TEXTURES;
    if (isWanted && fits) this.detail_ = new SheetTextures(this.renderer, sizes);
    const textures = this.detail_?.textures ?? null;
    this.model.setDetail(textures);
    this.hull.setDetail(textures);
    return fits;
  }

  draw({ models, sheet, look, isAtRest }: Picture): void {
    const { renderer } = this;
    if (!look.exact) this.sheets.refreshHalvings();
    if (!look.exact && look.mode === 'toon') this.detail_?.refreshHalvings();
    const ratio = renderer.getPixelRatio();
    const { height } = renderer.domElement;
    renderer.setRenderTarget(null);
    renderer.setScissorTest(true);
    if (sheet) {
      const rect = deviceRect(sheet.pane, ratio, height);
      const number = Math.min(sheet.number, this.sheets.spans.length - 1);
      drawInto(renderer, rect);
      const flat = { ...look, checker: look.mode === 'checker' };
      this.sheet.draw(renderer, this.sheets.textures[number]!, rect, sheet.place, ratio, flat);
      const { size } = this.sheets.spans[number]!;
      this.flat.draw(renderer, sheet.pane, sheet.place, { number, size }, look.mode === 'heatBothWays');
    }
    for (const view of models) {
      const rect = deviceRect(view.pane, ratio, height);
      view.target.resize(rect.width, rect.height);
      this.lookup.draw(renderer, view.target, view.rig, isAtRest);
      drawInto(renderer, rect);
      this.model.draw(
        renderer,
        view.target,
        rect,
        view.look,
        this.readingOf(view.rig, view.look),
        view.rig.axis(2),
      );
      if (view.look.mode === 'toon') this.outline(view, rect);
      this.reach.draw(renderer, view.target, rect);
      this.offsetHull.draw(renderer, view.target, view.rig, rect);
      if (view.marks) this.marks.draw(renderer, view.target, view.rig, view.pane, rect);
      if (view.wires) this.wires.draw(renderer, view.target, view.rig, view.pane, rect);
    }
    renderer.setScissorTest(false);
  }

  private outline({ target, rig, look: { toon } }: ModelView, rect: DeviceRect): void {
    const width = toon.width * diagonalOf(this.bounds);
    this.hull.draw(this.renderer, target, rig, rect, { width, color: toon.outline });
  }

  /** Gets ready for what comes next; for when nothing else is to be done. */
  prepare(): void {
    this.model.prepare(this.renderer);
  }

  /** Whether somewhere in a view a pixel may be so small that texels melt into each other there. */
  private readingOf(rig: CameraRig, { exact, leastLevel }: ModelLook): Reading {
    if (leastLevel > 0) return 'coarse';
    const pixel = rig.leastUnitsPerPixel(this.bounds) / this.renderer.getPixelRatio();
    const isNear = pixel < MELTS * this.coarsestTexel * STRETCHED;
    return isNear && !exact ? 'near' : 'plain';
  }

  /** The model from any camera, at any size. @returns RGBA rows, the top one first */
  async snapshot(rig: CameraRig, width: number, height: number, look: ModelLook): Promise<ImageData> {
    const { renderer } = this;
    const target = new ViewTarget();
    target.resize(width, height);
    const out = new WebGLRenderTarget(width, height, { type: UnsignedByteType, depthBuffer: false });
    rig.resize(width, height);
    this.sheets.refreshHalvings();
    this.lookup.draw(renderer, target, rig, true);
    renderer.setScissorTest(false);
    renderer.setRenderTarget(out);
    const rect = { x: 0, y: 0, width, height };
    this.model.draw(renderer, target, rect, look, this.readingOf(rig, look), rig.axis(2));
    const rows = new Uint8Array(width * height * 4);
    await renderer.readRenderTargetPixelsAsync(out, 0, 0, width, height, rows);
    renderer.setRenderTarget(null);
    out.dispose();
    target.dispose();
    const image = new ImageData(width, height);
    for (let y = 0; y < height; y++) {
      image.data.set(rows.subarray((height - 1 - y) * width * 4, (height - y) * width * 4), y * width * 4);
    }
    return image;
  }

  dispose(): void {
    this.lookup.dispose();
    this.model.dispose();
    this.sheet.dispose();
    this.hull.dispose();
    this.flat.dispose();
    this.marks.dispose();
    this.wires.dispose();
    this.offsetHull.dispose();
    this.reach.dispose();
    this.letters.dispose();
    this.buffers.dispose();
    this.sheets.dispose();
    this.detail_?.dispose();
    this.renderer.dispose();
  }
}
