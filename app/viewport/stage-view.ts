import { Vector3 } from 'three';
import type { Rgb } from '../../core/color';
import type { Vec3 } from '../../core/math';
import { boundsOf, diagonalOf, partBounds, type Bounds, type UvMesh } from '../../core/mesh';
import { TILE, TILE_BYTES, tilesAcross } from '../../core/surface';
import type { SheetMove } from '../../core/unwrap';
import type { SheetCopy } from '../project';
import type { Look } from '../shared/looks';
import { CameraRig, type StandardView } from './camera-rig';
import { Picker, type Hit } from './picker';
import type { Segments } from './segment-mesh';
import { StageRenderer, type Pane, type SheetPlace } from './stage-renderer';

export type PaneName = 'model' | 'flat';

/** What the picture depends on besides the camera. */
export interface StageSettings {
  readonly panes: 'model' | 'both' | 'sheet';
  /** The model pane's part of the width when both are shown. */
  readonly split: number;
  readonly look: Look;
  readonly ground: number;
  /** Whether seams are drawn on the model. */
  readonly seams: boolean;
  readonly hidden: ReadonlySet<number>;
  readonly hoverPart: number;
  /** The sheet in the flat view. */
  readonly sheet: number;
}

/** So many tiles are more than a stroke makes. */
const MANY_TILES = 64;
const SOON_MS = 200;

/** Free space around the sheet when it is fitted, pixels. */
const SHEET_AIR = 14;

/** The model and the sheet on one canvas: draws on demand, finds what is under the pointer. */
export class StageView {
  readonly rig = new CameraRig();
  readonly place: SheetPlace = { x: 0, y: 0, scale: 1 };
  private readonly mesh: UvMesh;
  private readonly renderer: StageRenderer;
  private readonly picker: Picker;
  private settings: StageSettings;
  private copy: SheetCopy | null = null;
  private unsubscribe: () => void = () => undefined;
  private width = 1;
  private height = 1;
  private placed = false;
  /** The part that fills the pane, null for all of the model, undefined once the camera was moved by hand. */
  private framed: number | null | undefined = null;
  private asked = 0;
  private soon: ReturnType<typeof setTimeout> | 0 = 0;
  private readonly onDraw: () => void;
  private readonly sizes: readonly number[];

  /** @throws Error where WebGL2 is missing */
  constructor(
    canvas: HTMLCanvasElement,
    mesh: UvMesh,
    sizes: readonly number[],
    settings: StageSettings,
    onDraw: () => void,
  ) {
    this.mesh = mesh;
    this.settings = settings;
    this.onDraw = onDraw;
    this.sizes = sizes;
    this.renderer = new StageRenderer(canvas, mesh, sizes);
    this.picker = new Picker(mesh);
  }

  setSheet(sheet: SheetCopy): void {
    this.unsubscribe();
    // The GPU begins with nothing painted.
    this.uploadAll(sheet, this.copy === null);
    this.copy = sheet;
    this.unsubscribe = sheet.subscribe(({ tiles, pixels, left }) => {
      this.renderer.upload(tiles, pixels);
      if (left < MANY_TILES) this.invalidate();
      else this.invalidateSoon();
    });
    this.invalidate();
  }

  /** What was composited before this view was there. */
  private uploadAll(sheet: SheetCopy, onlyFilled: boolean): void {
    const pixels = new Uint8Array(TILE_BYTES);
    const words = new Uint32Array(pixels.buffer);
    sheet.sheets.forEach(({ size, firstTile }, k) => {
      const across = tilesAcross(size);
      for (let tile = 0; tile < across * across; tile++) {
        const x = (tile % across) * TILE;
        const y = Math.floor(tile / across) * TILE;
        for (let row = 0; row < TILE; row++) {
          const from = ((y + row) * size + x) * 4;
          pixels.set(sheet.pictures[k]!.subarray(from, from + TILE * 4), row * TILE * 4);
        }
        if (!onlyFilled || words.some((w) => w !== 0)) this.renderer.upload([firstTile + tile], pixels);
      }
    });
  }

  /** Looks from where another view of the project has looked. */
  takeOver(previous: StageView): void {
    if (!previous.placed) return;
    this.rig.copy(previous.rig);
    this.framed = previous.framed === undefined ? undefined : null;
    this.placed = true;
    if (previous.mesh !== this.mesh || previous.sizes.join() !== this.sizes.join()) return;
    // The same picture again: nothing is fitted anew.
    this.width = previous.width;
    this.height = previous.height;
    Object.assign(this.place, previous.place);
  }

