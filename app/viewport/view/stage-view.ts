import type { Vector3 } from 'three';
import type { Rgb } from '../../../core/color';
import type { PosedForm } from '../../../core/motion';
import type { Vec3 } from '../../../core/math';
import { backdropSheets, subjectBounds, isBackdrop, type UvMesh } from '../../../core/mesh';
import { sheetOfTile } from '../../../core/surface';
import type { SheetMove } from '../../../core/unwrap';
import type { SheetCopy } from '../../project';
import type { CameraPose } from '../../../core/document';
import type { ReachMap } from '../../../core/engine';
import { isShown, paneRect, type Pane, type PaneKind, type Panes } from '../../shared/panes';
import type { CheckLights, ToonLook } from '../../shared/shown';
import type { Mode, ModelLook } from '../gl/model-pass';
import type { Segments } from '../gl/segment-mesh';
import { StageRenderer, type ModelView } from '../gl/stage-renderer';
import { ViewTarget } from '../gl/view-target';
import { CameraRig } from './camera-rig';
import { FlatView } from './flat-view';
import { Picker, type Hit } from './picker';
import { rampColorAt, type ShownRamps } from './ramp-color';
import { StageCamera } from './stage-camera';

/** What the picture depends on besides the camera. */
export interface StageSettings {
  readonly panes: Panes;
  readonly mode: Mode;
  readonly lights: CheckLights;
  readonly toon: ToonLook;
  readonly exact: boolean;
  /** Nothing is painted and no part has a colour yet. */
  readonly isUntouched: boolean;
  readonly ground: number;
  /** Whether seams are drawn on the model. */
  readonly seams: boolean;
  readonly wires: boolean;
  readonly hidden: ReadonlySet<number>;
  /** Parts that the hand reaches through: hidden ones, and backdrops unless one is in hand. */
  readonly untouched: ReadonlySet<number>;
  /** The sheet in the flat view. */
  readonly sheet: number;
  /** A small second view of the model that keeps its camera; null for none. */
  readonly pinned: { readonly pose: CameraPose; readonly height: number } | null;
}

/** A pane that is drawn here, and a point in it. */
export interface PanePoint {
  readonly pane: 'model' | 'sheet';
  readonly x: number;
  readonly y: number;
}

/** So many tiles are more than a stroke makes. */
const MANY_TILES = 64;
const SOON_MS = 200;

/** Shaders that aren't needed yet are compiled so long after the first picture. */
const PREPARE_MS = 2500;

/** The camera rests when it hasn't moved for so long; only then edges are drawn smooth. */
const REST_MS = 140;

/** From the picture's right and lower edges to the small view, pixels: chips stand below it. */
const PINNED_AIR = [12, 48] as const;

/** The model and the sheet on one canvas: draws on demand, finds what is under the pointer. */
export class StageView {
  readonly camera: StageCamera;
  readonly flat: FlatView;
  /** How many pictures were drawn. */
  pictures = 0;
  /** The mesh with which it was built; others that it shows differ in their layout only. */
  readonly form: UvMesh;
  private mesh: UvMesh;
  private readonly renderer: StageRenderer;
  private readonly picker: Picker;
  private readonly canvas: HTMLCanvasElement;
  private readonly target = new ViewTarget();
  private readonly pinnedRig = new CameraRig();
  private readonly pinnedTarget = new ViewTarget();
  private settings: StageSettings;
  private copy: SheetCopy | null = null;
  private colors: SheetCopy | null = null;
  private normals: Float32Array | null = null;
  private posed: PosedForm | null = null;
  private ramps: ShownRamps | null = null;
  private outlined = -1;
  private showsReach = false;
  private unsubscribe: () => void = () => undefined;
  private leaveDetail: () => void = () => undefined;
  private width = 1;
  private height = 1;
  private placed = false;
  private asked = 0;
  private soon: ReturnType<typeof setTimeout> | 0 = 0;
  private resting: ReturnType<typeof setTimeout> | 0 = 0;
  private prepared: ReturnType<typeof setTimeout> | 0 = 0;
  private readonly drawn = new Set<() => void>();
  /** Another view has the canvas: what still reaches this one does nothing. */
  private isGone = false;
  private readonly sizes: readonly number[];
  /** Sheets of backdrops. */
  private readonly backdrops: ReadonlySet<number>;

  /** @throws Error where WebGL2 is missing */
  constructor(canvas: HTMLCanvasElement, mesh: UvMesh, sizes: readonly number[], settings: StageSettings) {
    this.canvas = canvas;
    this.form = this.mesh = mesh;
    this.settings = settings;
    this.sizes = sizes;
    this.backdrops = backdropSheets(mesh);
    this.renderer = new StageRenderer(canvas, mesh, sizes);
    // A view of another form begins with what is hidden now.
    this.renderer.buffers.setHidden(settings.hidden);
    this.picker = new Picker(mesh);
    this.camera = new StageCamera(mesh, () => this.lookAgain());
    this.flat = new FlatView({
      pane: () => this.pane('sheet'),
      size: () => this.sheetSize,
      changed: () => this.invalidate(),
    });
  }

  /** Calls back after every picture. @returns stops it */
  whenDrawn = (listener: () => void): (() => void) => {
    this.drawn.add(listener);
    return () => this.drawn.delete(listener);
  };

  // ---- what is shown -------------------------------------------------------------------------------------------------

  /**
   * Another picture of the same sheets; one of other sizes is for the view that comes next.
   *
   * @param colors where colours are picked from, if not there
   */
  setSheet(sheet: SheetCopy, colors = sheet): void {
    if (this.isGone || sheet.sheets.map((s) => s.size).join() !== this.sizes.join()) return;
    this.unsubscribe();
    // The GPU begins with nothing painted.
    this.renderer.sheets.fill(sheet.pictures, this.copy === null);
    this.copy = sheet;
    this.colors = colors;
    const { sheets } = this.renderer;
    this.unsubscribe = sheet.subscribe({
      tiles: ({ tiles, subs, pixels, left }) => {
        sheets.upload(tiles, subs, pixels);
        this.lookThrough(tiles);
        if (left === 0) sheets.endCoarse();
        if (left < MANY_TILES) this.invalidate();
        else if (!sheets.isCoarse) this.invalidateSoon();
      },
      coarse: ({ stride, tiles, pixels }) => {
        sheets.uploadCoarse(stride, tiles, pixels);
        this.invalidate();
      },
    });
    this.invalidate();
  }

  /** Takes the picture of the detail sheet, or lets it go. @returns whether it can be shown */
  setDetail(detail: SheetCopy | null): boolean {
    if (this.isGone || (detail && detail.sheets.map((s) => s.size).join() !== this.sizes.join())) return true;
    this.leaveDetail();
    const fits = this.renderer.useDetail(detail !== null);
    const { detail: textures } = this.renderer;
    if (detail && textures) {
      textures.fill(detail.pictures, true);
      this.leaveDetail = detail.subscribe({
        tiles: ({ tiles, subs, pixels }) => {
          textures.upload(tiles, subs, pixels);
          this.invalidate();
        },
      });
    }
    this.invalidate();
    return fits;
  }

  /** What lies on the ramp sheet, and its texels; null: nothing does. */
  setRamps(ramps: ShownRamps | null): void {
    if (ramps === this.ramps) return;
    this.ramps = ramps;
    this.renderer.setRamps(ramps?.seated ?? null, ramps?.picture ?? null);
    this.lookAgain();
  }

  /** Other normals for light to fall on; null: the model's own. @param normals unit xyz a vertex */
  setNormals(normals: Float32Array | null): void {
    if (normals === this.normals) return;
    this.normals = normals;
    this.renderer.buffers.setNormals(this.litNormals());
    this.lookAgain();
  }

  /** The normals on which light falls, as the pose turns them. */
  private litNormals(): Float32Array {
    const normals = this.normals ?? this.form.normals;
    return this.posed ? this.posed.turn(normals) : normals;
  }

  /** The model in a pose; null: at rest. */
  setPose(posed: PosedForm | null): void {
    if (posed === this.posed) return;
    this.posed = posed;
    this.renderer.setPose(posed?.positions ?? this.form.positions, this.litNormals());
    this.picker.setPose(posed && { positions: posed.positions, normals: posed.turn(this.form.normals) });
    this.lookAgain();
  }