  setHeat(heat: Float32Array | null): void {
    this.renderer.setHeat(heat);
    this.invalidate();
  }

  /** Lights triangles up. @param faces none if empty */
  setChosen(faces: ReadonlySet<number>): void {
    const { indices, positions } = this.mesh;
    if (faces.size === 0) this.renderer.setChosen(null);
    else {
      const chosen = new Float32Array(positions.length / 3);
      for (const f of faces) for (let k = 0; k < 3; k++) chosen[indices[f * 3 + k]!] = 1;
      this.renderer.setChosen(chosen);
    }
    this.invalidate();
  }

  /** Draws what is chosen elsewhere on the sheet, while it is dragged. */
  moveChosen(move: SheetMove): void {
    this.renderer.setMove(move);
    this.invalidate();
  }

  /** Number of the sheet in the flat view. */
  get sheet(): number {
    return this.settings.sheet;
  }

  /** Directions in the model of right and up on the screen. */
  axes(): readonly [right: Vec3, up: Vec3] {
    return [this.rig.axis(0).toArray(), this.rig.axis(1).toArray()];
  }

  /** Texels a side of the sheet in the flat view. */
  get sheetSize(): number {
    return this.sizes[this.settings.sheet] ?? this.sizes[0]!;
  }

  /** CSS pixels a side of the sheet. */
  get sheetPixels(): number {
    return this.place.scale * this.sheetSize;
  }

  setSeams(segments: Segments): void {
    this.renderer.setSeams(segments);
    this.invalidate();
  }