  /** The mesh as it is shown: in the pose. */
  get shownMesh(): UvMesh {
    return this.picker.shownMesh;
  }

  /** Where the pose has a place of the model at rest. */
  shownAt(place: Vec3): Vector3 {
    return this.picker.shownAt(place);
  }

  /** Where a place of the model at rest is seen in its pane. */
  project(place: Vec3): { x: number; y: number } {
    return this.rig.project(this.picker.shownAt(place));
  }

  /** Another layout of the same triangles. */
  setLayout(mesh: UvMesh): void {
    if (mesh === this.mesh) return;
    this.mesh = mesh;
    this.renderer.setLayout(mesh);
    this.picker.setLayout(mesh);
    this.lookAgain();
  }

  /** Looks from where another view of the project has looked. */
  takeOver(previous: StageView): void {
    if (!previous.placed) return;
    this.camera.takeOver(previous.camera);
    this.placed = true;
    this.width = previous.width;
    this.height = previous.height;
    if (previous.sizes.join() === this.sizes.join()) Object.assign(this.flat.place, previous.flat.place);
    else this.flat.fit();
  }

  setHeat(heat: Float32Array | null): void {
    this.renderer.buffers.setHeat(heat);
    this.lookAgain();
  }

  /** Lights triangles up. @param faces none if empty */
  setChosen(faces: ReadonlySet<number>): void {
    const { indices, positions } = this.mesh;
    const { buffers } = this.renderer;
    if (faces.size === 0 && !buffers.someChosen) return;
    if (faces.size === 0) buffers.setChosen(null);
    else {
      const chosen = new Float32Array(positions.length / 3);
      for (const f of faces) for (let k = 0; k < 3; k++) chosen[indices[f * 3 + k]!] = 1;
      buffers.setChosen(chosen);
    }
    this.lookAgain();
  }

  /** Draws what is chosen elsewhere on the sheet, while it is dragged. */
  moveChosen(move: SheetMove): void {
    this.renderer.setMove(move);
    this.invalidate();
  }

  /** Lines over the model: seams and what else is marked. */
  setMarks(segments: Segments): void {
    this.renderer.marks.set(segments);
    this.invalidate();
  }

  /** The edges of the triangles; null takes them off. */
  setWires(segments: Segments | null): void {
    this.renderer.wires.set(segments);
    this.invalidate();
  }

  /** Shows how far something may lie off the model. @param distance model units; null shows nothing */
  setOffsetHull(distance: number | null): void {
    this.renderer.offsetHull.set(distance);
    this.invalidate();
  }

  /** Shows what a stroke can't change; null shows nothing. */
  setReach(map: ReachMap | null): void {
    if (!map && !this.showsReach) return;
    this.showsReach = map !== null;
    this.renderer.reach.set(map);
    this.invalidate();
  }

  /** Draws a line around a part. @param part -1 for none */
  outline(part: number): void {
    if (part === this.outlined) return;
    this.outlined = part;
    this.invalidate();
  }

  change(settings: StageSettings): void {
    const previous = this.settings;
    this.settings = settings;
    if (previous.hidden !== settings.hidden) {
      this.renderer.buffers.setHidden(settings.hidden);
      this.lookAgain();
    }
    if (previous.panes !== settings.panes) this.layoutChanged();
    if (previous.sheet !== settings.sheet) this.flat.fit();
    if (previous.pinned?.pose !== settings.pinned?.pose) this.pinnedTarget.samples = 0;
    this.invalidate();
  }

  resize(width: number, height: number): void {
    const isNew = width !== this.width || height !== this.height;
    this.width = width;
    this.height = height;
    this.renderer.resize(width, height);
    if (isNew) this.layoutChanged();
    else this.rigChanged();
    if (!this.placed) {
      this.placed = true;
      this.camera.begin();
      this.flat.fit();
    }
    this.invalidate();
  }

  private rigChanged(): void {
    const model = this.pane('model');
    if (model) this.rig.resize(model.width, model.height);
    this.target.samples = 0;
  }

  private layoutChanged(): void {
    this.rigChanged();
    if (!this.placed) return;
    this.flat.fit();
    this.camera.frameAgain();
  }

  pane(kind: PaneKind): Pane | null {
    return paneRect(this.settings.panes, kind, this.width, this.height);
  }

  /** Which pane a point of the canvas lies in, and where in it. */
  locate(x: number, y: number): PanePoint {
    const sheet = this.pane('sheet');
    if (sheet && x >= sheet.x && x < sheet.x + sheet.width) return { pane: 'sheet', x: x - sheet.x, y };
    return { pane: 'model', x: x - (this.pane('model')?.x ?? 0), y };
  }

  /** A point of the window; null where the canvas isn't, or is covered. */
  fromWindow(x: number, y: number): PanePoint | null {
    if (document.elementFromPoint(x, y) !== this.canvas) return null;
    const { left, top } = this.canvas.getBoundingClientRect();
    return this.locate(x - left, y - top);
  }

  /** Nothing is painted yet: the bare model is shaded plainly. */
  get isBare(): boolean {
    return this.settings.mode === 'unlit' && this.settings.isUntouched;
  }

  // ---- the sheet -----------------------------------------------------------------------------------------------------

  /** Number of the sheet in the flat view. */
  get sheet(): number {
    return this.settings.sheet;
  }

  /** Texels a side of the sheet in the flat view. */
  get sheetSize(): number {
    return this.sizes[this.settings.sheet] ?? this.sizes[0]!;
  }

  // ---- the camera ----------------------------------------------------------------------------------------------------

  get rig(): CameraRig {
    return this.camera.rig;
  }

  /** Directions in the model of right and up on the screen. */
  axes(): readonly [right: Vec3, up: Vec3] {
    return [this.rig.axis(0).toArray(), this.rig.axis(1).toArray()];
  }

  /** The camera was moved by hand: its pictures come quickly, and smooth once it rests. */
  cameraMoved(): void {
    this.camera.movedByHand();
    if (this.resting) clearTimeout(this.resting);
    this.resting = setTimeout(() => {
      this.resting = 0;
      this.invalidate();
    }, REST_MS);
    this.lookAgain();
  }

  /** Where a backdrop was painted, or bared, something else is seen. */
  private lookThrough(tiles: readonly number[]): void {
    if (this.backdrops.size === 0) return;
    const { spans } = this.renderer.sheets;
    if (tiles.some((tile) => this.backdrops.has(sheetOfTile(spans, tile)))) this.lookAgain();
  }

  /** What was looked up for the picture no longer holds. */
  private lookAgain(): void {
    this.target.samples = 0;
    this.pinnedTarget.samples = 0;
    this.invalidate();
  }

  // ---- what is under the pointer -------------------------------------------------------------------------------------

  /** The place on the model under a point of a pane. */
  pick({ pane, x, y }: PanePoint): Hit | null {
    if (pane === 'model') {
      const { origin, direction } = this.rig.ray(x, y);
      return this.picker.cast(origin, direction, this.settings.untouched);
    }
    const hit = this.picker.atSheet(this.settings.sheet, ...this.flat.toSheet(x, y));
    return hit && this.settings.hidden.has(hit.part) ? null : hit;
  }

  /** The place that is seen under a point of a pane: through what is bare of a backdrop, whatever is in hand. */
  pickSeen(at: PanePoint): Hit | null {
    if (at.pane !== 'model') return this.pick(at);
    const { origin, direction } = this.rig.ray(at.x, at.y);
    const through = new Set(this.settings.hidden);
    for (;;) {
      const hit = this.picker.cast(origin, direction, through);
      if (!hit || !isBackdrop(this.mesh, hit.part) || (hit.normal.dot(direction) < 0 && this.colorAt(hit)))
        return hit;
      through.add(hit.part);
    }
  }

  colorAt(hit: Hit): Rgb | null {
    const { ramps } = this;
    if (ramps && ramps.seated.seatOf[hit.face]! >= 0) return rampColorAt(this.mesh, ramps, hit);
    return this.colors?.colorAt(hit.sheet, hit.u, hit.v) ?? null;
  }

  /** Model units of one screen pixel at a place. @param texelLength model units a texel */
  unitsPerPixel(pane: PanePoint['pane'], point: Vector3, texelLength: number): number {
    return pane === 'model' ? this.rig.unitsPerPixel(point) : texelLength / this.flat.place.scale;
  }