  change(settings: StageSettings): void {
    const previous = this.settings;
    this.settings = settings;
    if (previous.hidden !== settings.hidden) this.renderer.setHidden(settings.hidden);
    if (previous.panes !== settings.panes || previous.split !== settings.split) this.layoutChanged();
    if (previous.sheet !== settings.sheet) this.fitSheet();
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
      this.rig.lookFree(0.35, -0.1);
      this.frame(null);
      this.fitSheet();
    }
    this.invalidate();
  }

  private rigChanged(): void {
    const model = this.pane('model');
    if (model) this.rig.resize(model.width, model.height);
    this.renderer.viewChanged();
  }

  private layoutChanged(): void {
    this.rigChanged();
    if (!this.placed) return;
    this.fitSheet();
    // What was framed stays framed, until the artist moves the camera.
    if (this.framed !== undefined) this.frame(this.framed);
  }

  pane(name: PaneName): Pane | null {
    const { panes, split } = this.settings;
    const cut = panes === 'model' ? this.width : panes === 'sheet' ? 0 : Math.round(this.width * split);
    if (name === 'model') return cut > 0 ? { x: 0, y: 0, width: cut, height: this.height } : null;
    return cut < this.width ? { x: cut, y: 0, width: this.width - cut, height: this.height } : null;
  }

  /** Which pane a point of the canvas lies in, and where in it. */
  locate(x: number, y: number): { pane: PaneName; x: number; y: number } {
    const model = this.pane('model');
    return model && x < model.width
      ? { pane: 'model', x, y }
      : { pane: 'flat', x: x - (model?.width ?? 0), y };
  }

  fitSheet(): void {
    const pane = this.pane('flat');
    if (!pane) return;
    this.place.scale = Math.max(16, Math.min(pane.width, pane.height) - 2 * SHEET_AIR) / this.sheetSize;
    this.place.x = (pane.width - this.place.scale * this.sheetSize) / 2;
    this.place.y = (pane.height - this.place.scale * this.sheetSize) / 2;
    this.invalidate();
  }

  /** Shows the whole model, or one part. */
  frame(part: number | null): void {
    this.rig.frame(part === null ? boundsOf(this.mesh.positions) : partBounds(this.mesh, part));
    this.framed = part;
    this.renderer.viewChanged();
    this.invalidate();
  }

  /** Flies to some triangles: they face the eye, with some room around them. */
  frameFaces(faces: ReadonlySet<number>): void {
    const { indices, positions, normals } = this.mesh;
    const points: number[] = [];
    const toward = new Vector3();
    for (const f of faces) {
      for (let k = 0; k < 3; k++) {
        const v = indices[f * 3 + k]! * 3;
        points.push(positions[v]!, positions[v + 1]!, positions[v + 2]!);
        toward.add(new Vector3(normals[v]!, normals[v + 1]!, normals[v + 2]!));
      }
    }
    if (points.length === 0) return;
    if (toward.length() > faces.size * 0.6) this.rig.lookFrom(toward.normalize());
    const box = boundsOf(points);
    const whole = boundsOf(positions);
    // Not nearer than a twelfth of the model, so that what is around can be told.
    const least = diagonalOf(whole) / 24;
    const grown = [0, 1, 2].map((a) => Math.max(least, ((box.max[a]! - box.min[a]!) / 2) * 1.5));
    const middle = [0, 1, 2].map((a) => (box.max[a]! + box.min[a]!) / 2);
    const side = (s: number) => middle.map((m, a) => m + s * grown[a]!) as unknown as Bounds['min'];
    this.rig.frame({ min: side(-1), max: side(1) });
    this.framed = undefined;
    this.renderer.viewChanged();
    this.invalidate();
  }

  look(view: StandardView | 'free'): void {
    if (view === 'free') this.rig.lookFree(0.35, -0.1);
    else this.rig.look(view);
    this.renderer.viewChanged();
    this.invalidate();
  }

  cameraMoved(): void {
    this.framed = undefined;
    this.renderer.viewChanged();
    this.invalidate();
  }

  zoomSheet(x: number, y: number, factor: number): void {
    const scale = Math.min(64, Math.max(0.05, this.place.scale * factor));
    this.place.x = x - ((x - this.place.x) * scale) / this.place.scale;
    this.place.y = y - ((y - this.place.y) * scale) / this.place.scale;
    this.place.scale = scale;
    this.invalidate();
  }

  panSheet(dx: number, dy: number): void {
    this.place.x += dx;
    this.place.y += dy;
    this.invalidate();
  }

  /** The place on the model under a point of a pane. */
  pick(pane: PaneName, x: number, y: number): Hit | null {
    if (pane === 'model') {
      const { origin, direction } = this.rig.ray(x, y);
      return this.picker.cast(origin, direction, this.settings.hidden);
    }
    const side = this.place.scale * this.sheetSize;
    const hit = this.picker.atSheet(
      this.settings.sheet,
      (x - this.place.x) / side,
      1 - (y - this.place.y) / side,
    );
    return hit && this.settings.hidden.has(hit.part) ? null : hit;
  }

  colorAt(hit: Hit): Rgb | null {
    return this.copy?.colorAt(hit.sheet, hit.u, hit.v) ?? null;
  }

  /** Model units of one screen pixel at a place. @param texelLength model units a texel */
  unitsPerPixel(pane: PaneName, point: Vector3, texelLength: number): number {
    return pane === 'model' ? this.rig.unitsPerPixel(point) : texelLength / this.place.scale;
  }

  /** Draws within a fifth of a second: while a whole sheet is made, drawing more often would slow it down. */
  private invalidateSoon(): void {
    this.soon ||= setTimeout(() => {
      this.soon = 0;
      this.invalidate();
    }, SOON_MS);
  }

  invalidate(): void {
    this.asked ||= requestAnimationFrame(() => {
      this.asked = 0;
      this.drawNow();
      this.onDraw();
    });
  }

  /** A small picture of the model for the start page. */
  async snapshot(width: number, height: number): Promise<Blob | null> {
    const pane = this.pane('model');
    if (!pane) return null;
    this.drawNow();
    const canvas = this.renderer.canvas;
    const ratio = canvas.width / this.width;
    // Between all of the pane and its middle: the model fills about two thirds of what it is framed in.
    const cut = Math.sqrt((pane.width / width) * (pane.height / height));
    const small = new OffscreenCanvas(width, height);
    const context = small.getContext('2d')!;
    context.imageSmoothingQuality = 'high';
    const grey = Math.round(this.settings.ground * 255);
    context.fillStyle = `rgb(${grey} ${grey} ${grey})`;
    context.fillRect(0, 0, width, height);
    context.drawImage(
      canvas,
      pane.x * ratio,
      pane.y * ratio,
      pane.width * ratio,
      pane.height * ratio,
      (width - pane.width / cut) / 2,
      (height - pane.height / cut) / 2,
      pane.width / cut,
      pane.height / cut,
    );
    return small.convertToBlob({ type: 'image/png' });
  }

  private drawNow(): void {
    this.renderer.draw(this.rig, {
      model: this.pane('model'),
      flat: this.pane('flat'),
      sheet: this.place,
      sheetNumber: this.settings.sheet,
      look: this.settings.look,
      seams: this.settings.seams,
      ground: this.settings.ground,
      hoverPart: this.settings.hoverPart,
    });
  }

  dispose(): void {
    cancelAnimationFrame(this.asked);
    if (this.soon) clearTimeout(this.soon);
    this.unsubscribe();
    this.renderer.dispose();
  }
}