  // ---- drawing -------------------------------------------------------------------------------------------------------

  /** Draws within a fifth of a second: while a whole sheet is made, drawing more often would slow it down. */
  private invalidateSoon(): void {
    this.soon ||= setTimeout(() => {
      this.soon = 0;
      this.invalidate();
    }, SOON_MS);
    this.canvas.dataset['busy'] = 'true';
  }

  invalidate(): void {
    if (this.isGone) return;
    this.canvas.dataset['busy'] = 'true';
    this.asked ||= requestAnimationFrame(() => {
      this.asked = 0;
      this.drawNow();
      if (this.pictures++ === 0) this.prepared = setTimeout(() => this.renderer.prepare(), PREPARE_MS);
      this.canvas.dataset['frame'] = String(this.pictures);
      this.canvas.dataset['coarse'] = String(this.renderer.sheets.isCoarse);
      this.canvas.dataset['busy'] = String(this.asked + Number(this.soon) + Number(this.resting) > 0);
      for (const listener of this.drawn) listener();
    });
  }

  private lookOf(mode: Mode): ModelLook {
    const { lights, toon, exact, ground } = this.settings;
    const { leastLevel } = this.renderer.sheets;
    return { mode, lights, toon, exact, leastLevel, ground, outlined: this.outlined, isBare: this.isBare };
  }

  private drawNow(): void {
    const { settings, renderer } = this;
    const look = this.lookOf(settings.mode);
    const model = this.pane('model');
    const sheet = this.pane('sheet');
    const models: ModelView[] = [];
    if (model) {
      const { seams, wires } = settings;
      models.push({ pane: model, rig: this.rig, target: this.target, look, marks: seams, wires });
    }
    const pinned = this.pinnedView(look);
    if (pinned) models.push(pinned);
    renderer.draw({
      models,
      sheet: sheet && { pane: sheet, place: this.flat.place, number: settings.sheet },
      look,
      isAtRest: this.resting === 0,
    });
  }

  /** Where the small view lies; null if there is none. */
  pinnedPane(): Pane | null {
    const { pinned, panes } = this.settings;
    const host = isShown(panes, 'model') ? this.pane('model') : this.pane('sheet');
    if (!pinned || !host) return null;
    const height = Math.min(pinned.height, host.height - 120);
    const [x, y] = PINNED_AIR;
    return { x: host.x + host.width - height - x, y: host.height - height - y, width: height, height };
  }

  private pinnedView(look: ModelLook): ModelView | null {
    const pane = this.pinnedPane();
    const { pinned } = this.settings;
    if (!pane || !pinned) return null;
    this.pinnedRig.copy(this.rig);
    this.pinnedRig.take(pinned.pose);
    this.pinnedRig.resize(pane.width, pane.height);
    const { pinnedTarget: target, pinnedRig: rig } = this;
    return { pane, rig, target, look: { ...look, outlined: -1 }, marks: false, wires: false };
  }

  /** A small picture of the painted model from where it is always seen first. */
  async snapshot(width: number, height: number): Promise<Blob> {
    const rig = new CameraRig();
    rig.resize(width, height);
    rig.lookFree(0.35, -0.1);
    rig.frame(subjectBounds(this.mesh));
    // Twice as large and then made smaller: in a small picture every pixel counts.
    const big = await this.renderer.snapshot(rig, width * 2, height * 2, {
      ...this.lookOf('unlit'),
      outlined: -1,
    });
    const small = new OffscreenCanvas(width, height);
    const context = small.getContext('2d')!;
    context.imageSmoothingQuality = 'high';
    context.drawImage(await createImageBitmap(big), 0, 0, width, height);
    return small.convertToBlob({ type: 'image/png' });
  }

  dispose(): void {
    this.isGone = true;
    cancelAnimationFrame(this.asked);
    for (const timer of [this.soon, this.resting, this.prepared]) if (timer) clearTimeout(timer);
    this.drawn.clear();
    this.unsubscribe();
    this.leaveDetail();
    this.target.dispose();
    this.pinnedTarget.dispose();
    this.renderer.dispose();
  }
}
